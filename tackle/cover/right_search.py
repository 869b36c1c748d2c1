"""Sets that answer everything and are right on enough days, exactly: a depth-first search with two kinds of needs.

What must be met are the covers (bit sets, as in `search`); what adds up are the first choices (a weighted coverage).
The gain of a colour in right days only shrinks as others are chosen, so that right days so far + the greatest gains of
as many colours as are left bound what can still be reached (Nemhauser, Wolsey & Fisher 1978). The search branches on
the open cover with fewest colours left, then on the colour that gains most; each set is seen once. It is bounded by
work, counted in cells of the matrices looked at, never by the clock: one request has one answer.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.cover.instance import Instance, bits, to_matrix
from tackle.cover.search import Needs

__all__ = ["WORK", "MostRight", "OutOfWork", "RightSearch", "best_right", "fewest_right"]

WORK: Final = 1_500_000_000  # cells: a second or two
_NODE: Final = 20_000  # what a node costs beside its cells


class OutOfWork(Exception):
    """The search has done as much as it may, and has not proved its answer."""


class RightSearch:
    """Covers of an instance whose right days reach `target`, which may be raised while it runs."""

    def __init__(self, instance: Instance, work: int = WORK) -> None:
        self.instance, self.left = instance, work
        self.rows = rows = Needs(instance)
        self.needs, self.covers = rows.needs, rows.covers
        self.meets = to_matrix(instance.firsts, instance.colours).astype(np.float64)
        self.weights = np.array(instance.weights, dtype=np.float64)  # whole, below 2**53: exact
        self.cost = self.meets.size + _NODE
        self.target = 0
        self.open = (1 << len(self.needs)) - 1
        self.weight_left, self.got = self.weights.copy(), 0
        for colour in bits(instance.locked):
            self.open &= ~self.covers[colour]
        if instance.locked and instance.firsts:
            met = self.meets[:, list(bits(instance.locked))].any(axis=1)
            self.got = int(self.weights[met].sum())
            self.weight_left[met] = 0
        self.free = ((1 << instance.colours) - 1) & ~instance.locked

    def gains(self, weight_left: NDArray[np.float64]) -> NDArray[np.float64]:
        """What each colour would add to the right days."""
        return np.asarray(weight_left @ self.meets)

    def sets(self, size: int, new: int) -> Iterator[int]:
        """The covers of at most `size` colours beyond the locked ones, at most `new` of them not owned, that reach
        the target; a set comes before those it is part of, and each once. Raises OutOfWork."""
        yield from self._dive(self.open, self.free, size, new, self.instance.locked, self.weight_left, self.got)

    def _dive(
        self, open_rows: int, free: int, size: int, new: int, chosen: int, weight_left: NDArray[np.float64], got: int
    ) -> Iterator[int]:
        self.left -= self.cost
        if self.left < 0:
            raise OutOfWork
        if not open_rows and got >= self.target:
            yield chosen
        if size == 0 or (open_rows and self.rows.needs_at_least(open_rows, size + 1) > size):
            return
        if new == 0:
            free &= self.instance.owned
        gains = self.gains(weight_left)
        usable = np.array(list(bits(free)), dtype=np.intp)
        if not len(usable):
            return
        usable = usable[np.argsort(-gains[usable], kind="stable")]
        if got + gains[usable[:size]].sum() < self.target:
            return
        if open_rows:
            pivot = self.rows.pivot(open_rows, free)
            order = [int(colour) for colour in usable if pivot >> int(colour) & 1]
        else:
            order = usable.tolist()
        for index, colour in enumerate(order):
            if not open_rows and got + gains[usable[index : index + size]].sum() < self.target:
                return
            bit = 1 << colour
            free &= ~bit
            cost = 0 if self.instance.owned & bit else 1
            if cost > new:
                continue
            then = weight_left * (1 - self.meets[:, colour])
            gained = got + int(gains[colour])
            yield from self._dive(
                open_rows & ~self.covers[colour], free, size - 1, new - cost, chosen | bit, then, gained
            )

    def greedy(self) -> int:
        """A cover that reaches the target: by what covers most, then by what is right most; an upper bound."""
        chosen, open_rows, weight_left, got = self.instance.locked, self.open, self.weight_left, self.got
        while open_rows or got < self.target:
            gains = self.gains(weight_left)
            left = bits(self.free & ~chosen)
            best = max(left, key=lambda c: ((self.covers[c] & open_rows).bit_count(), gains[c], -c))
            chosen |= 1 << best
            open_rows &= ~self.covers[best]
            got += int(gains[best])
            weight_left = weight_left * (1 - self.meets[:, best])
        for colour in bits(chosen & ~self.instance.locked):
            without = chosen & ~(1 << colour)
            if all(need & without for need in self.needs) and self.instance.right(without) >= self.target:
                chosen = without
        return chosen


def fewest_right(instance: Instance, target: int, work: int = WORK, most: int | None = None) -> tuple[int, int, bool]:
    """The best set that answers all of a reduced instance and whose right days reach `target`.

    Fewest colours, fewest not owned, most right days, then its standing. Returns the set, the number of colours that
    none can go below, and whether all of it was proved. Where `most` is told, and it takes more colours than that, the
    set is only some set, and the number is at least one more.
    """
    search = RightSearch(instance, work)
    search.target = target
    locked = instance.locked.bit_count()
    best = search.greedy()
    gains = np.sort(search.gains(search.weight_left))[::-1]
    at_least = locked + search.rows.needs_at_least(search.open, instance.colours)
    while at_least < best.bit_count() and search.got + gains[: at_least - locked].sum() < target:
        at_least += 1
    try:
        for size in range(at_least - locked, best.bit_count() - locked):
            at_least = locked + size
            if most is not None and at_least > most:
                return best, at_least, True
            if (found := next(search.sets(size, size), None)) is not None:
                best = found
                break
        at_least = best.bit_count()
        if most is not None and at_least > most:
            return best, at_least, True
        size = at_least - locked
        new = instance.new(best & ~instance.locked)
        while new and (found := next(search.sets(size, new - 1), None)) is not None:
            best = found
            new = instance.new(best & ~instance.locked)
        key = (instance.right(best), instance.standing(best))
        search.target = key[0]
        for chosen in search.sets(size, new):
            if (standing := (instance.right(chosen), instance.standing(chosen))) > key:
                best, key = chosen, standing
                search.target = key[0]
    except OutOfWork:
        return best, at_least, False
    return best, at_least, True


@dataclass(frozen=True, slots=True)
class MostRight:
    """The most right days of a cover, None where none was found; whether that was proved, and the work it took."""

    right: int | None
    proved: bool
    work: int


def best_right(instance: Instance, size: int, work: int = WORK) -> MostRight:
    """The most right days of a cover with at most `size` colours."""
    search = RightSearch(instance, work)
    found: int | None = None
    more = size - instance.locked.bit_count()
    try:
        for chosen in search.sets(more, more):
            found = instance.right(chosen)
            search.target = found + 1
    except OutOfWork:
        return MostRight(found, False, work)
    return MostRight(found, True, work - search.left)
