"""What is thrown when: the months of a year by kind of lure, over some waters."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from tackle.base.vocabulary import CATEGORIES, TRAILER
from tackle.situations.thrown import Thrown, best_seasons
from tackle.situations.water import Water

__all__ = ["ThrownMonth", "in_season", "months_thrown", "to_offer", "to_throw_now"]


@dataclass(frozen=True, slots=True)
class ThrownMonth:
    """A month of one kind: the days fished on waters where it is thrown then, and whether it is at its best."""

    days: float
    best: bool


def months_thrown(category: str, waters: Sequence[Water], rule: Thrown) -> tuple[ThrownMonth, ...] | None:
    """The twelve months of a kind that is thrown by a rule; None where none of the waters is one for it."""
    able = [water for water in waters if water.throws(category) and not water.forbidden.forbids(category)]
    return tuple(_month(category, able, rule, number) for number in range(1, 13)) if able else None


def in_season(kinds: Mapping[str, Sequence[ThrownMonth]], month: int) -> list[str]:
    """The kinds that are thrown in a month, those at their best first."""
    thrown = [category for category, months in kinds.items() if months[month - 1].days]
    return sorted(thrown, key=lambda category: not kinds[category][month - 1].best)


def to_offer(
    season: Sequence[str], waters: Sequence[Water], here: Water | None, chosen: Sequence[str] = ()
) -> list[str]:
    """The kinds to choose from for a trip: those of its season first, none that no water is for but what was chosen
    before; what is not thrown where it goes comes last. A trailer goes with its jig."""
    thrown = [one for one in CATEGORIES if one != TRAILER and any(water.throws(one) for water in waters)]
    every = dict.fromkeys([*(one for one in season if one in thrown), *thrown, *chosen])
    return sorted(every, key=lambda one: here is not None and not here.throws(one))


def to_throw_now(season: Sequence[str], planned: Sequence[str], here: Water, most: int) -> list[str]:
    """The kinds of a trip that begins unplanned: of those that are planned and thrown there the ones in season, else
    all of them, else what is in season."""
    there = [one for one in planned if one in CATEGORIES and here.throws(one)]
    return ([one for one in season if one in there] or there or list(season))[:most]


def _month(category: str, waters: Sequence[Water], rule: Thrown, number: int) -> ThrownMonth:
    there = [
        water for water in waters
        if water.months[number].days and number not in water.forbidden.months and rule.at(water.months[number].temp_f)
    ]  # fmt: skip
    best = best_seasons(category)
    return ThrownMonth(
        sum(water.months[number].days for water in there), any(water.season(number) in best for water in there)
    )
