"""The most days that k colours can answer, and of those sets the most right days: branch and bound on the colours,
best gain first.

The bound adds up the largest gains that the colours left could each bring; it holds since what several colours
answer together is never more than the sum of what each still touches (Nemhauser, Wolsey & Fisher 1978). Where a
situation has several needs, its days are shared out over those still open: who meets them all gets all of its days,
and nobody more. Where every situation has one need, the best pair is found in one matrix product: it ends the search
two levels early, and bounds the levels above by so many best pairs.
"""

from __future__ import annotations

import random
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.cover.instance import Instance, bits, to_matrix
from tackle.cover.right_search import best_right
from tackle.cover.search import smallest_cover

__all__ = ["Most", "best_of_size", "compute_curve", "most_of_size"]

WORK: Final = 280_000_000  # cells of the matrices looked at, for one size or a whole curve: less than a second
_NODE: Final = 20_000  # what a node costs beside its cells
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
        self.meets = to_matrix(flat, instance.colours)
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

    def gains(self, open_rows: NDArray[np.bool_], open_needs: NDArray[np.int64]) -> NDArray[np.int64]:
        """For each colour, the share it could have at most in the days still open, times `scale`."""
        shares = np.ceil(self.instance.days * self.scale / np.maximum(open_needs, 1))
        return np.rint((shares[self.situation] * open_rows) @ self.floats).astype(np.int64)


@dataclass(frozen=True, slots=True)
class Most:
    """Of the sets of at most `size` colours the most days (millionths) and, with these, the most right days; whether
    that was proved."""

    size: int
    days: int
    right: int
    proved: bool


class _Best:
    """The best set of one size so far, by days and right days alone or by the whole order."""

    def __init__(self, coverage: _Coverage, whole_order: bool, work: int) -> None:
        self.coverage, self.whole_order, self.work = coverage, whole_order, work
        instance = coverage.instance
        self.firsts = to_matrix(instance.firsts, instance.colours).astype(np.float64)
        self.cost = coverage.meets.size + self.firsts.size + _NODE
        self.most = (-1, -1)
        self.chosen = 0
        self.key: tuple[int, tuple[int, int, int, tuple[int, ...]]] | None = None

    def offer(self, chosen: int, days: int, right: int) -> None:
        if (days, right) < self.most:
            return
        key = None
        if self.whole_order:
            instance = self.coverage.instance
            key = (instance.colours - instance.new(chosen), instance.standing(chosen))
        better = (days, right) > self.most or (key is not None and self.key is not None and key > self.key)
        if better:
            self.most, self.chosen, self.key = (days, right), chosen, key

    def dive(
        self,
        chosen: int,
        open_rows: NDArray[np.bool_],
        weight_left: NDArray[np.float64],
        right: int,
        free: NDArray[np.bool_],
        left: int,
    ) -> None:
        self.work -= self.cost
        coverage = self.coverage
        open_needs = coverage.open_needs(open_rows)
        days = coverage.days(open_needs)
        self.offer(chosen, days, right)
        if left == 0 or self.work < 0 or not free.any() or not (open_rows.any() or weight_left.any()):
            return
        gains = np.where(free, coverage.gains(open_rows, open_needs), -1)
        rights = np.where(free, weight_left @ self.firsts, -1.0)
        order = np.lexsort((-rights, -gains))
        usable = order[: int(free.sum())]
        if left <= 3 and coverage.single and not len(self.firsts) and not self.whole_order and len(usable) >= 2 <= left:
            pairs = coverage.pairs(open_rows, usable)
            most = int(pairs.max())
            if days + left // 2 * most + left % 2 * int(gains[order[0]]) <= self.most[0]:
                return
            if left == 2:
                one, other = np.unravel_index(int(pairs.argmax()), pairs.shape)
                self.offer(chosen | 1 << int(usable[one]) | 1 << int(usable[other]), days + most, 0)
                return
        free = free.copy()
        for index, colour in enumerate(usable):
            reach = days + int(gains[usable[index : index + left]].sum()) // coverage.scale
            if reach < self.most[0]:
                return
            if reach == self.most[0]:
                rest = np.sort(rights[usable[index:]])[::-1][:left]
                could = right + int(rest.sum())
                if could < self.most[1] or (could == self.most[1] and not self.whole_order):
                    if not len(self.firsts):
                        return
                    free[colour] = False
                    continue
            free[colour] = False
            self.dive(
                chosen | 1 << int(colour),
                open_rows & ~coverage.meets[:, colour],
                weight_left * (1 - self.firsts[:, colour]),
                right + int(rights[colour]),
                free,
                left - 1,
            )


def _swapped(coverage: _Coverage, size: int, starts: int) -> int:
    """A good set of one size: by largest gain, then one colour exchanged for another while that is better.

    From several seeded starts, so that the proof begins with a bound that prunes. Always the same for one instance.
    """
    instance = coverage.instance
    firsts = to_matrix(instance.firsts, instance.colours)
    weights = np.array(instance.weights, dtype=np.int64)
    locked = list(bits(instance.locked))
    others = [c for c in range(instance.colours) if not instance.locked >> c & 1]

    def left(chosen: Iterable[int]) -> tuple[NDArray[np.bool_], NDArray[np.int64], NDArray[np.int64]]:
        """The rows left open, how many of each situation, and the right days missed."""
        open_rows = coverage.open_after(instance.locked, chosen)
        return open_rows, coverage.open_needs(open_rows), weights * ~firsts[:, [*locked, *chosen]].any(axis=1)

    def reached(chosen: Iterable[int]) -> tuple[int, int]:
        _, open_needs, missed = left(chosen)
        return coverage.days(open_needs), -int(missed.sum())

    def best_beside(chosen: set[int]) -> int:
        """The colour that adds the most days beside some others and, of these, the most right days; else the first."""
        open_rows, open_needs, missed = left(chosen)
        gains, rights = coverage.gains(open_rows, open_needs), missed @ firsts
        gains[[*locked, *chosen]] = -1
        best = np.flatnonzero(gains == gains.max())
        return int(best[rights[best].argmax()])

    scatter = random.Random(size)
    best, most = instance.locked, (-1, -int(weights.sum()))
    for start in range(starts):
        count = min(size - instance.locked.bit_count(), len(others))
        chosen = set(scatter.sample(others, count)) if start else set()
        while len(chosen) < count:
            chosen.add(best_beside(chosen))
        now = reached(chosen)
        improved = True
        while improved:
            improved = False
            for out in sorted(chosen):
                rest = chosen - {out}
                other = rest | {best_beside(rest)}
                if other != chosen and (then := reached(other)) > now:
                    chosen, now, improved = other, then, True
                    break
        if now > most:
            best, most = instance.locked | sum(1 << c for c in chosen), now
    return best


def _best(instance: Instance, size: int, whole_order: bool, work: int = WORK) -> _Best:
    """The best set of at most one size."""
    coverage = _Coverage(instance)
    best = _Best(coverage, whole_order, work)
    free = np.array([not instance.locked >> colour & 1 for colour in range(instance.colours)], dtype=np.bool_)
    more = size - instance.locked.bit_count()
    if more > 0:
        start = _swapped(coverage, size, _STARTS)
        answered = np.array(instance.answered(start), dtype=np.bool_)
        best.offer(start, int(instance.days[answered].sum()), instance.right(start))
    met = best.firsts[:, list(bits(instance.locked))].any(axis=1)
    weight_left = np.array(instance.weights, dtype=np.float64) * ~met
    right = instance.right(instance.locked)
    best.dive(instance.locked, coverage.open_after(instance.locked, ()), weight_left, right, free, max(more, 0))
    return best


def most_of_size(instance: Instance, size: int, work: int = WORK) -> Most:
    """The most that `size` colours, the locked ones among them, can do."""
    best = _best(instance, size, whole_order=False, work=work)
    return Most(size, *best.most, best.work >= 0)


def best_of_size(instance: Instance, size: int) -> tuple[int, bool]:
    """Of the sets of at most `size` colours with the most days and right days: fewest not owned, then its standing.

    Returns the set, and whether that was proved.
    """
    best = _best(instance, size, whole_order=True)
    return best.chosen, best.work >= 0


def compute_curve(instance: Instance, work: int = WORK) -> tuple[Most, ...]:
    """For each size the most it can do, from one (or the locked) to the smallest size at which both are at their most.

    Each point with its own proof; all of them together within so much work.
    """
    if not len(instance.days) and not instance.firsts:
        return ()
    everything = (int(instance.days.sum()), sum(instance.weights))
    cover = smallest_cover(instance)
    points: list[Most] = []
    for size in range(max(instance.locked.bit_count(), 1), instance.colours + 1):
        part = max(work // 3, 1)
        covering = best_right(instance, size, part) if instance.firsts and size >= cover.chosen.bit_count() else None
        if covering and covering.right is not None:
            point = Most(size, everything[0], covering.right, covering.proved)
            work -= covering.work
        else:
            best = _best(instance, size, whole_order=False, work=part)
            point = Most(size, *best.most, best.work >= 0)
            work -= part - max(best.work, 0)
        if points and (point.days, point.right) < (points[-1].days, points[-1].right):
            point = Most(size, points[-1].days, points[-1].right, False)
        points.append(point)
        if (point.days, point.right) == everything:
            break
    return tuple(points)
