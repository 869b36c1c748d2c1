"""The most days that k colours can answer: branch and bound on the colours, best gain first.

The bound adds up the largest gains that the colours left could each bring; it holds since what several colours
answer together is never more than the sum of what each still touches (Nemhauser, Wolsey & Fisher 1978). Where a
situation has several needs, its days are shared out over those still open: who meets them all gets all of its days,
and nobody more. Where every situation has one need, the best pair is found in one matrix product: it ends the search
two levels early, and bounds the levels above by so many best pairs.
"""

from __future__ import annotations

import random
from collections.abc import Iterable
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.cover.instance import Instance, bits, matrix_of

__all__ = ["CURVE_NODES", "best_of_size", "most_days"]

CURVE_NODES: Final = 30_000
_STARTS: Final = 12
_SHARES: Final = 60  # a day is shared out in sixtieths: evenly over up to six needs


class _Coverage:
    """Needs as rows of a matrix, so that every colour's gain is one product. Numbers are whole, below 2**53: exact."""

    def __init__(self, instance: Instance) -> None:
        self.instance = instance
        flat = [need for needs in instance.needs for need in needs]
        counts = [len(needs) for needs in instance.needs]
        self.starts = np.cumsum([0, *counts[:-1]])
        self.situation = np.repeat(np.arange(len(counts)), counts)
        self.meets = matrix_of(flat, instance.colours)
        self.floats = self.meets.astype(np.float64)
        self.single = len(flat) == len(instance.needs)
        self.scale = 1 if self.single else _SHARES

    def open_after(self, locked: int, chosen: Iterable[int]) -> NDArray[np.bool_]:
        """The rows that some colours leave open."""
        return np.logical_not(self.meets[:, [*bits(locked), *chosen]].any(axis=1))

    def open_needs(self, open_rows: NDArray[np.bool_]) -> NDArray[np.int64]:
        """For each situation, how many of its needs are open."""
        if self.single:
            return open_rows.astype(np.int64)
        return np.asarray(np.add.reduceat(open_rows, self.starts, dtype=np.int64), dtype=np.int64)

    def days(self, open_needs: NDArray[np.int64]) -> int:
        """The days of the situations with no need left open."""
        return int(self.instance.days[open_needs == 0].sum())

    def pairs(self, open_rows: NDArray[np.bool_], colours: NDArray[np.intp]) -> NDArray[np.int64]:
        """The days that each two of some colours add together; shape (k, k), with 0 below and on the diagonal."""
        met = self.floats[:, colours]
        days = self.instance.days * open_rows
        both = np.rint(met.T @ (met * days[:, None])).astype(np.int64)
        alone = np.diagonal(both)
        return np.asarray(np.triu(alone[:, None] + alone[None, :] - both, 1), dtype=np.int64)

    def bound(self, open_rows: NDArray[np.bool_], free: NDArray[np.bool_], more: int) -> int:
        """The days that so many of the free colours could answer at most, beside what is answered."""
        open_needs = self.open_needs(open_rows)
        gains = np.sort(self.gains(open_rows, open_needs)[free])[::-1]
        return self.days(open_needs) + int(gains[:more].sum()) // self.scale

    def gains(self, open_rows: NDArray[np.bool_], open_needs: NDArray[np.int64]) -> NDArray[np.int64]:
        """For each colour, the share it could have at most in the days still open, times `scale`."""
        shares = np.ceil(self.instance.days * self.scale / np.maximum(open_needs, 1))
        return np.rint((shares[self.situation] * open_rows) @ self.floats).astype(np.int64)


class _Best:
    """The best set of one size so far, by days alone or by the whole order."""

    def __init__(self, coverage: _Coverage, whole_order: bool, floor: int) -> None:
        self.coverage, self.whole_order = coverage, whole_order
        self.days, self.chosen = floor, 0
        self.found = floor > 0 and not whole_order  # whether as many days as these are no news
        self.key: tuple[int, tuple[int, int, int, tuple[int, ...]]] = (-1, (0, 0, 0, ()))
        self.nodes = CURVE_NODES

    def offer(self, chosen: int, days: int) -> None:
        if days < self.days or (days == self.days and not self.whole_order and self.found):
            return
        instance = self.coverage.instance
        key: tuple[int, tuple[int, int, int, tuple[int, ...]]] = (-1, (0, 0, 0, ()))
        if self.whole_order:
            key = (instance.colours - instance.new(chosen), instance.standing(chosen))
            if days == self.days and self.found and key <= self.key:
                return
        self.days, self.chosen, self.key, self.found = days, chosen, key, True

    def dive(self, chosen: int, open_rows: NDArray[np.bool_], free: NDArray[np.bool_], left: int) -> None:
        self.nodes -= 1
        open_needs = self.coverage.open_needs(open_rows)
        days = self.coverage.days(open_needs)
        if left == 0 or not open_rows.any() or not free.any():
            self.offer(chosen, days)
            return
        if self.nodes < 0 and self.found:
            return
        gains = np.where(free, self.coverage.gains(open_rows, open_needs), -1)
        order = np.argsort(-gains, kind="stable")
        usable = order[: int(free.sum())]
        if 2 <= left <= 3 and self.coverage.single and not self.whole_order and len(usable) >= 2:
            pairs = self.coverage.pairs(open_rows, usable)
            most = int(pairs.max())
            if days + left // 2 * most + left % 2 * int(gains[order[0]]) <= self.days and self.found:
                return
            if left == 2:
                one, other = np.unravel_index(int(pairs.argmax()), pairs.shape)
                self.offer(chosen | 1 << int(usable[one]) | 1 << int(usable[other]), days + most)
                return
        free = free.copy()
        for place, colour in enumerate(order):
            if not free[colour]:
                break
            reach = days + int(np.maximum(gains[order[place : place + left]], 0).sum()) // self.coverage.scale
            if reach < self.days or (reach == self.days and self.found and not self.whole_order):
                break
            free[colour] = False
            self.dive(chosen | 1 << int(colour), open_rows & ~self.coverage.meets[:, colour], free, left - 1)


def _swapped(coverage: _Coverage, size: int, starts: int) -> int:
    """A good set of one size: by largest gain, then one colour exchanged for another while that adds days.

    From several seeded starts, so that the proof begins with a bound that prunes. Always the same for one instance.
    """
    instance = coverage.instance

    def standing(chosen: Iterable[int]) -> tuple[NDArray[np.int64], int]:
        open_rows = coverage.open_after(instance.locked, chosen)
        open_needs = coverage.open_needs(open_rows)
        return coverage.gains(open_rows, open_needs), coverage.days(open_needs)

    others = [c for c in range(instance.colours) if not instance.locked >> c & 1]
    scatter = random.Random(size)
    best, most = instance.locked, -1
    for start in range(starts):
        count = min(size - instance.locked.bit_count(), len(others))
        chosen = set(scatter.sample(others, count)) if start else set()
        while len(chosen) < count:
            gains, _ = standing(chosen)
            chosen.add(max((c for c in others if c not in chosen), key=lambda c: int(gains[c])))
        _, days = standing(chosen)
        improved = True
        while improved:
            improved = False
            for out in sorted(chosen):
                rest = chosen - {out}
                gains, _ = standing(rest)
                into = max((c for c in others if c not in rest), key=lambda c: int(gains[c]))
                _, reached = standing(rest | {into})
                if reached > days:
                    chosen, days, improved = rest | {into}, reached, True
                    break
        if days > most:
            best, most = instance.locked | sum(1 << c for c in chosen), days
    return best


def _best(instance: Instance, size: int, whole_order: bool, floor: int = 0) -> _Best:
    """The best set of one size; by days alone, one that answers more than `floor`, or none."""
    coverage = _Coverage(instance)
    best = _Best(coverage, whole_order, floor)
    open_rows = coverage.open_after(instance.locked, ())
    free = np.array([not instance.locked >> colour & 1 for colour in range(instance.colours)], dtype=np.bool_)
    more = size - instance.locked.bit_count()
    if best.found and coverage.bound(open_rows, free, more) <= floor:
        return best
    if not whole_order and more > 0:
        start = _swapped(coverage, size, 1 if best.found else _STARTS)
        best.offer(start, coverage.days(coverage.open_needs(coverage.open_after(start, ()))))
    best.dive(instance.locked, open_rows, free, more)
    return best


def most_days(instance: Instance, size: int, floor: int = 0) -> int:
    """The most days, in millionths, that `size` colours (the locked ones among them) can answer; at least `floor`."""
    return _best(instance, size, whole_order=False, floor=floor).days


def best_of_size(instance: Instance, size: int) -> tuple[int, bool]:
    """Of the sets of at most `size` colours with the most days: fewest not owned, then value, then places.

    Returns the set, and whether that was proved within the bound of nodes.
    """
    floor = most_days(instance, size)
    best = _best(instance, size, whole_order=True, floor=floor)
    return best.chosen, best.nodes >= 0
