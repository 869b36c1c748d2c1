"""The most days that k colours can answer: branch and bound on the colours, best gain first.

The bound adds up the largest gains that the colours left could each bring; it holds since what several colours
answer together is never more than the sum of what each still touches (Nemhauser, Wolsey & Fisher 1978).
"""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.cover.instance import Instance, bits

__all__ = ["CURVE_NODES", "best_of_size", "most_days"]

CURVE_NODES: Final = 200_000


class _Coverage:
    """Needs as rows of a matrix, so that every colour's gain is one product."""

    def __init__(self, instance: Instance) -> None:
        self.instance = instance
        flat = [need for needs in instance.needs for need in needs]
        self.starts = np.cumsum([0, *(len(needs) for needs in instance.needs[:-1])])
        self.meets = np.array(
            [[need >> colour & 1 for colour in range(instance.colours)] for need in flat], dtype=np.bool_
        ).reshape(len(flat), instance.colours)
        self.single = len(flat) == len(instance.needs)

    def days(self, open_rows: NDArray[np.bool_]) -> int:
        """The days of the situations with no row left open."""
        done = ~open_rows if self.single else ~np.logical_or.reduceat(open_rows, self.starts)
        return int(self.instance.days[done].sum())

    def gains(self, open_rows: NDArray[np.bool_]) -> NDArray[np.int64]:
        """For each colour, the days of the unanswered situations in which it meets an open need."""
        if self.single:
            return np.asarray((self.instance.days * open_rows) @ self.meets, dtype=np.int64)
        touched = np.logical_or.reduceat(self.meets & open_rows[:, None], self.starts, axis=0)
        return np.asarray(self.instance.days @ touched, dtype=np.int64)


class _Best:
    """The best set of one size so far, by days alone or by the whole order."""

    def __init__(self, coverage: _Coverage, whole_order: bool, floor: int) -> None:
        self.coverage, self.whole_order = coverage, whole_order
        self.days, self.chosen = floor, 0
        self.key: tuple[int, int, tuple[int, ...]] = (-1, -1, ())
        self.nodes = CURVE_NODES

    def offer(self, chosen: int, days: int) -> None:
        if days < self.days or (days == self.days and not self.whole_order and self.chosen):
            return
        instance = self.coverage.instance
        key: tuple[int, int, tuple[int, ...]] = (-1, -1, ())
        if self.whole_order:
            key = (instance.colours - instance.new(chosen), instance.value(chosen), tuple(-c for c in bits(chosen)))
            if days == self.days and self.chosen and key <= self.key:
                return
        self.days, self.chosen, self.key = days, chosen, key

    def dive(self, chosen: int, open_rows: NDArray[np.bool_], free: NDArray[np.bool_], left: int) -> None:
        self.nodes -= 1
        days = self.coverage.days(open_rows)
        if left == 0 or not open_rows.any() or not free.any():
            self.offer(chosen, days)
            return
        if self.nodes < 0 and self.chosen:
            return
        gains = np.where(free, self.coverage.gains(open_rows), -1)
        order = np.argsort(-gains, kind="stable")
        free = free.copy()
        for place, colour in enumerate(order):
            if not free[colour]:
                break
            reach = days + int(np.maximum(gains[order[place : place + left]], 0).sum())
            if reach < self.days or (reach == self.days and self.chosen and not self.whole_order):
                break
            free[colour] = False
            self.dive(chosen | 1 << int(colour), open_rows & ~self.coverage.meets[:, colour], free, left - 1)


def _best(instance: Instance, size: int, whole_order: bool, floor: int = 0) -> _Best:
    coverage = _Coverage(instance)
    best = _Best(coverage, whole_order, floor)
    locked = list(bits(instance.locked))
    open_rows = np.logical_not(coverage.meets[:, locked].any(axis=1))
    free = np.array([not instance.locked >> colour & 1 for colour in range(instance.colours)], dtype=np.bool_)
    best.dive(instance.locked, open_rows, free, size - len(locked))
    return best


def most_days(instance: Instance, size: int) -> int:
    """The most days, in millionths, that `size` colours (the locked ones among them) can answer."""
    return _best(instance, size, whole_order=False).days


def best_of_size(instance: Instance, size: int) -> tuple[int, bool]:
    """Of the sets of at most `size` colours with the most days: fewest not owned, then value, then places.

    Returns the set, and whether that was proved within the bound of nodes.
    """
    floor = most_days(instance, size)
    best = _best(instance, size, whole_order=True, floor=floor)
    return best.chosen, best.nodes >= 0
