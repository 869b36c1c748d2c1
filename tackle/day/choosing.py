"""What goes into a tray of so many pieces: most category-hours answered, then right, then the fewest colours.

A category's hours hang on its own colours alone, and a jig's on its trailers beside, so that for each set of trailers
the best of each size is found for each category by itself, and the room is shared out among them: what is compared
(hours answered, hours right, colours, suitability, order) adds up over categories, term by term.
"""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import combinations
from math import comb
from typing import Final

import numpy as np

from tackle.cover.curve import best_of_size
from tackle.cover.instance import Instance, bits, reduced
from tackle.cover.pairs import Pairs
from tackle.cover.problem import Colours
from tackle.cover.solution import Solution, solve

__all__ = ["Part", "choose"]

# Of sets of trailers: so many are put in order by what they could do, and so many of these solved; past that nothing is
# called proved.
_MOST_SETS: Final = 20_000
_MOST_SOLVED: Final = 150

Part = Colours | Pairs

# Hours answered, right, colours (fewer is better, so below 0), suitability, order: the greater is the better.
_Worth = tuple[int, int, int, int, tuple[int, ...]]
_NOTHING: Final[_Worth] = (0, 0, 0, 0, ())


@dataclass(frozen=True, slots=True)
class _Best:
    chosen: int
    worth: _Worth


def choose(parts: Sequence[Part], room: int) -> tuple[list[int], int, bool]:
    """For each part the pieces of it that go in, as a bit set of its own; the trailers among them, by their places; and
    whether all of that was proved."""
    pairs = [part for part in parts if isinstance(part, Pairs)]
    search = _Search(parts)
    if not pairs:
        best = search.filled(0, room)
        return best.chosen, 0, search.proved
    able, every = _worth_having(pairs), (1 << len(pairs[0].trailers)) - 1
    locked = pairs[0].problem.locked_trailers
    free = [place for place in able if not locked >> place & 1]
    found: tuple[_Worth, _Filled, int] | None = None
    solved, least, could = 0, locked.bit_count(), _Could(pairs)
    for size in range(least, max(min(room, least + len(free)), least) + 1):
        bound = search.filled(every, room - size).worth
        if found and (bound[0], bound[1], bound[2] - size) < found[0][:3]:
            break
        if comb(len(free), size - least) > _MOST_SETS:
            search.proved = False
            break
        sets = (locked | sum(1 << place for place in more) for more in combinations(free, size - least))
        # What could do most first, so that the rest need not be looked at.
        for most, back in sorted(((could.do(one), -one) for one in sets), reverse=True):
            trailers = -back
            answered, right = most[0] + search.plain[0], most[1] + search.plain[1]
            if found and (answered, right) < found[0][:2]:
                break
            if solved >= _MOST_SOLVED:
                search.proved = False
                break
            solved += 1
            filled = search.filled(trailers, room - size)
            worth = _with_trailers(filled.worth, trailers, search.pieces)
            if found is None or worth > found[0]:
                found = worth, filled, trailers
    assert found is not None
    chosen = [
        mask | (found[2] << len(part.jigs) if isinstance(part, Pairs) else 0)
        for part, mask in zip(parts, found[1].chosen, strict=True)
    ]
    return chosen, found[2], search.proved


def _with_trailers(worth: _Worth, trailers: int, before: int) -> _Worth:
    answered, right, colours, value, order = worth
    places = (*order, *(-before - place for place in bits(trailers)))
    return answered, right, colours - trailers.bit_count(), value, places


class _Could:
    """The most that jigs could do with some trailers, had one all of them."""

    def __init__(self, pairs: Sequence[Pairs]) -> None:
        self._days: dict[int, int] = {}
        self._weights: dict[int, int] = {}
        for part in pairs:
            for mask, days in part.answering():
                self._days[mask] = self._days.get(mask, 0) + days
            for mask, weight in part.reached_for():
                self._weights[mask] = self._weights.get(mask, 0) + weight

    def do(self, trailers: int) -> tuple[int, int]:
        """Hours answered, and right, in the units of the parts."""
        return (
            sum(days for mask, days in self._days.items() if mask & trailers),
            sum(weight for mask, weight in self._weights.items() if mask < 0 or mask & trailers),
        )


@dataclass(frozen=True, slots=True)
class _Filled:
    chosen: list[int]
    worth: _Worth


class _Search:
    """The best colours of each part, for whatever trailers there are."""

    def __init__(self, parts: Sequence[Part]) -> None:
        self.parts, self.proved = parts, True
        self.pieces = sum(map(_own, parts))
        alone = [part.instance for part in parts if isinstance(part, Colours)]
        self.plain = sum(int(one.days.sum()) for one in alone), sum(sum(one.weights) for one in alone)
        self._instances: dict[tuple[int, int], Instance] = {}
        self._same: dict[Hashable, Instance] = {}
        self._whole: dict[int, Solution] = {}  # by the identity of an instance, which is held above
        self._tables: dict[int, list[_Best | None]] = {}

    def filled(self, trailers: int, room: int) -> _Filled:
        """The best of all parts together in a room."""
        keys = [(index, trailers if isinstance(part, Pairs) else 0) for index, part in enumerate(self.parts)]
        whole = [self._solved(key) for key in keys]
        room = max(room, sum(self._instance(key).locked.bit_count() for key in keys))  # what is locked has its room
        if sum(one.chosen.bit_count() for one in whole) <= room:
            worth, before = _NOTHING, 0
            for key, part, one in zip(keys, self.parts, whole, strict=True):
                worth, before = _added(worth, _worth(self._instance(key), one.chosen), before), before + _own(part)
            return _Filled([one.chosen for one in whole], worth)
        # The best of the parts so far, by how many pieces they take together.
        best: dict[int, tuple[_Worth, list[int]]] = {0: (_NOTHING, [])}
        before = 0
        for key, part, one in zip(keys, self.parts, whole, strict=True):
            then: dict[int, tuple[_Worth, list[int]]] = {}
            table = self._table(key, one.chosen.bit_count())
            for taken, (worth, picked) in best.items():
                for size, entry in enumerate(table):
                    if entry is None:
                        continue
                    if taken + size > room:
                        break
                    total = _added(worth, entry.worth, before)
                    if taken + size not in then or total > then[taken + size][0]:
                        then[taken + size] = (total, [*picked, entry.chosen])
            best, before = then, before + _own(part)
        worth, chosen = max(best.values(), key=lambda entry: entry[0])
        return _Filled(chosen, worth)

    def _instance(self, key: tuple[int, int]) -> Instance:
        """The problem of a part; one object for all sets of trailers that come to the same."""
        if key not in self._instances:
            part = self.parts[key[0]]
            made = part.given(key[1]) if isinstance(part, Pairs) else part.instance
            content = key[0], made.needs, made.firsts, made.weights, made.suits.tobytes(), made.days.tobytes()
            self._instances[key] = self._same.setdefault(content, made)
        return self._instances[key]

    def _solved(self, key: tuple[int, int]) -> Solution:
        instance = self._instance(key)
        if id(instance) not in self._whole:
            self._whole[id(instance)] = solve(instance, None, Fraction(1))
            self.proved &= self._whole[id(instance)].proved
        return self._whole[id(instance)]

    def _table(self, key: tuple[int, int], most: int) -> list[_Best | None]:
        """For each size from none on, the best colours of a part; None where what is locked is more."""
        instance = self._instance(key)
        if id(instance) not in self._tables:
            small, kept = reduced(instance)
            locked = instance.locked.bit_count()
            table: list[_Best | None] = [None] * locked if locked else [_Best(0, _NOTHING)]
            for size in range(max(locked, 1), most + 1):
                picked, sure = best_of_size(small, size)
                self.proved &= sure
                chosen = sum(1 << kept[place] for place in bits(picked))
                table.append(_Best(chosen, _worth(instance, chosen)))
            self._tables[id(instance)] = table
        return self._tables[id(instance)]


def _own(part: Part) -> int:
    """How many pieces there are of a part, but for trailers."""
    return len(part.jigs) if isinstance(part, Pairs) else len(part.pieces)


def _worth(instance: Instance, chosen: int) -> _Worth:
    days = int(instance.days[np.array(instance.answered(chosen), dtype=np.bool_)].sum())
    order = tuple(-place for place in bits(chosen))
    return days, instance.right(chosen), -chosen.bit_count(), instance.value(chosen), order


def _added(one: _Worth, other: _Worth, before: int) -> _Worth:
    order = (*one[4], *(place - before for place in other[4]))
    return one[0] + other[0], one[1] + other[1], one[2] + other[2], one[3] + other[3], order


def _worth_having(pairs: Sequence[Pairs]) -> list[int]:
    """The trailers that no earlier one stands in for, on any jig and any day."""
    kept: list[int] = []
    for index in range(len(pairs[0].trailers)):
        does = any(part.does(index) for part in pairs)
        if does and not any(all(part.covers_all(other, index) for part in pairs) for other in kept):
            kept.append(index)
    return kept
