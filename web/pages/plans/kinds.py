"""What do I throw when: the kinds of lures by month, over the waters of the plan."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

from django.http import HttpResponse
from django.shortcuts import render

from tackle.base.vocabulary import TRAILER, Grade
from tackle.cover.begin import Leading, leading_over
from tackle.cover.opinions import gather_opinions
from tackle.situations.kinds_by_month import ThrownMonth
from web.common.accounts.models import User
from web.common.accounts.request import OwnRequest
from web.common.ui.words import either, many
from web.domain.plans.selectors import (
    Basis,
    get_basis,
    in_months,
    in_season,
    list_owned,
    months_by_category,
    select_situations,
    thrown_in,
)
from web.domain.waters.services import MONTH_NAMES

MOST_NAMED = 3  # kinds in the headline


@dataclass(frozen=True, slots=True)
class MonthCell:
    """A month of one kind."""

    month: str
    days: float
    best: bool
    now: bool


@dataclass(frozen=True, slots=True)
class Begin:
    """A kind of this month with the colour to begin with; `best`: whether it is at its best, `had`: whether the colour
    is owned, or planned where nothing of the kind is owned."""

    category: str
    best: bool
    leading: Leading
    had: bool


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
    basis, month = get_basis(request.user), date.today().month
    strips = [_strip(basis, category, months, month) for category, months in months_by_category(basis).items()]
    strips.sort(key=lambda strip: (not strip.in_season, not strip.planned))
    begin = _begin(request.user, basis, month)
    context = {
        "strips": strips,
        "months": [name[:3] for name in MONTH_NAMES],
        "month": MONTH_NAMES[month - 1],
        "units": request.user.units,
        "temps": _temps(basis, month),
        "begin": begin,
        "names": either([many(one.category) for one in begin[:MOST_NAMED]]),
    }
    return render(request, "plans/kinds.html", context)


def _temps(basis: Basis, month: int) -> list[float]:
    """The least and the most degrees Fahrenheit of the waters fished in a month; one number where they are alike."""
    waters = [basis.core[water.pk].months[month] for water in basis.every_water if water.pk in basis.water_ids]
    temps = sorted({round(one.temp_f) for one in waters if one.days})
    return [temps[0], temps[-1]] if len(temps) > 1 else [*temps]


def _begin(owner: User, basis: Basis, month: int) -> list[Begin]:
    """The kinds of a month with the colour to begin with in each: at their best first, then those of the plan."""
    # Of one month every square is rare: nothing of it is set aside.
    here, kinds = in_months(replace(basis, rare_days=0.0), [month]), months_by_category(basis)
    found = []
    for category in sorted(
        in_season(basis, month), key=lambda one: (not kinds[one][month - 1].best, one not in basis.categories)
    ):
        expected, situations = select_situations(here, category)
        if category == TRAILER or not len(situations):
            continue
        opinions = gather_opinions(category, basis.books, situations, False, Grade.WORKS, basis.palette)
        have, _ = list_owned(owner, category)
        leading = leading_over(opinions, expected.counts, have)
        if leading:
            found.append(Begin(category, kinds[category][month - 1].best, leading, leading.card.id in have))
    return found


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
