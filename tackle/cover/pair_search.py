"""The search for the fewest jigs and trailers: every small set of jigs, and the trailers for it exactly."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from tackle.cover.curve import best_of_size, most_days
from tackle.cover.instance import Instance, bits, by_needs, reduced, row_masks
from tackle.cover.search import smallest_cover

__all__ = ["PairProblem", "PairSet", "answered_by", "pair_order", "reduced_pairs", "solve_pairs"]

MOST_JIGS = 4  # of a box with more than four jig colours nobody needs the proof


@dataclass(frozen=True)
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
        by_school = self.suits[:, list(rows)][:, :, list(jigs)].max(axis=2)
        if self.agree_all:
            masks = [row_masks(suits > 0) for suits in by_school]
            spoken = self.speaks[:, list(rows)].T
            needs = [tuple(masks[school][at] for school in np.flatnonzero(said)) for at, said in enumerate(spoken)]
        else:
            needs = [(mask,) for mask in row_masks(by_school.max(axis=0) > 0)]
        if not all(each and all(each) for each in needs):
            return None
        return Instance(
            days=self.days[list(rows)],
            needs=tuple(needs),
            suits=by_school.max(axis=0),
            owned=self.owned_trailers,
            locked=self.locked_trailers,
        )

    @cached_property
    def _meets(self) -> NDArray[np.bool_]:
        """Whether a jig with any trailer suits a school in a situation; shape (schools, m, jigs)."""
        return np.asarray((self.suits > 0).any(axis=3), dtype=np.bool_)

    def coverable(self, jigs: Sequence[int]) -> list[int]:
        """The situations that some jigs can answer with all trailers there are."""
        met = self._meets[:, :, list(jigs)].any(axis=2)
        able = (met | ~self.speaks).all(axis=0) & self.speaks.any(axis=0) if self.agree_all else met.any(axis=0)
        rows: list[int] = np.flatnonzero(able & (self.days > 0)).tolist()
        return rows

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
    curve = [(size, _most(problem, size)) for size in range(max(2, least), pieces)]
    curve.append((pieces, int(problem.days[everything].sum())))
    if at_most is None or at_most >= pieces:
        return full, curve
    most = dict(curve).get(at_most, 0)
    return (_best_of(problem, at_most, most) if most else nothing), curve


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


def _most(problem: PairProblem, size: int) -> int:
    """The most days that so many pieces can answer."""
    most = 0
    for days, jigs, rows in _promising(problem, size):
        if days <= most:
            break
        instance = problem.trailers_for(jigs, rows)
        room = size - len(jigs)
        if instance is not None and room >= max(1, problem.locked_trailers.bit_count()):
            small = by_needs(reduced(instance)[0])
            most = max(most, most_days(small, min(room, small.colours), most))
    return most


def _best_of(problem: PairProblem, size: int, most: int) -> PairSet:
    """The best set of at most so many pieces that answers `most` days, which is the most there is."""
    best: PairSet | None = None
    for days, jigs, rows in _promising(problem, size):
        if days < most:
            break
        instance = problem.trailers_for(jigs, rows)
        room = size - len(jigs)
        if instance is None or room < max(1, problem.locked_trailers.bit_count()):
            continue
        small, kept = reduced(instance)
        sizes = range(max(1, small.locked.bit_count()), min(room, small.colours) + 1)
        least = next((n for n in sizes if most_days(by_needs(small), n, most - 1) == most), None)
        if least is None:
            continue
        chosen, proved = best_of_size(small, least)
        trailers = sum(1 << kept[place] for place in bits(chosen))
        candidate = _candidate(problem, instance, jigs, trailers, proved)
        if best is None or candidate.key < best.key:
            best = candidate
    assert best is not None  # some set answers that many
    return best


def _promising(problem: PairProblem, size: int) -> list[tuple[int, tuple[int, ...], list[int]]]:
    """Sets of jigs that leave room for a trailer, with the days and situations they could answer, most days first."""
    most = min(size - 1, MOST_JIGS + problem.locked_jigs.bit_count(), problem.suits.shape[2])
    found = [
        (int(problem.days[rows].sum()), jigs, rows)
        for jigs in problem.jig_sets(most)
        if (rows := problem.coverable(jigs))
    ]
    return sorted(found, key=lambda entry: (-entry[0], entry[1]))


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
