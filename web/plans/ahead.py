"""Where a page would have to plan many categories first: they are planned outside the request, and the page waits."""

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.core.exceptions import ValidationError
from django.http import HttpResponse

from web.accounts.as_of import as_of
from web.accounts.models import User
from web.accounts.request import OwnRequest
from web.plans.fingerprint import mark_of_rules
from web.plans.models import Plan, PlannedAhead
from web.plans.reads import FEW, Basis, basis_of, hold, unknown
from web.plans.tasks import plan_all
from web.work.changes import begin as new_job
from web.work.changes import job_for
from web.work.heavy import begin, stands_still, waited_for
from web.work.models import Job

View = Callable[..., HttpResponse]


def planned_ahead(view: View) -> View:
    """A page that shows the plan of all categories, or something made of it."""

    @wraps(view)
    def whole(request: OwnRequest, *args: Any, **named: Any) -> HttpResponse:
        job = _needed(request) if request.method == "GET" and not request.htmx else None
        return waited_for(request, job) if job else view(request, *args, **named)

    return whole


def _needed(request: OwnRequest) -> Job | None:
    """The work to wait for; None where there is little to plan, or what was planned ahead is here."""
    owner = request.user
    if _planned_for(owner) <= FEW:
        return None
    basis = basis_of(owner)
    if len(unknown(basis)) <= FEW or _taken_in(owner, basis) <= FEW:
        return None
    asked = {"version": owner.version}
    job = job_for(owner, "plan", asked)
    try:
        job = job or begin(plan_all, new_job(owner, "plan", request.get_full_path(), asked=asked))
    except ValidationError:  # too much is being worked on for them: the page plans itself
        return None
    if job.ended:
        _taken_in(owner, basis)
        return None
    return None if stands_still(job) else job  # nobody is at work on it: the page plans itself


@as_of(megabytes=1)
def _planned_for(owner: User) -> int:
    """How many categories somebody plans."""
    return len(Plan.objects.filter(owner=owner).values_list("categories", flat=True).first() or ())


def _taken_in(owner: User, basis: Basis) -> int:
    """Takes in what was planned ahead; how many categories are left unknown."""
    made_of = mark_of_rules(basis.palette, basis.books)
    stored = PlannedAhead.objects.filter(owner=owner, version=owner.version, made_of=made_of)
    found = dict(stored.values_list("category", "told"))
    wanted = unknown(basis)
    for category in wanted:
        if told := found.get(category):
            hold(basis, category, bytes(told))
    return len(set(wanted) - set(found))
