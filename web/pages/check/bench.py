"""The bench: for the months ahead, what leaves the boat, what comes in from home, what is made instead of bought."""

from collections import Counter
from datetime import date
from typing import Any

from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import render

from tackle.base.numbers import read_whole
from tackle.base.store import kept
from tackle.check.reach import Planned
from tackle.check.workbench import Workbench, lay_out, season_ahead, season_end
from tackle.colours.palette import Palette
from web.common.accounts.models import User
from web.common.accounts.request import OwnRequest
from web.common.work.papers import paper
from web.domain.crate import selectors, services
from web.domain.history.models import Change
from web.domain.plans.models import month_range
from web.domain.plans.selectors import Basis, get_basis, get_owned, in_months, planned
from web.domain.waters.services import MONTH_NAMES
from web.pages.check.services import make_over

GONE = "That is not on the list any more: here it is as it stands now."


def bench(request: OwnRequest) -> HttpResponse:
    """The list for the months ahead, or those asked for. Posted: one thing on it is done."""
    change, wrong = None, ""
    if request.method == "POST":
        try:
            basis = get_basis(request.user)
            change = _do(request, _laid_out(request.user, basis, *_months(request, basis)))
        except ValidationError as error:
            wrong = " ".join(error.messages)
    return page(request, change, wrong)


def page(request: OwnRequest, change: Change | None = None, wrong: str = "", words: str = "") -> HttpResponse:
    """The list, after what was done or was wrong."""
    context = {**_context(request), "change": change, "words": words, "wrong": wrong}
    template = "check/bench_body.html" if request.htmx else "check/bench.html"
    return render(request, template, context, status=422 if wrong else 200)


def evening(request: OwnRequest) -> HttpResponse:
    """What is made on one evening, on paper: one way of making it after the other."""
    return paper(request, "check/evening_paper.html", _context(request), "bench-evening.pdf")


def _context(request: OwnRequest) -> dict[str, Any]:
    basis = get_basis(request.user)
    first, last = _months(request, basis)
    laid = _laid_out(request.user, basis, first, last)
    ahead = in_months(basis, month_range(first, last))
    return {
        "bench": laid,
        "first": first,
        "last": last,
        "months": list(enumerate(MONTH_NAMES, 1)),
        "days": sum(days for _, days in ahead.days.kept.by_water()),
        "pieces": sum(one.count for one in laid.bring),
        "things": [thing for thing in selectors.list_things(request.user) if thing.short],
        "minutes": sum(one.repair.minutes for one in laid.make),
        "called": selectors.lure_codes(get_owned(request.user).stock),
    }


def _months(request: OwnRequest, basis: Basis) -> tuple[int, int]:
    """The first and last month asked for; else the next three that have days worth changing over for."""
    data = request.POST if request.method == "POST" else request.GET
    days: Counter[int] = Counter()
    for water in basis.every_water:
        if water.pk in basis.water_ids:
            days.update({row.month: row.days for row in water.year.all()})
    first = read_whole(data.get("first", ""), 1, 12) or season_ahead(date.today().month, days)[0]
    return first, read_whole(data.get("last", ""), 1, 12) or season_end(first)


def _laid_out(owner: User, basis: Basis, first: int, last: int) -> Workbench:
    ahead = tuple(planned(in_months(basis, month_range(first, last))))
    return _kept(get_owned(owner).stock, ahead, tuple(planned(basis)), basis.palette)


@kept("workbench")
def _kept(
    stock: tuple[selectors.Stock, ...], ahead: tuple[Planned, ...], year: tuple[Planned, ...], palette: Palette
) -> Workbench:
    aboard = [one.lure for one in stock if not one.at_home]
    home = [one.lure for one in stock if one.at_home]
    return lay_out(aboard, home, ahead, year, palette)


def _do(request: OwnRequest, laid: Workbench) -> Change:
    """One thing on the list, or all that comes in from home. Raises ValidationError."""
    owner, data = request.user, request.POST
    where = data.get("category", ""), data.get("card", "")
    if data.get("do") == "out":
        return services.put_away(owner, *where)
    if data.get("do") == "bring":
        wanted = [(one.category, one.card.id, one.count) for one in laid.bring]
        return services.bring(owner, wanted if data.get("all") else [one for one in wanted if one[:2] == where])
    ref, repair = data.get("lure", ""), data.get("repair", "")
    make = next((one for one in laid.make if (one.lure.ref, one.repair.id) == (ref, repair)), None)
    if make is None:
        raise ValidationError(GONE)
    return make_over(owner, make, read_whole(data.get("count", ""), 1, 999) or 0)
