"""What do I throw when: the kinds of lures by month, over the waters of the plan."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from django.http import HttpResponse
from django.shortcuts import render

from tackle.situations.thrown import best_seasons
from tackle.situations.water import Water as CoreWater
from tackle.vocabulary import CATEGORIES
from web.accounts.request import OwnRequest
from web.plans.reads import Basis, basis_of, thrown_in
from web.waters.changes import MONTH_NAMES
from web.waters.reads import core_water


@dataclass(frozen=True, slots=True)
class MonthCell:
    """A month of one kind: the days fished on waters where it is thrown then, and whether it is at its best."""

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
    strips = sorted(strips_of(basis, month), key=lambda strip: (not strip.in_season, not strip.planned))
    months = [name[:3] for name in MONTH_NAMES]
    context = {"strips": strips, "months": months, "month": MONTH_NAMES[month - 1], "units": request.user.units}
    return render(request, "plans/kinds.html", context)


def strips_of(basis: Basis, now: int) -> list[Strip]:
    """A strip for each kind that some water of the plan is one for."""
    waters = [core_water(water) for water in basis.every_water if water.pk in basis.water_ids]
    return [
        _strip(basis, category, there, now)
        for category in CATEGORIES
        if (there := [water for water in waters if water.throws(category) and not water.forbidden.forbids(category)])
    ]


def in_season(basis: Basis, month: int) -> list[str]:
    """The kinds thrown in a month on waters of the plan, those at their best first."""
    cells = [(strip, strip.cells[month - 1]) for strip in strips_of(basis, month)]
    thrown = [(not cell.best, place, strip.category) for place, (strip, cell) in enumerate(cells) if cell.days]
    return [category for _, _, category in sorted(thrown)]


def _strip(basis: Basis, category: str, waters: Sequence[CoreWater], now: int) -> Strip:
    rule, best = thrown_in(basis, category), best_seasons(category)
    cells = []
    for number in range(1, 13):
        there = [water for water in waters if water.months[number].days and rule.at(water.months[number].temp_f)]
        cells.append(
            MonthCell(
                MONTH_NAMES[number - 1],
                sum(water.months[number].days for water in there),
                any(water.season(number) in best for water in there),
                number == now,
            )
        )
    return Strip(category, category in basis.plan.categories, rule.from_f, tuple(cells), bool(cells[now - 1].days))
