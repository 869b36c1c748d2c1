"""Links to show something by, for their owner; and what is behind them, for whoever has one."""

from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from tackle.schools.rulebook import read_calls
from web.common.accounts.request import OwnRequest
from web.domain.colours.selectors import get_palette
from web.domain.plans import snapshot
from web.domain.plans.kept_plans import list_kept_plans
from web.domain.rulebooks.selectors import list_rulebooks, list_rules, readable_entries
from web.domain.trips.selectors import list_trips
from web.domain.waters.selectors import list_waters
from web.pages.rulebooks.wording import describe_want, describe_when
from web.pages.sharing import services
from web.pages.sharing.models import Share
from web.pages.trips.views import trip_context


def links(request: OwnRequest) -> HttpResponse:
    """All links, what can be shown, and what others have changed since."""
    return _page(request)


@require_POST
def make(request: OwnRequest) -> HttpResponse:
    what, _, key = request.POST.get("what", "").partition(":")
    try:
        share = services.make_share(
            request.user, what, key, readings="readings" in request.POST, place="place" in request.POST
        )
    except ValidationError as error:
        return _page(request, " ".join(error.messages))
    return _page(request, made=share)


@require_POST
def end(request: OwnRequest, pk: int) -> HttpResponse:
    try:
        services.end_share(request.user, pk)
        messages.success(request, "The link is removed.")
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
    return redirect("links")


@login_not_required
def shown(request: HttpRequest, key: str) -> HttpResponse:
    """What is behind a link, as it is now."""
    share = get_object_or_404(Share.objects.select_related("owner", "plan", "water", "trip__water"), key=key)
    data = _told(share)
    mine = request.user.is_authenticated and request.user.pk == share.owner_id
    context = {"share": share, "by": share.owner.username, "mine": mine, **data}
    response = render(request, f"sharing/{share.what}.html", context)
    response.headers["X-Robots-Tag"] = "noindex"
    return response


@require_POST
def copy(request: OwnRequest, key: str) -> HttpResponse:
    share = get_object_or_404(Share.objects.select_related("owner", "plan"), key=key)
    try:
        messages.success(request, services.copy(request.user, share))
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
    return redirect("shown", key)


def _told(share: Share) -> dict[str, Any]:
    owner = share.owner
    units = {"units": owner.units}
    if share.plan:
        return units | {"content": share.plan.content, "cards": get_palette(owner).by_id,
                        "sentence": snapshot.sentence(share.plan.content)}  # fmt: skip
    if share.water:
        return units | {"told": services.water_shown(share)}
    if share.trip:
        return units | trip_context(owner, share.trip)
    book = list_rulebooks(owner).get(share.school)
    rules = []
    for entry in readable_entries(owner, share.school):
        calls = read_calls([entry], share.school) if not entry.get("off") else ()
        rules.append((entry, describe_when(calls, owner.units) if calls else "", describe_want(calls) if calls else ""))
    return units | {"book": book, "rules": rules}


def _page(request: OwnRequest, wrong: str = "", made: Share | None = None) -> HttpResponse:
    owner = request.user
    books = list_rulebooks(owner)
    with_rules = dict.fromkeys(list_rules(owner).values_list("school", flat=True).order_by("school"))
    context = {
        "shares": Share.objects.filter(owner=owner).select_related("plan", "water", "trip__water"),
        "schools": [(school, books[school].name) for school in with_rules if school in books],
        "names": {school: book.name for school, book in books.items()},
        "plans": list_kept_plans(owner),
        "waters": list_waters(owner),
        "trips": list_trips(owner).select_related("water").order_by("-date")[:20],
        "newer": services.newer(owner),
        "wrong": wrong,
        "made": made,
    }
    return render(request, "sharing/links.html", context, status=422 if wrong else 200)
