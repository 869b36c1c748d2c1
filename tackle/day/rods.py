"""What to tie on: the lures of a tray that make most hours right when each hour of a kind is fished with the best of
them alone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from tackle.colours.card import Card
from tackle.colours.role import role_of

__all__ = ["RodRow", "Tied", "tie_on"]

_MOST_STEPS: Final = 200_000  # of the search: a tray of sixteen and eight rods takes a tenth of it


@dataclass(frozen=True, slots=True)
class RodRow:
    """A colour of the tray: by hour what it is worth as a first choice, and what it answers, in whole numbers."""

    category: str
    card: Card
    right: tuple[int, ...]
    answered: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Tied:
    """A lure on a rod, by its place among the rows: what it answers and is right on as the best of the rods."""

    place: int
    answered: int
    right: int


def tie_on(rows: Sequence[RodRow], rods: int) -> list[Tied]:
    """The lures for so many rods: most right, then most answered, then most different roles, then the rows in order.

    Exact as long as the search is let finish, which it is for any tray that one carries.
    """
    picked = _Search(rows, min(rods, len(rows))).best
    return [
        Tied(place, _best_of(rows, picked, place, answered=True), _best_of(rows, picked, place, answered=False))
        for place in picked
    ]


def _best_of(rows: Sequence[RodRow], picked: Sequence[int], place: int, answered: bool) -> int:
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

    def __init__(self, rows: Sequence[RodRow], count: int) -> None:
        self.rows, self.count, self.steps = rows, count, 0
        self.best: tuple[int, ...] = tuple(range(count))
        self.worth = self._worth(self.best)
        self._go((), 0)

    def _go(self, picked: tuple[int, ...], at: int) -> None:
        self.steps += 1
        if len(picked) == self.count:
            worth = self._worth(picked)
            if worth > self.worth or (worth == self.worth and picked < self.best):
                self.best, self.worth = picked, worth
            return
        missing = self.count - len(picked)
        if len(self.rows) - at < missing or self.steps > _MOST_STEPS:
            return
        # At most what all that is left would make together.
        if self._worth((*picked, *range(at, len(self.rows))))[:2] < self.worth[:2]:
            return
        self._go((*picked, at), at + 1)
        self._go(picked, at + 1)

    def _worth(self, picked: Sequence[int]) -> tuple[int, int, int]:
        right = answered = 0
        by_kind: dict[str, list[RodRow]] = {}
        for place in picked:
            by_kind.setdefault(self.rows[place].category, []).append(self.rows[place])
        for listed in by_kind.values():
            right += sum(map(max, zip(*(row.right for row in listed), strict=True)))
            answered += sum(map(max, zip(*(row.answered for row in listed), strict=True)))
        return right, answered, len({role_of(self.rows[place].card) for place in picked})
