"""The search for the fewest jigs and trailers, exactly.

A need is met by a jig and a trailer together. For a set of jigs, the trailers that go with it are an ordinary problem
of one category, and solved as one. The sets of jigs worth trying are those that could do with all trailers there are:
that is an ordinary problem too, whose solutions are listed, fewest jigs first, until no set with more jigs and at
least one trailer could have fewer pieces. Right days of pairs are not submodular (half a pair adds nothing), those of
jigs with all trailers are: so the bounds of `right_search` hold where they are used.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import combinations
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.cover.curve import Most, most_of_size
from tackle.cover.instance import Instance, bits, reduced, row_masks
from tackle.cover.right_search import OutOfWork, RightSearch, best_right, fewest_right
from tackle.cover.solution import solve

__all__ = [
    "PairProblem",
    "PairSet",
    "answered_by",
    "compute_pair_curve",
    "reduced_pairs",
    "right_by",
    "solve_pairs",
]

MOST_SETS: Final = 1_500  # sets of jigs tried for one size of the curve: past that it claims no proof

Need = tuple[int, ...]  # for each jig the trailers that meet it together with that jig, as a bit set


@dataclass(frozen=True)
class PairProblem:
    """`suits`: (schools, m, jigs, trailers) in hundredths; `worth`: (m, jigs, trailers), what a pair is worth on a day
    of a kind, 0 where no school accepts it; `speaks`: (schools, m); `days`: (m,) millionths.

    `firsts`: for each group of a school's first choices a Need, in which the bit after the last trailer stands for any
    trailer at all; `weights`: what meeting it adds to the right days.
    """

    suits: NDArray[np.int8]
    worth: NDArray[np.int64]
    speaks: NDArray[np.bool_]
    days: NDArray[np.int64]
    agree_all: bool
    owned_jigs: int
    owned_trailers: int
    locked_jigs: int
    locked_trailers: int
    firsts: tuple[Need, ...] = ()
    weights: tuple[int, ...] = ()

    @property
    def jigs(self) -> int:
        return int(self.suits.shape[2])

    @property
    def trailers(self) -> int:
        return int(self.suits.shape[3])

    def needs(self) -> list[tuple[Need, ...]]:
        """For each situation its needs: one, or one for each school that speaks where all must agree; none at all
        where it cannot be answered."""
        meets = self.suits > 0
        found: list[tuple[Need, ...]] = []
        for row in range(len(self.days)):
            if self.agree_all:
                tables = [meets[school, row] for school in np.flatnonzero(self.speaks[:, row])]
            else:
                tables = [meets[:, row].any(axis=0)]
            able = bool(tables) and self.days[row] > 0 and all(table.any() for table in tables)
            found.append(tuple(tuple(row_masks(table)) for table in tables) if able else ())
        return found


@dataclass(frozen=True, slots=True)
class PairSet:
    """Jigs and trailers as bit sets, the number of pieces that none can go below, and whether it was all proved."""

    jigs: int
    trailers: int
    at_least: int
    proved: bool


class _Pairs:
    """A problem with its needs read, for jigs alone, and for the trailers that go with some jigs."""

    def __init__(self, problem: PairProblem) -> None:
        self.problem = problem
        self.needs = problem.needs()
        self.rows = [row for row, needs in enumerate(self.needs) if needs]
        self.most_right = sum(problem.weights)

    def jig_level(self) -> Instance:
        """What jigs could do with all trailers there are. Every set of pieces that does it has jigs that do this."""
        needs = tuple(tuple(_which(need) for need in self.needs[row]) for row in self.rows)
        firsts: dict[int, int] = {}
        for first, weight in zip(self.problem.firsts, self.problem.weights, strict=True):
            mask = _which(first)
            firsts[mask] = firsts.get(mask, 0) + weight
        return Instance(
            days=self.problem.days[self.rows],
            needs=needs,
            suits=np.zeros((len(self.rows), self.problem.jigs), dtype=np.int64),
            owned=self.problem.owned_jigs,
            locked=self.problem.locked_jigs,
            firsts=tuple(firsts),
            weights=tuple(firsts.values()),
        )

    def trailer_level(self, jigs: int) -> tuple[Instance, int]:
        """The problem of the trailers that go with some jigs, and the right days that the jigs have by themselves.

        Situations that these jigs cannot answer are left out.
        """
        picked, problem = list(bits(jigs)), self.problem
        any_trailer = 1 << problem.trailers
        rows, needs = [], []
        for row in self.rows:
            met = tuple(_together(need, picked) for need in self.needs[row])
            if all(met):
                rows.append(row)
                needs.append(met)
        alone = 0
        firsts: dict[int, int] = {}
        for first, weight in zip(problem.firsts, problem.weights, strict=True):
            mask = _together(first, picked)
            if mask & any_trailer:
                alone += weight
            elif mask:
                firsts[mask] = firsts.get(mask, 0) + weight
        suits = self.problem.worth[rows][:, picked].max(axis=1) if rows else np.zeros((0, problem.trailers))
        instance = Instance(
            days=problem.days[rows],
            needs=tuple(needs),
            suits=suits.astype(np.int64),
            owned=problem.owned_trailers,
            locked=problem.locked_trailers,
            firsts=tuple(firsts),
            weights=tuple(firsts.values()),
        )
        return instance, alone

    def key(self, jigs: int, trailers: int, alone: int, instance: Instance) -> tuple[int, int, int, tuple[int, ...]]:
        """How good a set is among those of its size; less is better."""
        new = (jigs & ~self.problem.owned_jigs).bit_count() + instance.new(trailers)
        right = alone + instance.right(trailers)
        places = (*bits(jigs), *(self.problem.jigs + place for place in bits(trailers)))
        return new, -right, -instance.value(trailers), places


def _which(need: Need) -> int:
    """The jigs that can meet a need with some trailer."""
    return sum(1 << jig for jig, trailers in enumerate(need) if trailers)


def _together(need: Need, picked: Sequence[int]) -> int:
    found = 0
    for jig in picked:
        found |= need[jig]
    return found


def solve_pairs(problem: PairProblem, at_most: int | None, share: Fraction) -> PairSet:
    """The best set: as for a single category, counted in pieces."""
    pairs = _Pairs(problem if share else replace(problem, firsts=(), weights=()))
    if not pairs.rows and not (share and problem.firsts):
        least = (problem.locked_jigs.bit_count()) + problem.locked_trailers.bit_count()
        return PairSet(problem.locked_jigs, problem.locked_trailers, least, True)
    target = -(-pairs.most_right * share.numerator // share.denominator)
    best = _fewest(pairs, target)
    if at_most is not None and at_most < best.jigs.bit_count() + best.trailers.bit_count():
        return _within(pairs, at_most, bool(share))
    return best


def _fewest(pairs: _Pairs, target: int) -> PairSet:
    """The fewest pieces that answer everything that can be, and whose right days reach a target."""
    problem = pairs.problem
    level = pairs.jig_level()
    search = RightSearch(level)
    search.target = target
    locked = problem.locked_jigs.bit_count()
    least_trailers = max(1, problem.locked_trailers.bit_count())
    found: PairSet | None = None
    key: tuple[int, int, int, tuple[int, ...]] | None = None
    pieces, proved, at_least = problem.jigs + problem.trailers + 1, True, locked + least_trailers
    try:
        for size in range(max(1, locked), problem.jigs + 1):
            if size + least_trailers > pieces:
                break
            if found is None:
                at_least = size + least_trailers
            for jigs in search.sets(size - locked, size - locked):
                if jigs.bit_count() != size or size + least_trailers > pieces:
                    continue
                instance, alone = pairs.trailer_level(jigs)
                small, kept = reduced(instance)
                trailers, _, sure = fewest_right(small, max(target - alone, 0), most=pieces - size)
                total = size + max(trailers.bit_count(), least_trailers)
                if total > pieces:
                    continue
                proved &= sure
                whole = sum(1 << kept[place] for place in bits(trailers))
                if not whole:  # nothing hangs on the trailer: any will do, an owned one first
                    whole = _any_trailer(problem)
                standing = pairs.key(jigs, whole, alone, instance)
                if total < pieces or key is None or standing < key:
                    pieces, key = total, standing
                    found = PairSet(jigs, whole, total, True)
    except OutOfWork:
        proved = False
    if found is None:  # out of work before any was found: all jigs, and the trailers for them
        jigs = (1 << problem.jigs) - 1
        instance, alone = pairs.trailer_level(jigs)
        chosen = fewest_right(instance, max(target - alone, 0))[0]
        return PairSet(jigs, chosen or _any_trailer(problem), at_least, False)
    return replace(found, proved=proved, at_least=pieces if proved else at_least)


def _any_trailer(problem: PairProblem) -> int:
    owned = problem.owned_trailers
    return owned & -owned if owned else 1 if problem.trailers else 0


def _jig_sets(pairs: _Pairs, size: int) -> tuple[Iterator[int], bool]:
    """The sets of at most so many jigs, and whether these are all: of too many the smaller ones."""
    problem = pairs.problem
    free = [jig for jig in range(problem.jigs) if not problem.locked_jigs >> jig & 1]
    locked = problem.locked_jigs.bit_count()
    most = size - locked
    while most > 0 and sum(math.comb(len(free), extra) for extra in range(most + 1)) > MOST_SETS:
        most -= 1

    def listed() -> Iterator[int]:
        for extra in range(max(0, 1 - locked), most + 1):
            for picked in combinations(free, extra):
                yield problem.locked_jigs | sum(1 << jig for jig in picked)

    return listed(), most >= min(size - locked, len(free))


def _promising(pairs: _Pairs, size: int) -> tuple[list[tuple[tuple[int, int], int]], bool]:
    """Sets of jigs that leave room for a trailer, with the most that they could do, the best first; and whether all."""
    level = pairs.jig_level()
    sets, whole = _jig_sets(pairs, size - max(1, pairs.problem.locked_trailers.bit_count()))
    found = []
    for jigs in sets:
        done = np.array(level.answered(jigs), dtype=np.bool_)
        found.append(((int(level.days[done].sum()), level.right(jigs)), jigs))
    return sorted(found, key=lambda entry: (entry[0], -entry[1]), reverse=True), whole


def _within(pairs: _Pairs, at_most: int, asks_right: bool) -> PairSet:
    """The best set of at most so many pieces: most days, most right days where they are asked for, fewest pieces."""
    best: PairSet | None = None
    most: tuple[int, int] = (0, 0)
    key: tuple[int, tuple[int, int, int, tuple[int, ...]]] | None = None
    promising, proved = _promising(pairs, at_most)
    for could, jigs in promising:
        if could[0] < most[0] or (could[0] == most[0] and asks_right and could[1] < most[1]):
            continue
        instance, alone = pairs.trailer_level(jigs)
        if not asks_right:
            instance = replace(instance, firsts=(), weights=())
        room = at_most - jigs.bit_count()
        found = solve(instance, room, Fraction(1) if asks_right else Fraction(0))
        trailers = found.chosen or _any_trailer(pairs.problem)
        done = np.array(instance.answered(trailers), dtype=np.bool_)
        reached = (int(instance.days[done].sum()), alone + instance.right(trailers) if asks_right else 0)
        proved &= found.proved
        standing = (jigs.bit_count() + trailers.bit_count(), pairs.key(jigs, trailers, alone, instance))
        if (
            reached > most
            or (reached == most and key is not None and standing < key)
            or (best is None and any(reached))
        ):
            most, key = reached, standing
            best = PairSet(jigs, trailers, standing[0], True)
    if best is None:
        locked = pairs.problem.locked_jigs, pairs.problem.locked_trailers
        return PairSet(*locked, locked[0].bit_count() + locked[1].bit_count(), proved)
    return replace(best, proved=proved)


def compute_pair_curve(problem: PairProblem, asks_right: bool) -> tuple[Most, ...]:
    """For each number of pieces the most that so many can do, each with its own proof."""
    pairs = _Pairs(problem if asks_right else replace(problem, firsts=(), weights=()))
    if not pairs.rows and not pairs.problem.firsts:
        return ()
    everything = (int(problem.days[pairs.rows].sum()), pairs.most_right)
    least = max(1, problem.locked_jigs.bit_count()) + max(1, problem.locked_trailers.bit_count())
    points: list[Most] = []
    for size in range(least, problem.jigs + problem.trailers + 1):
        points.append(_most(pairs, size, points[-1] if points else None))
        if (points[-1].days, points[-1].right) == everything:
            break
    return tuple(points)


def _most(pairs: _Pairs, size: int, before: Most | None) -> Most:
    promising, proved = _promising(pairs, size)
    best = (before.days, before.right) if before else (0, 0)
    for could, jigs in promising:
        if could <= best:
            break
        instance, alone = pairs.trailer_level(jigs)
        small = reduced(instance)[0]
        room = size - jigs.bit_count()
        covering = best_right(small, room) if small.firsts else None
        if covering and covering.right is not None:
            here = (int(small.days.sum()), alone + covering.right)
            proved &= covering.proved
        else:
            most = most_of_size(small, min(room, small.colours))
            here = (most.days, alone + most.right)
            proved &= most.proved
        best = max(best, here)
    return Most(size, *best, proved)


def answered_by(problem: PairProblem, jigs: Sequence[int], trailers: Sequence[int]) -> NDArray[np.bool_]:
    """For each situation, whether some jigs and trailers answer it."""
    if not jigs or not trailers:
        return np.zeros(len(problem.days), dtype=np.bool_)
    met = problem.suits[:, :, list(jigs)][:, :, :, list(trailers)].max(axis=(2, 3)) > 0
    if problem.agree_all:
        return np.asarray((met | ~problem.speaks).all(axis=0) & problem.speaks.any(axis=0), dtype=np.bool_)
    return np.asarray(met.any(axis=0), dtype=np.bool_)


def right_by(problem: PairProblem, jigs: Sequence[int], trailers: Sequence[int]) -> int:
    """The right days of some jigs and trailers, in weights."""
    mask = sum(1 << trailer for trailer in trailers) | 1 << problem.trailers
    met = (any(first[jig] & mask for jig in jigs) for first in problem.firsts)
    return sum(weight for weight, hit in zip(problem.weights, met, strict=True) if hit)


def reduced_pairs(problem: PairProblem) -> tuple[PairProblem, list[int], list[int]]:
    """The same problem with its repetitions merged, and for each jig and trailer left its place in the original.

    As for a single category: a piece goes where an earlier one suits at least as well with every partner, is a first
    choice with all that it is, and is owned if it is; the locked ones stay.
    """
    by_jig = [tuple(first[jig] for first in problem.firsts) for jig in range(problem.jigs)]
    by_trailer = [
        tuple(
            sum(1 << jig for jig, trailers in enumerate(first) if trailers >> trailer & 1) for first in problem.firsts
        )
        for trailer in range(problem.trailers)
    ]
    suits, worth = problem.suits, problem.worth
    jigs = _undominated(
        np.moveaxis(suits, 2, 0), np.moveaxis(worth, 1, 0), by_jig, problem.owned_jigs, problem.locked_jigs
    )
    trailers = _undominated(
        np.moveaxis(suits, 3, 0), np.moveaxis(worth, 2, 0), by_trailer, problem.owned_trailers, problem.locked_trailers
    )
    suits, worth = suits[:, :, jigs][:, :, :, trailers], worth[:, jigs][:, :, trailers]
    count = suits.shape[1]
    accepted = (suits > 0).transpose(1, 0, 2, 3).reshape(count, math.prod(suits.shape) // max(count, 1))
    worthy = worth.reshape(count, math.prod(worth.shape) // max(count, 1))
    whole = np.concatenate([accepted, worthy, problem.speaks.T], axis=1)
    _, first, back = np.unique(whole, axis=0, return_index=True, return_inverse=True)
    days = np.zeros(len(first), dtype=np.int64)
    np.add.at(days, back.ravel(), problem.days)
    firsts: dict[Need, int] = {}
    for need, weight in zip(problem.firsts, problem.weights, strict=True):
        kept = tuple(_taken(need[jig], trailers) | (need[jig] >> problem.trailers & 1) << len(trailers) for jig in jigs)
        firsts[kept] = firsts.get(kept, 0) + weight
    small = PairProblem(
        suits=suits[:, first],
        worth=worth[first],
        speaks=problem.speaks[:, first],
        days=days,
        agree_all=problem.agree_all,
        owned_jigs=_taken(problem.owned_jigs, jigs),
        owned_trailers=_taken(problem.owned_trailers, trailers),
        locked_jigs=_taken(problem.locked_jigs, jigs),
        locked_trailers=_taken(problem.locked_trailers, trailers),
        firsts=tuple(firsts),
        weights=tuple(firsts.values()),
    )
    return small, jigs, trailers


def _undominated(
    suits: NDArray[np.int8], worth: NDArray[np.int64], firsts: Sequence[tuple[int, ...]], owned: int, locked: int
) -> list[int]:
    """Which pieces of the first axis no earlier one stands in for."""
    kept: list[int] = []
    accepts = suits > 0
    for index, mine in enumerate(accepts):
        stand_in = any(
            owned >> other & 1 >= owned >> index & 1
            and all(a & ~b == 0 for a, b in zip(firsts[index], firsts[other], strict=True))
            and bool((accepts[other] >= mine).all() and (worth[other] >= worth[index]).all())
            for other in kept
        )
        if locked >> index & 1 or ((mine.any() or any(firsts[index])) and not stand_in):
            kept.append(index)
    return kept


def _taken(mask: int, places: Sequence[int]) -> int:
    return sum(1 << new for new, old in enumerate(places) if mask >> old & 1)
