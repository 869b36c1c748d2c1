"""Jigs and the trailers threaded on them, planned together: the fewest pieces in all.

A situation is answered by a pair: a jig that a school accepts there, with a trailer that the same school accepts on
that jig. For every small set of jigs the trailers are an ordinary covering problem, solved exactly; the best over all
sets of jigs is the answer. A two-faced trailer is one piece that may show either of its faces.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.curve import best_of_size, most_days
from tackle.cover.instance import DAY, Instance, bits, reduced
from tackle.cover.opinions import mask_of, worth
from tackle.cover.planner import Request, Unanswered, check
from tackle.cover.search import smallest_cover
from tackle.errors import Refused
from tackle.schools.evaluation import evaluate
from tackle.schools.rulebook import Rulebook
from tackle.situations.columns import tabulate
from tackle.vocabulary import CATEGORIES, Group

__all__ = ["TRAILER", "Pair", "PairPlan", "Piece", "make_pair_plan"]

TRAILER = "jig-trailer"
MOST_JIGS = 4  # of a box with more than four jig colours nobody needs the proof


@dataclass(frozen=True, slots=True)
class Piece:
    """A jig or a trailer of the set: the days of the pairs it is in, and those that could not do without it."""

    card: Card
    days: float
    alone: float
    owned: bool


@dataclass(frozen=True, slots=True)
class Pair:
    """Which trailer on which jig answers one situation best."""

    index: int
    jig: Card
    trailer: Card


@dataclass(frozen=True, slots=True)
class PairPlan:
    """The answer, in pieces: jigs and trailers counted alike."""

    jigs: tuple[Piece, ...]
    trailers: tuple[Piece, ...]
    pairs: tuple[Pair, ...]
    unanswered: tuple[Unanswered, ...]
    expected_days: float
    answered_days: float
    curve: tuple[tuple[int, float], ...]
    proved: bool


@dataclass(frozen=True, slots=True)
class _Problem:
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


def make_pair_plan(request: Request, palette: Palette) -> PairPlan:
    """The exact plan for a jig category and its trailers. Raises Refused.

    `owned`, `lock` and `ban` name colours of either; a colour sold as both counts for both. A pair suits as well as the
    lesser of its halves; the order of what is best is that of a single category, in pieces.
    """
    if CATEGORIES[request.category].group is not Group.SKIRTED:
        skirted = [c.id for c in CATEGORIES.values() if c.group is Group.SKIRTED]
        raise Refused("with", f"{request.category} takes no trailer", skirted)
    check(request, palette, (request.category, TRAILER))
    jigs = [card for card in palette.sold_in(request.category) if card.id not in request.ban]
    trailers = [card for card in palette.sold_in(TRAILER) if card.id not in request.ban]
    problem = _read(request, palette, jigs, trailers)
    everything = problem.coverable(range(len(jigs))) if jigs and trailers else []
    best, curve = _solve(problem, everything, request.at_most)
    return _told(request, problem, jigs, trailers, best, curve)


@dataclass(frozen=True, slots=True)
class _Best:
    jigs: tuple[int, ...]
    trailers: int
    key: tuple[int, int, int, tuple[int, ...]]
    proved: bool


def _solve(problem: _Problem, everything: list[int], at_most: int | None) -> tuple[_Best, list[tuple[int, int]]]:
    """The best set, and the most days that each number of pieces can answer."""
    nothing = _Best(tuple(bits(problem.locked_jigs)), problem.locked_trailers, (0, 0, 0, ()), True)
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


def _smallest(problem: _Problem, everything: list[int]) -> _Best:
    """The fewest pieces that answer everything that can be answered; then new, value, places."""
    best: _Best | None = None
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


def _most(problem: _Problem, size: int) -> tuple[int, _Best]:
    """The most days that some pieces can answer, and the best such set."""
    best: tuple[int, _Best] | None = None
    for jigs in problem.jig_sets(min(size - 1, MOST_JIGS + problem.locked_jigs.bit_count(), problem.suits.shape[2])):
        rows = problem.coverable(jigs)
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
    empty = _Best(tuple(bits(problem.locked_jigs)), problem.locked_trailers, (0, 0, 0, ()), True)
    return best or (0, empty)


def _candidate(problem: _Problem, instance: Instance, jigs: tuple[int, ...], trailers: int, proved: bool) -> _Best:
    new = sum(not problem.owned_jigs >> jig & 1 for jig in jigs) + instance.new(trailers)
    places = (*jigs, *(problem.suits.shape[2] + place for place in bits(trailers)))
    return _Best(jigs, trailers, (len(places), new, -instance.value(trailers), places), proved)


def _read(request: Request, palette: Palette, jigs: Sequence[Card], trailers: Sequence[Card]) -> _Problem:
    situations = request.situations
    schools, m = len(request.books), len(situations)
    suits = np.zeros((schools, m, len(jigs), len(trailers)), dtype=np.int64)
    speaks = np.zeros((schools, m), dtype=np.bool_)
    for place, book in enumerate(request.books):
        decided = evaluate(book, request.category, jigs, tabulate(situations))
        speaks[place] = (decided >= 0).any(axis=0)
        jig_suits = _suits(request, book, decided)
        for tone in {card.tone for card in jigs}:
            on_it = tabulate([replace(s, category=TRAILER, with_tone=tone) for s in situations])
            trailer_suits = _suits(request, book, evaluate(book, TRAILER, trailers, on_it))
            faces = {t: palette.by_id[card.other_face] for t, card in enumerate(trailers) if card.other_face}
            for t, face in faces.items():
                turned = _suits(request, book, evaluate(book, TRAILER, (face,), on_it))
                trailer_suits[:, t] = np.maximum(trailer_suits[:, t], turned[:, 0])
            for j, card in enumerate(jigs):
                if card.tone is tone:
                    suits[place, :, j, :] = np.minimum(jig_suits[:, j, None], trailer_suits)
    return _Problem(
        suits=suits,
        speaks=speaks,
        days=np.array([round(days * DAY) for days in request.days], dtype=np.int64),
        agree_all=request.agree_all,
        owned_jigs=mask_of(jigs, request.owned),
        owned_trailers=mask_of(trailers, request.owned),
        locked_jigs=mask_of(jigs, request.lock),
        locked_trailers=mask_of(trailers, request.lock),
    )


def _suits(request: Request, book: Rulebook, decided: NDArray[np.int16]) -> NDArray[np.int64]:
    """Suitability in hundredths, shape (situations, cards), of what a school decided."""
    grades = np.array([worth(call.grade, request.accept) for call in book.calls] + [0], dtype=np.int64)
    return np.asarray(grades[decided.T], dtype=np.int64)


def _told(
    request: Request,
    problem: _Problem,
    jigs: Sequence[Card],
    trailers: Sequence[Card],
    best: _Best,
    curve: list[tuple[int, int]],
) -> PairPlan:
    picked = list(bits(best.trailers))
    days = problem.days
    done = _answered(problem, best.jigs, picked)
    at: list[tuple[int, int, int]] = []
    for row in np.flatnonzero(done):
        table = problem.suits[:, row].max(axis=0)[np.ix_(list(best.jigs), picked)]
        jig_place, trailer_place = divmod(int(table.argmax()), table.shape[1])
        at.append((int(row), best.jigs[jig_place], picked[trailer_place]))
    able = set(problem.coverable(range(len(jigs)))) if jigs and trailers else set()
    limit = f"Not among the {request.at_most} pieces that answer most; one more would be needed."

    def piece(card: Card, mine: list[int], without: NDArray[np.bool_]) -> Piece:
        alone = int(days[done & ~without].sum())
        return Piece(card, int(days[mine].sum()) / DAY, alone / DAY, card.id in request.owned)

    jig_pieces, trailer_pieces = [], []
    for j in best.jigs:
        without = _answered(problem, [other for other in best.jigs if other != j], picked)
        jig_pieces.append(piece(jigs[j], [row for row, jig, _ in at if jig == j], without))
    for t in picked:
        without = _answered(problem, best.jigs, [other for other in picked if other != t])
        trailer_pieces.append(piece(trailers[t], [row for row, _, trailer in at if trailer == t], without))
    nobody = "No jig and trailer that a school accepts together."
    return PairPlan(
        jigs=tuple(jig_pieces),
        trailers=tuple(trailer_pieces),
        pairs=tuple(Pair(row, jigs[j], trailers[t]) for row, j, t in at),
        unanswered=tuple(
            Unanswered(i, int(days[i]) / DAY, limit if i in able else nobody)
            for i in range(len(days))
            if days[i] and not done[i]
        ),
        expected_days=int(days.sum()) / DAY,
        answered_days=int(days[done].sum()) / DAY,
        curve=tuple((size, reached / DAY) for size, reached in curve),
        proved=best.proved,
    )  # fmt: skip


def _answered(problem: _Problem, jigs: Sequence[int], trailers: Sequence[int]) -> NDArray[np.bool_]:
    """For each situation, whether some jigs and trailers answer it."""
    if not jigs or not trailers:
        return np.zeros(len(problem.days), dtype=np.bool_)
    met = problem.suits[:, :, list(jigs)][:, :, :, list(trailers)].max(axis=(2, 3)) > 0
    if problem.agree_all:
        return np.asarray((met | ~problem.speaks).all(axis=0) & problem.speaks.any(axis=0), dtype=np.bool_)
    return np.asarray(met.any(axis=0), dtype=np.bool_)
