"""The search for the fewest jigs and trailers: every small set of jigs, and the trailers for it exactly."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from tackle.cover.curve import best_of_size, most_days
from tackle.cover.instance import Instance, bits, reduced
from tackle.cover.search import smallest_cover

__all__ = ["PairProblem", "PairSet", "answered_by", "pair_order", "reduced_pairs", "solve_pairs"]

MOST_JIGS = 4  # of a box with more than four jig colours nobody needs the proof


@dataclass(frozen=True, slots=True)
class PairProblem:
    """`suits`: (schools, m, jigs, trailers) in hundredths; `speaks`: (schools, m); `days`: (m,) millionths."""

    suits: NDArray[np.int64]
    speaks: NDArray[np.bool_]
    days: NDArray[np.int64]
    agree_all: bool
    owned_jigs: int
    owned_trailers: int
    locked_jigs: int
    locked_trailers: int

    def trailers_for(self, jigs: Sequence[int], rows: Sequence[int]) -> Instance | None:
        """The covering problem of the trailers once some jigs are chosen, over some situations; None: not coverable."""
        by_school = self.suits[:, :, list(jigs), :].max(axis=2)
        needs = []
        for row in rows:
            schools = [s for s in range(len(by_school)) if self.speaks[s, row]] if self.agree_all else None
            groups = by_school[schools, row] if schools is not None else by_school[:, row].max(axis=0)[None, :]
            masks = tuple(sum(1 << int(t) for t in np.flatnonzero(group)) for group in groups)
            if not masks or not all(masks):
                return None
            needs.append(masks)
        return Instance(
            days=self.days[list(rows)],
            needs=tuple(needs),
            suits=by_school.max(axis=0)[list(rows)],
            owned=self.owned_trailers,
            locked=self.locked_trailers,
        )

    def coverable(self, jigs: Sequence[int]) -> list[int]:
        """The situations that some jigs can answer with all trailers there are."""
        met = self.suits[:, :, list(jigs), :].max(axis=(2, 3)) > 0
        able = (met | ~self.speaks).all(axis=0) & self.speaks.any(axis=0) if self.agree_all else met.any(axis=0)
        return [int(row) for row in np.flatnonzero(able & (self.days > 0))]

    def jig_sets(self, most: int) -> Iterator[tuple[int, ...]]:
        """Sets of jigs with the locked ones among them, smallest first."""
        locked = tuple(bits(self.locked_jigs))
        free = [jig for jig in range(self.suits.shape[2]) if not self.locked_jigs >> jig & 1]
        for extra in range(max(0, 1 - len(locked)), most - len(locked) + 1):
            for picked in combinations(free, extra):
                yield tuple(sorted((*locked, *picked)))


@dataclass(frozen=True, slots=True)
class PairSet:
    jigs: tuple[int, ...]
    trailers: int
    key: tuple[int, int, int, tuple[int, ...]]
    proved: bool


def solve_pairs(
    problem: PairProblem, everything: list[int], at_most: int | None
) -> tuple[PairSet, list[tuple[int, int]]]:
    """The best set, and the most days that each number of pieces can answer."""
    nothing = PairSet(tuple(bits(problem.locked_jigs)), problem.locked_trailers, (0, 0, 0, ()), True)
    if not everything:
        return nothing, []
    full = _smallest(problem, everything)
    pieces = len(full.jigs) + full.trailers.bit_count()
    least = problem.locked_jigs.bit_count() + problem.locked_trailers.bit_count()
    curve = [(size, _most(problem, size)[0]) for size in range(max(2, least), pieces)]
    curve.append((pieces, int(problem.days[everything].sum())))
    if at_most is None or at_most >= pieces:
        return full, curve
    if at_most < max(2, least):
        return nothing, curve
    return _most(problem, at_most)[1], curve


def _smallest(problem: PairProblem, everything: list[int]) -> PairSet:
    """The fewest pieces that answer everything that can be answered; then new, value, places."""
    best: PairSet | None = None
    most = min(MOST_JIGS + problem.locked_jigs.bit_count(), problem.suits.shape[2])
    for jigs in problem.jig_sets(most):
        if best is not None and len(jigs) + 1 > best.key[0]:
            break
        if len(problem.coverable(jigs)) < len(everything):
            continue
        instance = problem.trailers_for(jigs, everything)
        if instance is None:
            continue
        small, kept = reduced(instance)
        found = smallest_cover(small)
        trailers = sum(1 << kept[place] for place in bits(found.chosen))
        candidate = _candidate(problem, instance, jigs, trailers, found.proved)
        if best is None or candidate.key < best.key:
            best = candidate
    if best is None:  # more jigs are needed than are proved: all of them, and the trailers for them
        jigs = tuple(range(problem.suits.shape[2]))
        instance = problem.trailers_for(jigs, everything)
        assert instance is not None  # everything is what all jigs can answer
        return _candidate(problem, instance, jigs, smallest_cover(instance).chosen, False)
    return best


def _most(problem: PairProblem, size: int) -> tuple[int, PairSet]:
    """The most days that some pieces can answer, and the best such set."""
    best: tuple[int, PairSet] | None = None
    for jigs in problem.jig_sets(min(size - 1, MOST_JIGS + problem.locked_jigs.bit_count(), problem.suits.shape[2])):
        rows = problem.coverable(jigs)
        if best is not None and int(problem.days[rows].sum()) < best[0]:
            continue
        instance = problem.trailers_for(jigs, rows) if rows else None
        room = size - len(jigs)
        if instance is None or room < max(1, problem.locked_trailers.bit_count()):
            continue
        small, kept = reduced(instance)
        days = most_days(small, min(room, small.colours))
        if best is not None and days < best[0]:
            continue
        least = next(n for n in range(room + 1) if n >= small.locked.bit_count() and most_days(small, n) == days)
        chosen, proved = best_of_size(small, least)
        trailers = sum(1 << kept[place] for place in bits(chosen))
        candidate = _candidate(problem, instance, jigs, trailers, proved)
        if best is None or (-days, candidate.key) < (-best[0], best[1].key):
            best = days, candidate
    empty = PairSet(tuple(bits(problem.locked_jigs)), problem.locked_trailers, (0, 0, 0, ()), True)
    return best or (0, empty)


def _candidate(problem: PairProblem, instance: Instance, jigs: tuple[int, ...], trailers: int, proved: bool) -> PairSet:
    new = sum(not problem.owned_jigs >> jig & 1 for jig in jigs) + instance.new(trailers)
    places = (*jigs, *(problem.suits.shape[2] + place for place in bits(trailers)))
    return PairSet(jigs, trailers, (len(places), new, -instance.value(trailers), places), proved)


def reduced_pairs(problem: PairProblem) -> tuple[PairProblem, list[int], list[int]]:
    """The same problem with its repetitions merged, and for each jig and trailer left its place in the original.

    As for a single category: a piece goes where an earlier one suits at least as well with every partner, and is owned
    if it is; the locked ones stay.
    """
    jigs = _undominated(np.moveaxis(problem.suits, 2, 0), problem.owned_jigs, problem.locked_jigs)
    trailers = _undominated(np.moveaxis(problem.suits, 3, 0), problem.owned_trailers, problem.locked_trailers)
    suits = problem.suits[:, :, jigs][:, :, :, trailers]
    whole = np.concatenate([suits.transpose(1, 0, 2, 3).reshape(suits.shape[1], -1), problem.speaks.T], axis=1)
    _, first, back = np.unique(whole, axis=0, return_index=True, return_inverse=True)
    days = np.zeros(len(first), dtype=np.int64)
    np.add.at(days, back.ravel(), problem.days)
    small = PairProblem(
        suits=suits[:, first],
        speaks=problem.speaks[:, first],
        days=days,
        agree_all=problem.agree_all,
        owned_jigs=_taken(problem.owned_jigs, jigs),
        owned_trailers=_taken(problem.owned_trailers, trailers),
        locked_jigs=_taken(problem.locked_jigs, jigs),
        locked_trailers=_taken(problem.locked_trailers, trailers),
    )
    return small, jigs, trailers


def _undominated(suits: NDArray[np.int64], owned: int, locked: int) -> list[int]:
    """Which pieces of the first axis no earlier one stands in for."""
    kept: list[int] = []
    for place, mine in enumerate(suits):
        stand_in = any(
            owned >> other & 1 >= owned >> place & 1 and bool((suits[other] >= mine).all()) for other in kept
        )
        if locked >> place & 1 or (mine.any() and not stand_in):
            kept.append(place)
    return kept


def _taken(mask: int, places: Sequence[int]) -> int:
    return sum(1 << new for new, old in enumerate(places) if mask >> old & 1)


def answered_by(problem: PairProblem, jigs: Sequence[int], trailers: Sequence[int]) -> NDArray[np.bool_]:
    """For each situation, whether some jigs and trailers answer it."""
    if not jigs or not trailers:
        return np.zeros(len(problem.days), dtype=np.bool_)
    met = problem.suits[:, :, list(jigs)][:, :, :, list(trailers)].max(axis=(2, 3)) > 0
    if problem.agree_all:
        return np.asarray((met | ~problem.speaks).all(axis=0) & problem.speaks.any(axis=0), dtype=np.bool_)
    return np.asarray(met.any(axis=0), dtype=np.bool_)


def pair_order(
    problem: PairProblem, jigs: Sequence[int], trailers: Sequence[int], owned_first: bool = False
) -> list[tuple[tuple[int, int], int]]:
    """The pieces, (0, jig) or (1, trailer), in the order to buy them: always the piece, or the pair, that adds most.

    With `owned_first` only those that are not owned, added to those that are.
    """

    def reach(pieces: Sequence[tuple[int, int]]) -> int:
        done = answered_by(problem, [j for kind, j in pieces if not kind], [t for kind, t in pieces if kind])
        return int(problem.days[done].sum())

    left = [*((0, j) for j in jigs), *((1, t) for t in trailers)]
    bought: list[tuple[int, int]] = []
    if owned_first:
        owned = (problem.owned_jigs, problem.owned_trailers)
        bought = [(kind, place) for kind, place in left if owned[kind] >> place & 1]
        left = [piece for piece in left if piece not in bought]
    order = []
    while left:
        now = reach(bought)
        step = [max(left, key=lambda piece: reach([*bought, piece]))]
        if reach([*bought, *step]) == now and len(left) > 1:
            both = [(one, other) for one in left for other in left if one < other]
            step = list(max(both, key=lambda pair: reach([*bought, *pair])))
        for piece in step:
            bought.append(piece)
            left.remove(piece)
            order.append((piece, reach(bought) - now))
            now = reach(bought)
    return order
