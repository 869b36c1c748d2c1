"""Jigs and the trailers threaded on them, planned together: the fewest pieces in all.

A situation is answered by a pair: a jig that a school accepts there, with a trailer that the same school accepts on
that jig. For every small set of jigs the trailers are an ordinary covering problem, solved exactly; the best over all
sets of jigs is the answer. A two-faced trailer is one piece that may show either of its faces.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.instance import DAY, bits
from tackle.cover.opinions import mask_of, worth
from tackle.cover.pair_search import PairProblem, PairSet, answered_by, pair_order, reduced_pairs, solve_pairs
from tackle.cover.planner import Request, Unanswered, check
from tackle.errors import Refused
from tackle.schools.evaluation import evaluate
from tackle.schools.rulebook import Rulebook
from tackle.situations.columns import tabulate
from tackle.vocabulary import CATEGORIES, Group, Tone

__all__ = ["TRAILER", "Pair", "PairPlan", "Piece", "make_pair_plan"]

TRAILER = "jig-trailer"


@dataclass(frozen=True, slots=True)
class Piece:
    """A jig or a trailer of the set: the days of the pairs it is in, and those that could not do without it."""

    category: str
    card: Card
    days: float
    alone: float
    owned: bool
    reason: str


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
    order: tuple[tuple[Piece, float], ...]  # to buy in, each with the days it adds: the first jig adds none alone
    to_buy: tuple[tuple[Piece, float], ...]  # of the set what is not owned, in order, added to what is
    proved: bool

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """The jigs, then the trailers."""
        return self.jigs + self.trailers

    @property
    def size(self) -> int:
        """How many pieces there are in all."""
        return len(self.pieces)


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
    small, kept_jigs, kept_trailers = reduced_pairs(problem)
    everything = small.coverable(range(len(kept_jigs))) if kept_jigs and kept_trailers else []
    found, curve = solve_pairs(small, everything, request.at_most)
    best = replace(
        found,
        jigs=tuple(kept_jigs[jig] for jig in found.jigs),
        trailers=sum(1 << kept_trailers[trailer] for trailer in bits(found.trailers)),
    )
    return _told(request, palette, problem, jigs, trailers, best, curve)


def _read(request: Request, palette: Palette, jigs: Sequence[Card], trailers: Sequence[Card]) -> PairProblem:
    situations = request.situations
    schools, m = len(request.books), len(situations)
    suits = np.zeros((schools, m, len(jigs), len(trailers)), dtype=np.int64)
    speaks = np.zeros((schools, m), dtype=np.bool_)
    columns = tabulate(situations)
    on_jigs = {
        tone: tabulate([replace(s, category=TRAILER, with_tone=tone) for s in situations])
        for tone in {card.tone for card in jigs}
    }
    for place, book in enumerate(request.books):
        decided = evaluate(book, request.category, jigs, columns)
        speaks[place] = (decided >= 0).any(axis=0)
        jig_suits = _suits(request, book, decided)
        for tone, on_it in on_jigs.items():
            trailer_suits = _suits(request, book, evaluate(book, TRAILER, trailers, on_it))
            faces = {t: palette.by_id[card.other_face] for t, card in enumerate(trailers) if card.other_face}
            for t, face in faces.items():
                turned = _suits(request, book, evaluate(book, TRAILER, (face,), on_it))
                trailer_suits[:, t] = np.maximum(trailer_suits[:, t], turned[:, 0])
            for j, card in enumerate(jigs):
                if card.tone is tone:
                    suits[place, :, j, :] = np.minimum(jig_suits[:, j, None], trailer_suits)
    return PairProblem(
        suits=suits,
        speaks=speaks,
        days=np.array([round(days * DAY) for days in request.days], dtype=np.int64),
        agree_all=request.agree_all,
        owned_jigs=mask_of(jigs, request.owned),
        owned_trailers=mask_of(trailers, _owned(request, TRAILER)),
        locked_jigs=mask_of(jigs, request.lock),
        locked_trailers=mask_of(trailers, request.lock),
    )


def _suits(request: Request, book: Rulebook, decided: NDArray[np.int16]) -> NDArray[np.int64]:
    """Suitability in hundredths, shape (situations, cards), of what a school decided."""
    grades = np.array([worth(call.grade, request.accept) for call in book.calls] + [0], dtype=np.int64)
    return np.asarray(grades[decided.T], dtype=np.int64)


def _told(
    request: Request,
    palette: Palette,
    problem: PairProblem,
    jigs: Sequence[Card],
    trailers: Sequence[Card],
    best: PairSet,
    curve: list[tuple[int, int]],
) -> PairPlan:
    picked = list(bits(best.trailers))
    days = problem.days
    done = answered_by(problem, best.jigs, picked)
    at: list[tuple[int, int, int]] = []
    for row in np.flatnonzero(done):
        table = problem.suits[:, row].max(axis=0)[np.ix_(list(best.jigs), picked)]
        jig_place, trailer_place = divmod(int(table.argmax()), table.shape[1])
        at.append((int(row), best.jigs[jig_place], picked[trailer_place]))
    able = set(problem.coverable(range(len(jigs)))) if jigs and trailers else set()
    limit = f"Not among the {request.at_most} pieces that answer most; one more would be needed."

    def piece(category: str, card: Card, mine: list[tuple[int, int, int]], without: NDArray[np.bool_]) -> Piece:
        rows = [row for row, _, _ in mine]
        alone = int(days[done & ~without].sum())
        tones = {row: jigs[jig].tone for row, jig, _ in mine}
        most = max(rows, key=lambda row: int(days[row]), default=None)
        on = None if category == request.category or most is None else tones[most]
        reason = "Locked." if most is None else _reason(request, palette, category, card, most, on)
        return Piece(
            category, card, int(days[rows].sum()) / DAY, alone / DAY, card.id in _owned(request, category), reason
        )

    jig_pieces, trailer_pieces = [], []
    for j in best.jigs:
        without = answered_by(problem, [other for other in best.jigs if other != j], picked)
        jig_pieces.append(piece(request.category, jigs[j], [one for one in at if one[1] == j], without))
    for t in picked:
        without = answered_by(problem, best.jigs, [other for other in picked if other != t])
        trailer_pieces.append(piece(TRAILER, trailers[t], [one for one in at if one[2] == t], without))
    by_place = dict(
        zip([(0, j) for j in best.jigs] + [(1, t) for t in picked], jig_pieces + trailer_pieces, strict=True)
    )
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
        order=tuple((by_place[place], adds / DAY) for place, adds in pair_order(problem, best.jigs, picked)),
        to_buy=tuple(
            (by_place[place], adds / DAY) for place, adds in pair_order(problem, best.jigs, picked, owned_first=True)
        ),
        proved=best.proved,
    )  # fmt: skip


def _owned(request: Request, category: str) -> frozenset[str]:
    """What is owned of a jig category or of trailers."""
    return request.owned_trailers if category == TRAILER and request.owned_trailers is not None else request.owned


def _reason(request: Request, palette: Palette, category: str, card: Card, row: int, on: Tone | None) -> str:
    """Why a piece is good in one situation, in the words of the school that thinks most of it; `on`: the jig's tone."""
    situation = replace(request.situations[row], category=category, with_tone=on)
    faces = (card, palette.by_id[card.other_face]) if card.other_face else (card,)
    calls = [
        book.calls[place]
        for book in request.books
        for place in evaluate(book, category, faces, tabulate([situation]))[:, 0]
        if place >= 0
    ]
    return max(calls, key=lambda call: worth(call.grade, request.accept)).why if calls else ""
