"""The most days that k colours can answer: branch and bound on the colours, best gain first.

The bound adds up the largest gains that the colours left could each bring; it holds since what several colours
answer together is never more than the sum of what each still touches (Nemhauser, Wolsey & Fisher 1978). Where every
situation has one need, the best pair is found in one matrix product: it ends the search two levels early, and bounds
the levels above by so many best pairs.
"""

from __future__ import annotations

import random
from collections.abc import Iterable
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.cover.instance import Instance, bits

__all__ = ["CURVE_NODES", "best_of_size", "most_days"]

CURVE_NODES: Final = 30_000
_STARTS: Final = 12


class _Coverage:
    """Needs as rows of a matrix, so that every colour's gain is one product."""

    def __init__(self, instance: Instance) -> None:
        self.instance = instance
        flat = [need for needs in instance.needs for need in needs]
        self.starts = np.cumsum([0, *(len(needs) for needs in instance.needs[:-1])])
        self.meets = np.array(
            [[need >> colour & 1 for colour in range(instance.colours)] for need in flat], dtype=np.bool_
        ).reshape(len(flat), instance.colours)
        self.floats = self.meets.astype(np.float64)
        self.single = len(flat) == len(instance.needs)

    def open_after(self, locked: int, chosen: Iterable[int]) -> NDArray[np.bool_]:
        """The rows that some colours leave open."""
        return np.logical_not(self.meets[:, [*bits(locked), *chosen]].any(axis=1))

    def days(self, open_rows: NDArray[np.bool_]) -> int:
        """The days of the situations with no row left open."""
        done = ~open_rows if self.single else ~np.logical_or.reduceat(open_rows, self.starts)
        return int(self.instance.days[done].sum())

    def pairs(self, open_rows: NDArray[np.bool_], colours: NDArray[np.intp]) -> NDArray[np.int64]:
        """The days that each two of some colours add together; shape (k, k), with 0 below and on the diagonal."""
        met = self.floats[:, colours]
        days = self.instance.days * open_rows
        both = np.rint(met.T @ (met * days[:, None])).astype(np.int64)  # whole numbers below 2**53: exact
        alone = np.diagonal(both)
        return np.asarray(np.triu(alone[:, None] + alone[None, :] - both, 1), dtype=np.int64)

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
        self.key: tuple[int, tuple[int, int, int, tuple[int, ...]]] = (-1, (0, 0, 0, ()))
        self.nodes = CURVE_NODES

    def offer(self, chosen: int, days: int) -> None:
        if days < self.days or (days == self.days and not self.whole_order and self.chosen):
            return
        instance = self.coverage.instance
        key: tuple[int, tuple[int, int, int, tuple[int, ...]]] = (-1, (0, 0, 0, ()))
        if self.whole_order:
            key = (instance.colours - instance.new(chosen), instance.standing(chosen))
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
        usable = order[: int(free.sum())]
        if 2 <= left <= 3 and self.coverage.single and not self.whole_order and len(usable) >= 2:
            pairs = self.coverage.pairs(open_rows, usable)
            most = int(pairs.max())
            if days + left // 2 * most + left % 2 * int(gains[order[0]]) <= self.days and self.chosen:
                return
            if left == 2:
                one, other = np.unravel_index(int(pairs.argmax()), pairs.shape)
                self.offer(chosen | 1 << int(usable[one]) | 1 << int(usable[other]), days + most)
                return
        free = free.copy()
        for place, colour in enumerate(order):
            if not free[colour]:
                break
            reach = days + int(np.maximum(gains[order[place : place + left]], 0).sum())
            if reach < self.days or (reach == self.days and self.chosen and not self.whole_order):
                break
            free[colour] = False
            self.dive(chosen | 1 << int(colour), open_rows & ~self.coverage.meets[:, colour], free, left - 1)


def _swapped(coverage: _Coverage, size: int) -> int:
    """A good set of one size: by largest gain, then one colour exchanged for another while that adds days.

    From several seeded starts, so that the proof begins with a bound that prunes. Always the same for one instance.
    """
    instance = coverage.instance
    others = [c for c in range(instance.colours) if not instance.locked >> c & 1]
    scatter = random.Random(size)
    best, most = instance.locked, -1
    for start in range(_STARTS):
        count = min(size - instance.locked.bit_count(), len(others))
        chosen = set(scatter.sample(others, count)) if start else set()
        while len(chosen) < count:
            open_rows = coverage.open_after(instance.locked, chosen)
            gains = coverage.gains(open_rows)
            chosen.add(max((c for c in others if c not in chosen), key=lambda c: int(gains[c])))
        days = coverage.days(coverage.open_after(instance.locked, chosen))
        improved = True
        while improved:
            improved = False
            for out in sorted(chosen):
                rest = chosen - {out}
                gains = coverage.gains(coverage.open_after(instance.locked, rest))
                into = max((c for c in others if c not in rest), key=lambda c: int(gains[c]))
                reached = coverage.days(coverage.open_after(instance.locked, rest | {into}))
                if reached > days:
                    chosen, days, improved = rest | {into}, reached, True
                    break
        if days > most:
            best, most = instance.locked | sum(1 << c for c in chosen), days
    return best


def _best(instance: Instance, size: int, whole_order: bool, floor: int = 0) -> _Best:
    coverage = _Coverage(instance)
    best = _Best(coverage, whole_order, floor)
    locked = list(bits(instance.locked))
    open_rows = np.logical_not(coverage.meets[:, locked].any(axis=1))
    if not whole_order and size > len(locked):
        start = _swapped(coverage, size)
        best.offer(start, coverage.days(coverage.open_after(start, ())))
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
