"""What to tie on: the lures of a tray that make most hours right when each hour of a kind is fished with the best of
them alone."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Final

from tackle.colours.colour import Colour
from tackle.colours.role import find_role

__all__ = ["RodRow", "Tied", "carried_by", "tie_on"]

_MOST_STEPS: Final = 200_000  # of the search: a tray of sixteen and eight rods takes a tenth of it


@dataclass(frozen=True, slots=True)
class RodRow:
    """A colour of the tray, or a jig with a trailer, and how many pieces there are of it: by hour what it is worth as a
    first choice, and what it answers, in whole numbers."""

    category: str
    card: Colour
    trailer: Colour | None
    count: int
    right: tuple[int, ...]
    answered: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Tied:
    """A lure on a rod, by its place among the rows: what it answers and is right on as the best of the rods. `rod`:
    which of the rods told carries it."""

    place: int
    answered: int
    right: int
    rod: int


def tie_on(
    rows: Sequence[RodRow], rods: int, hours: Sequence[float], own: Sequence[Collection[str]] = ()
) -> list[Tied]:
    """The lures for so many rods: most right, then most answered, then most different roles, then the rows in order.
    Rods beyond those that add anything take what else there is, first what serves most of the `hours`, one a row.

    `own`: for each rod that is told, the categories it takes, none: any; a rod that is not told takes any. Exact as
    long as the search is let finish, which it is for any tray that one carries.
    """
    every = [*own, *[()] * (rods - len(own))]

    @cache
    def carried(categories: tuple[str, ...]) -> list[int] | None:
        return carried_by(every, categories)

    def kinds(places: Sequence[int]) -> tuple[str, ...]:
        return tuple(rows[place].category for place in places)

    most, picked = (0, 0, 0), tuple[int, ...]()
    for count in range(1, min(rods, len(rows)) + 1):
        found = _Search(rows, count, lambda places: carried(tuple(sorted(kinds(places)))) is not None)
        if found.best is not None and found.worth > most:
            most, picked = found.worth, found.best
    for place in sorted(set(range(len(rows))).difference(picked), key=lambda place: (-hours[place], place)):
        if len(picked) < rods and not any(_same(rows[place], rows[one]) for one in picked):
            picked = (*picked, place) if carried(kinds((*picked, place))) is not None else picked
    return [
        Tied(
            place,
            _value_at_best(rows, picked, place, answered=True),
            _value_at_best(rows, picked, place, answered=False),
            rod,
        )
        for place, rod in zip(picked, carried(kinds(picked)) or (), strict=True)
    ]


def carried_by(rods: Sequence[Collection[str]], categories: Sequence[str]) -> list[int] | None:
    """A rod for each lure of these categories, by its place, no rod twice; None where there is no such choice.

    `rods`: the categories that each takes, none: any. Augmenting paths (Kuhn 1955).
    """
    on: dict[int, int] = {}

    def find(lure: int, seen: set[int]) -> bool:
        for index, kinds in enumerate(rods):
            if index in seen or (kinds and categories[lure] not in kinds):
                continue
            seen.add(index)
            if index not in on or find(on[index], seen):
                on[index] = lure
                return True
        return False

    if not all(find(lure, set()) for lure in range(len(categories))):
        return None
    held = {lure: place for place, lure in on.items()}
    return [held[lure] for lure in range(len(categories))]


def _same(one: RodRow, other: RodRow) -> bool:
    return one.category == other.category and one.card is other.card


def _value_at_best(rows: Sequence[RodRow], picked: Sequence[int], place: int, answered: bool) -> int:
    """What one of the lures is worth in the hours in which it is the best of its kind, the first of several."""
    mine, total = rows[place], 0
    others = [other for other in picked if rows[other].category == mine.category]
    for hour in range(len(mine.right)):
        best = max(others, key=lambda one: (rows[one].right[hour], rows[one].answered[hour], -one))
        if best == place:
            total += mine.answered[hour] if answered else mine.right[hour]
    return total


class _Search:
    """Branch and bound over the rows in their order, each taken or left."""

    def __init__(self, rows: Sequence[RodRow], count: int, can: Callable[[tuple[int, ...]], bool]) -> None:
        self.rows, self.count, self.can, self.steps = rows, count, can, 0
        self.best: tuple[int, ...] | None = None
        self.worth = (-1, -1, -1)
        self._go((), 0)

    def _go(self, picked: tuple[int, ...], at: int) -> None:
        self.steps += 1
        if len(picked) == self.count:
            worth = _worth([self.rows[place] for place in picked])
            if worth > self.worth:  # the rows are tried in their order, so that of equals the first is kept
                self.best, self.worth = picked, worth
            return
        missing = self.count - len(picked)
        if len(self.rows) - at < missing or self.steps > _MOST_STEPS:
            return
        # At most what all that is left would make together.
        if (
            self.best is not None
            and _worth([self.rows[place] for place in (*picked, *range(at, len(self.rows)))]) <= self.worth
        ):
            return
        mine = self.rows[at]
        if sum(_same(self.rows[place], mine) for place in picked) < mine.count and self.can((*picked, at)):
            self._go((*picked, at), at + 1)
        self._go(picked, at + 1)


def _worth(rows: Sequence[RodRow]) -> tuple[int, int, int]:
    right = answered = 0
    by_kind: dict[str, list[RodRow]] = {}
    for row in rows:
        by_kind.setdefault(row.category, []).append(row)
    for listed in by_kind.values():
        right += sum(map(max, zip(*(row.right for row in listed), strict=True)))
        answered += sum(map(max, zip(*(row.answered for row in listed), strict=True)))
    return right, answered, len({find_role(row.card) for row in rows})
