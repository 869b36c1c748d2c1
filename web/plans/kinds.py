"""What do I throw when: the kinds of lures by month, over the waters of the plan."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from django.http import HttpResponse
from django.shortcuts import render

from tackle.situations.kinds_by_month import ThrownMonth, months_thrown
from tackle.situations.kinds_by_month import in_season as thrown_in_month
from tackle.vocabulary import CATEGORIES
from web.accounts.request import OwnRequest
from web.plans.reads import Basis, basis_of, thrown_in
from web.waters.changes import MONTH_NAMES


@dataclass(frozen=True, slots=True)
class MonthCell:
    """A month of one kind."""

    month: str
    days: float
    best: bool
    now: bool


@dataclass(frozen=True, slots=True)
class Strip:
    """A kind through the year."""

    category: str
    planned: bool
    from_f: float | None
    cells: tuple[MonthCell, ...]
    in_season: bool


def kinds(request: OwnRequest) -> HttpResponse:
    """The strips of all kinds that are thrown on these waters, those in season first."""
    basis, month = basis_of(request.user), date.today().month
    strips = [_strip(basis, category, months, month) for category, months in _by_kind(basis).items()]
    strips.sort(key=lambda strip: (not strip.in_season, not strip.planned))
    months = [name[:3] for name in MONTH_NAMES]
    context = {"strips": strips, "months": months, "month": MONTH_NAMES[month - 1], "units": request.user.units}
    return render(request, "plans/kinds.html", context)


def in_season(basis: Basis, month: int) -> list[str]:
    """The kinds thrown in a month on waters of the plan, those at their best first."""
    return thrown_in_month(_by_kind(basis), month)


def _by_kind(basis: Basis) -> dict[str, tuple[ThrownMonth, ...]]:
    waters = [basis.core[water.pk] for water in basis.every_water if water.pk in basis.water_ids]
    every = {category: months_thrown(category, waters, thrown_in(basis, category)) for category in CATEGORIES}
    return {category: months for category, months in every.items() if months}


def _strip(basis: Basis, category: str, months: Sequence[ThrownMonth], now: int) -> Strip:
    cells = tuple(
        MonthCell(name, month.days, month.best, number == now)
        for number, (name, month) in enumerate(zip(MONTH_NAMES, months, strict=True), 1)
    )
    return Strip(
        category,
        category in basis.categories,
        thrown_in(basis, category).from_f,
        cells,
        bool(months[now - 1].days),
    )
