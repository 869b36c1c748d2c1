"""Where a page would have to plan many categories first: they are planned outside the request, and the page waits."""

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.core.exceptions import ValidationError
from django.http import HttpResponse

from web.common.accounts.bodies import has_body
from web.common.accounts.request import OwnRequest
from web.common.work.heavy import begin, stands_still, waited_for
from web.common.work.models import Job
from web.common.work.services import begin as new_job
from web.common.work.services import job_for
from web.domain.plans.selectors import FEW, get_basis, get_owned, unknown
from web.domain.plans.tasks import plan_all

View = Callable[..., HttpResponse]


def planned_ahead(view: View) -> View:
    """A page that shows the plan of all categories, or something made of it."""

    @wraps(view)
    def whole(request: OwnRequest, *args: Any, **named: Any) -> HttpResponse:
        job = _needed(request) if request.method == "GET" and not request.htmx else None
        return waited_for(request, job) if job else view(request, *args, **named)

    return whole


def _needed(request: OwnRequest) -> Job | None:
    """The work to wait for; None where there is little to plan, or the page is drawn already."""
    owner = request.user
    if has_body(request) or len(get_owned(owner).plan.categories) <= FEW or len(unknown(get_basis(owner))) <= FEW:
        return None
    asked = {"version": owner.version}
    job = job_for(owner, "plan", asked)
    try:
        job = job or begin(plan_all, new_job(owner, "plan", request.get_full_path(), asked=asked))
    except ValidationError:  # too much is being worked on for them: the page plans itself
        return None
    # Where it ended, or nobody is at work on it, the page plans what is left.
    return None if job.ended or stands_still(job) else job
