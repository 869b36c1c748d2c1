"""The overview of a plan, and plans kept as they were: shown, computed again, compared, taken up."""

from typing import Any

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import Http404, HttpResponse, HttpResponseRedirect
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from tackle.base.numbers import read_whole
from web.common.accounts.request import OwnRequest
from web.common.ui.keys import LARGEST_KEY
from web.common.work.papers import paper
from web.domain.plans import kept_plans, selectors, services, snapshot
from web.domain.plans.models import KeptPlan
from web.domain.plans.terms import basis_on_terms, can_compute

AGAIN = "-again"


def overview(request: OwnRequest) -> HttpResponse:
    """All categories of the plan on one page, as it is now; and the plans kept."""
    basis = selectors.get_basis(request.user)
    return _overview(request, basis, snapshot.snapshot(basis), {"plan_name": basis.plan.name})


def overview_pdf(request: OwnRequest) -> HttpResponse:
    basis = selectors.get_basis(request.user)
    now = snapshot.snapshot(basis)
    context = {
        "content": now,
        "cards": basis.palette.by_id,
        "sentence": snapshot.sentence(now),
        "plan_name": basis.plan.name,
    }
    return paper(request, "plans/paper.html", context, "plan.pdf")


def show(request: OwnRequest, pk: int) -> HttpResponse:
    """A kept plan as it was, and what has changed since."""
    found = kept_plans.get_kept_plan(request.user, pk)
    basis = selectors.get_basis(request.user)
    again = basis_on_terms(found, basis)
    changed = snapshot.changed_since(found.content, snapshot.snapshot(again or basis))
    more = {"plan_name": found.name, "kept": found, "changed": changed, "can_again": again is not None}
    return _overview(request, basis, found.content, more)


def again(request: OwnRequest, pk: int) -> HttpResponse:
    """A kept plan computed again: its own terms over the waters, rules and crate of today."""
    found = kept_plans.get_kept_plan(request.user, pk)
    basis = selectors.get_basis(request.user)
    anew = basis_on_terms(found, basis)
    if anew is None:
        raise Http404
    return _overview(request, basis, snapshot.snapshot(anew), {"plan_name": found.name, "again": found})


def _overview(
    request: OwnRequest, basis: selectors.Basis, content: dict[str, Any], more: dict[str, Any]
) -> HttpResponse:
    context = {
        "content": content,
        "cards": basis.palette.by_id,
        "sentence": snapshot.sentence(content),
        "kept_plans": kept_plans.list_kept_plans(request.user),
        **more,
    }
    return render(request, "plans/overview.html", context)


@require_POST
def keep(request: OwnRequest) -> HttpResponse:
    """Keeps the plan as it is now; or a kept one as it is computed again."""
    basis = selectors.get_basis(request.user)
    try:
        if number := read_whole(request.POST.get("again", ""), 1, LARGEST_KEY):
            found = kept_plans.get_kept_plan(request.user, number)
            basis = basis_on_terms(found, basis) or basis
        made = services.keep_plan(request.user, request.POST.get("name", ""), snapshot.snapshot(basis))
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
        return redirect("plan-overview")
    messages.success(request, f"{made.name} is kept.")
    return redirect("plan-kept", made.pk)


@require_POST
def delete(request: OwnRequest, pk: int) -> HttpResponse:
    messages.success(request, f"{services.delete_kept(request.user, pk)} is deleted.")
    return redirect("plan-overview")


@require_POST
def check(request: OwnRequest, pk: int) -> HttpResponse:
    """Has the crate checked against a kept plan too, or no longer; back to the page that asked."""
    try:
        found = services.check_against(request.user, pk, request.POST.get("to") == "on")
        said = "is checked against" if found.checked else "is no longer checked against"
        messages.success(request, f"The tackle box {said} {found.name}.")
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
    back = request.POST.get("back", "")
    safe = back.startswith("/") and url_has_allowed_host_and_scheme(back, {request.get_host()}, request.is_secure())
    return HttpResponseRedirect(back) if safe else redirect("plan-kept", pk)


@require_POST
def take_up(request: OwnRequest, pk: int) -> HttpResponse:
    """Makes a kept plan the plan once more; the plan of until now is kept, unless it is already."""
    found = kept_plans.get_kept_plan(request.user, pk)
    basis = selectors.get_basis(request.user)
    now = snapshot.snapshot(basis)
    said = f"The plan now has the waters, rulebooks and choices of {found.name}."
    try:
        if name := services.take_up(request.user, pk, now):
            said += f" What it was is kept as “{name}”."
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
        return redirect("plan-kept", pk)
    messages.success(request, said)
    return redirect("plan")


def compare(request: OwnRequest) -> HttpResponse:
    """Two plans: kept ones, as they were or computed again, and the plan as it is now."""
    mine = list(kept_plans.list_kept(request.user))
    basis = selectors.get_basis(request.user)
    names = {"now": f"{basis.plan.name}, as it is now"}
    for each in mine:
        names[str(each.pk)] = f"{each.name}, as it was on {each.made_at:%d %b %Y}"
        if can_compute(each, basis):
            names[f"{each.pk}{AGAIN}"] = f"{each.name}, computed again"
    one = request.GET.get("one", str(mine[0].pk) if mine else "now")
    other = request.GET.get("other", "now")
    if one not in names or other not in names:
        raise Http404
    before, after = (_content(key, mine, basis) for key in (one, other))
    found = snapshot.differences(before, after)
    context = {
        "plans": list(names.items()),
        "one": one,
        "other": other,
        "names": (names[one], names[other]),
        "differences": found,
        "came": sum(len(each.came) for each in found),
        "went": sum(len(each.went) for each in found),
        "changed": snapshot.changed_since(before, after),
        "cards": basis.palette.by_id,
    }
    return render(request, "plans/compare.html", context)


def _content(key: str, mine: list[KeptPlan], basis: selectors.Basis) -> dict[str, Any]:
    """What one of the plans to compare says."""
    if key == "now":
        return snapshot.snapshot(basis)
    found = next(each for each in mine if str(each.pk) == key.removesuffix(AGAIN))
    if not key.endswith(AGAIN):
        return dict(found.content)
    return snapshot.snapshot(basis_on_terms(found, basis) or basis)
