"""The smallest set that answers everything, exactly: a depth-first search on bit sets.

Order of steps, each proved before the next: fewest colours; of those, fewest not owned; of those, the greatest
days x suitability (but colours that are prized come before that); of those, the least money; of those, the smallest
tuple of places. (`right_search` asks more of a set, and has a search of its own.) This one branches on the need with
the fewest colours left (the pivoting of Knuth's Algorithm X, 2000), excludes a colour once tried so that each set is
seen once, and prunes by three lower bounds on any cover: a packing of needs that share no colour, the sum of the
largest covers left, and a dual solution in which each need pays the least share of a colour (Hochbaum 1982). Worst
case exponential; bounded by a number of nodes, so that one request has one answer.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.cover.instance import Instance, bits, row_masks, to_matrix

__all__ = ["NODES", "Found", "Needs", "smallest_cover"]

NODES: Final = 2_000_000
_PIVOTS: Final = 24
_PART: Final = 500
_MANY: Final = 60  # so many equal sets: from there on it pays to ask whether a branch can hold a better one


@dataclass(frozen=True, slots=True)
class Found:
    """A set of colours, the number that no set can go below, and whether the whole order was proved."""

    chosen: int
    at_least: int
    proved: bool


def _shared(meets: NDArray[np.bool_]) -> Iterator[NDArray[np.float32]]:
    """How many colours needs have in common with every need, for some hundreds of needs at a time."""
    counts = meets.astype(np.float32)
    for start in range(0, len(meets), _PART):
        yield counts[start : start + _PART] @ counts.T


def _without_implied(meets: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """The needs without those that hold another whole: such a one is met whenever that other is. No two are equal."""
    sizes = meets.sum(axis=1)
    implied = [(common == sizes).sum(axis=1) > 1 for common in _shared(meets)]  # each holds itself
    return np.asarray(meets[~np.concatenate(implied)], dtype=np.bool_)


class Needs:
    """The needs of an instance that imply all others, rarest first, as bit sets of colours; and what follows from them.

    `covers`: for each colour the needs it meets; `near`: for each need those that share a colour with it.
    """

    def __init__(self, instance: Instance) -> None:
        needs = sorted({need for needs in instance.needs for need in needs}, key=lambda n: (n.bit_count(), n))
        meets = _without_implied(to_matrix(needs, instance.colours)) if needs else np.zeros((0, instance.colours), bool)
        self.needs = row_masks(meets)
        self.covers = row_masks(meets.T) if needs else [0] * instance.colours
        self.near = [mask for common in _shared(meets) for mask in row_masks(common > 0)]

    def needs_at_least(self, open_rows: int, stop_at: int = 1 << 30) -> int:
        """A packing: needs of which no two share a colour each take a colour of their own. Counts to `stop_at`."""
        packed = 0
        while open_rows and packed < stop_at:
            row = (open_rows & -open_rows).bit_length() - 1
            open_rows &= ~self.near[row]
            packed += 1
        return packed

    def pivot(self, open_rows: int, free: int) -> int:
        """The colours left to the open row that has fewest, among the first: rows stand rarest first."""
        best, fewest = 0, 1 << 30
        for _ in range(_PIVOTS):
            low = open_rows & -open_rows
            left = self.needs[low.bit_length() - 1] & free
            if (count := left.bit_count()) < fewest:
                best, fewest = left, count
            open_rows ^= low
            if not open_rows or fewest < 2:
                break
        return best


class _OutOfNodes(Exception):
    pass


class _Search:
    def __init__(self, instance: Instance, nodes: int) -> None:
        self.instance, self.left = instance, nodes
        self.rows = rows = Needs(instance)
        self.needs, self.covers = rows.needs, rows.covers
        self.open = (1 << len(self.needs)) - 1
        for colour in bits(instance.locked):
            self.open &= ~self.covers[colour]
        self.free = ((1 << instance.colours) - 1) & ~instance.locked

    def greedy(self) -> int:
        """A cover by largest gain, then stripped of what it does not need: an upper bound."""
        chosen, open_rows = self.instance.locked, self.open
        while open_rows:
            best = max(bits(self.free & ~chosen), key=lambda c: ((self.covers[c] & open_rows).bit_count(), -c))
            chosen |= 1 << best
            open_rows &= ~self.covers[best]
        for colour in bits(chosen & ~self.instance.locked):
            without = chosen & ~(1 << colour)
            if all(need & without for need in self.needs):
                chosen = without
        return chosen

    def share_bound(self, open_rows: int, gains: list[tuple[int, int]]) -> float:
        """What the open rows ask at least, each paying the smallest share that any colour could leave it.

        A row pays 1 / (rows covered by the colour that covers most of those it is in); no colour can be paid more
        than 1 in all, so the sum is a feasible dual solution. `gains`: (rows newly covered, colour), most first.
        """
        bound = 0.0
        for gain, colour in gains:
            if not open_rows:
                break
            first = self.covers[colour] & open_rows
            bound += first.bit_count() / gain
            open_rows &= ~first
        return bound

    def find_covers(self, size: int, new: int) -> Iterator[int]:
        """All covers of at most `size` colours beyond the locked ones, at most `new` of them not owned.

        Each set comes once.
        """
        yield from self._dive(self.open, self.free, size, new, self.instance.locked, list(bits(self.free)))

    def _dive(self, open_rows: int, free: int, size: int, new: int, chosen: int, useful: list[int]) -> Iterator[int]:
        """`useful`: colours among which are all the free ones that cover an open row."""
        self.left -= 1
        if self.left < 0:
            raise _OutOfNodes
        if not open_rows:
            yield chosen
            return
        if size == 0 or self.rows.needs_at_least(open_rows, size + 1) > size:
            return
        if new == 0:
            free &= self.instance.owned
        pivot = self.rows.pivot(open_rows, free)
        if size <= 2:
            yield from self._last_two(open_rows, free, pivot, size, new, chosen)
            return
        covers = self.covers
        gains = [(gain, c) for c in useful if free >> c & 1 and (gain := (covers[c] & open_rows).bit_count())]
        gains.sort(reverse=True)
        if sum([gain for gain, _ in gains[:size]]) < open_rows.bit_count():
            return
        if self.share_bound(open_rows, gains) > size + 1e-9:
            return
        prized = self.instance.prized
        if not self.may_improve(chosen | free, (chosen & prized).bit_count() + min(size, (free & prized).bit_count())):
            return
        useful = [c for _, c in gains]
        for colour in [c for c in useful if pivot >> c & 1]:
            bit = 1 << colour
            free &= ~bit
            cost = 0 if self.instance.owned & bit else 1
            if cost <= new:
                yield from self._dive(
                    open_rows & ~self.covers[colour], free, size - 1, new - cost, chosen | bit, useful
                )

    def _last_two(self, open_rows: int, free: int, pivot: int, size: int, new: int, chosen: int) -> Iterator[int]:
        """The covers with one or two colours more. What is left after the first must be in every open need: no
        bound is as quick as looking."""
        owned = self.instance.owned
        for colour in bits(pivot):
            bit = 1 << colour
            free &= ~bit
            cost = 0 if owned & bit else 1
            if cost > new:
                continue
            rest = open_rows & ~self.covers[colour]
            if not rest:
                yield chosen | bit
                continue
            if size == 1:
                continue
            able = free if cost < new else free & owned
            while rest and able:
                low = rest & -rest
                able &= self.needs[low.bit_length() - 1]
                rest ^= low
            for other in bits(able):
                yield chosen | bit | 1 << other

    best: tuple[int, int] | None = None  # prized colours and value of the best set, once many sets have been seen

    def may_improve(self, usable: int, prized: int) -> bool:
        """Whether sets within these colours, at most so many of them prized, could be as good as the best so far."""
        if self.best is None or prized > self.best[0]:
            return True
        if prized < self.best[0]:
            return False
        picked = list(bits(usable))
        best = self.instance.suits[:, picked].max(axis=1)
        return int((best * self.instance.days).sum()) >= self.best[1]


def smallest_cover(instance: Instance, nodes: int = NODES) -> Found:
    """The best set that answers every situation of a reduced instance.

    Past the bound of `nodes` it returns the best set seen, with the size below which none was ruled out.
    """
    search = _Search(instance, nodes)
    locked = instance.locked.bit_count()
    best = search.greedy()
    everything = [(cover.bit_count(), c) for c, cover in enumerate(search.covers) if cover]
    shares = search.share_bound(search.open, sorted(everything, reverse=True))
    at_least = locked + max(search.rows.needs_at_least(search.open), math.ceil(shares - 1e-9))
    try:
        for size in range(at_least - locked, best.bit_count() - locked):
            at_least = locked + size
            found = next(search.find_covers(size, size), None)
            if found is not None:
                best = found
                break
        at_least = best.bit_count()
        size = at_least - locked
        new = instance.new(best & ~instance.locked)
        while new and (found := next(search.find_covers(size, new - 1), None)) is not None:
            best = found
            new = instance.new(best & ~instance.locked)
        key = instance.standing(best)
        for seen, chosen in enumerate(search.find_covers(size, new)):
            if (standing := instance.standing(chosen)) > key:
                best, key = chosen, standing
            if seen >= _MANY:
                search.best = key[:2]
    except _OutOfNodes:
        return Found(best, at_least, proved=False)
    return Found(best, at_least, proved=True)
