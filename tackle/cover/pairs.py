"""Jigs and the trailers threaded on them, planned together: the fewest pieces in all.

A situation is answered by a pair: a jig that a school accepts there, with a trailer that the same school accepts on
that jig. A two-faced trailer is one piece that may show either of its faces.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.instance import bits, row_masks
from tackle.cover.opinions import mask_of
from tackle.cover.pair_search import (
    Need,
    PairProblem,
    PairStep,
    answered_by,
    pair_curve_of,
    pair_order,
    reduced_pairs,
    right_by,
    solve_pairs,
)
from tackle.cover.plan import Bought, Open, Piece, Plan, Point, Request, Unanswered, refuse_unsound
from tackle.cover.served import ServedDays, Way
from tackle.data import reason as said
from tackle.errors import Refused
from tackle.schools.evaluation import evaluate, first_choices, suitability, worth
from tackle.schools.rulebook import Rulebook
from tackle.situations.columns import Columns, tabulate
from tackle.situations.rows import MILLION, millionths_of
from tackle.vocabulary import CATEGORIES, TRAILER, Tone

__all__ = ["make_pair_plan", "pair_curve", "pair_reach"]


def pair_reach(request: Request, palette: Palette) -> Callable[[frozenset[tuple[str, str]]], tuple[float, float]]:
    """What jigs and trailers, by category and card id, reach of a request's days: those answered, and right days."""
    read = _read(request, palette)
    counted = read.problem if request.right else replace(read.problem, firsts=(), weights=())

    def reached(have: frozenset[tuple[str, str]]) -> tuple[float, float]:
        jigs = [place for place, card in enumerate(read.jigs) if (request.category, card.id) in have]
        trailers = [place for place, card in enumerate(read.trailers) if (TRAILER, card.id) in have]
        days = int(read.problem.days[answered_by(read.problem, jigs, trailers)].sum())
        return days / MILLION, right_by(counted, jigs, trailers) / read.share

    return reached


@dataclass(frozen=True)
class _Read:
    """A request read: the pieces to choose from, the problem, and each situation's first choices by school."""

    jigs: tuple[Card, ...]
    trailers: tuple[Card, ...]
    problem: PairProblem
    choices: list[list[Need]]
    share: int  # how many of the problem's weights are a day


def make_pair_plan(request: Request, palette: Palette) -> Plan:
    """The exact plan for a jig category and its trailers. Raises Refused.

    `owned`, `lock` and `ban` name colours of either; a colour sold as both counts for both. A pair suits as well as the
    lesser of its halves; the order of what is best is that of a single category, in pieces.
    """
    read = _read(request, palette)
    small, kept_jigs, kept_trailers = reduced_pairs(read.problem)
    found = solve_pairs(small, request.at_most, request.right)
    jigs = [kept_jigs[jig] for jig in bits(found.jigs)]
    trailers = [kept_trailers[trailer] for trailer in bits(found.trailers)]
    return _planned(request, palette, read, jigs, trailers, found.proved, found.at_least)


def pair_curve(request: Request, palette: Palette) -> tuple[Point, ...]:
    """The most that each number of pieces can do; worked out apart from the plan."""
    read = _read(request, palette)
    small = reduced_pairs(read.problem)[0]
    return tuple(
        Point(most.size, most.days / MILLION, most.right / read.share, most.proved)
        for most in pair_curve_of(small, bool(request.right))
    )


def _read(request: Request, palette: Palette) -> _Read:
    if not CATEGORIES[request.category].takes_trailer:
        skirted = [c.id for c in CATEGORIES.values() if c.takes_trailer]
        raise Refused("with", f"{request.category} takes no trailer", skirted)
    refuse_unsound(request, palette, (request.category, TRAILER))
    sold = palette.sold_in(request.category), palette.sold_in(TRAILER)
    jigs, trailers = (tuple(card for card in cards if card.id not in request.ban) for cards in sold)
    situations, schools = request.situations, len(request.books)
    suits = np.zeros((schools, len(situations), len(jigs), len(trailers)), dtype=np.int8)
    speaks = np.zeros((schools, len(situations)), dtype=np.bool_)
    columns = tabulate(situations)
    on_jigs = {
        tone: tabulate([replace(s, category=TRAILER, with_tone=tone) for s in situations])
        for tone in {card.tone for card in sold[0]}
    }
    choices: list[list[Need]] = [[] for _ in situations]
    for place, book in enumerate(request.books):
        decided = evaluate(book, request.category, sold[0], columns)
        speaks[place] = (decided >= 0).any(axis=0)
        of_jigs = suitability(book, decided[[sold[0].index(card) for card in jigs]], request.accept).T
        for tone, on_it in on_jigs.items():
            on_tone = _trailer_suits(request, book, palette, trailers, on_it)
            for j, card in enumerate(jigs):
                if card.tone is tone:
                    suits[place, :, j, :] = np.minimum(of_jigs[:, j, None], on_tone)
        first_jigs = row_masks(first_choices(book, decided).T)
        first_trailers = {tone: _first_trailers(book, sold[1], on_it) for tone, on_it in on_jigs.items()}
        for index in range(len(situations)):
            on_tone_here = {tone: masks[index] for tone, masks in first_trailers.items()}
            need = _first_pairs(sold, jigs, trailers, first_jigs[index], on_tone_here)
            if need is not None:
                choices[index].append(need)
    days = millionths_of(request.days)
    shares = math.lcm(*range(1, schools + 1))
    firsts: dict[Need, int] = {}
    for index, needs in enumerate(choices):
        for need in needs:
            if any(need) and days[index]:
                firsts[need] = firsts.get(need, 0) + int(days[index]) * shares // len(needs)
    problem = PairProblem(
        suits=suits,
        speaks=speaks,
        days=days,
        agree_all=request.agree_all,
        owned_jigs=mask_of(jigs, request.owned),
        owned_trailers=mask_of(trailers, _owned(request, TRAILER)),
        locked_jigs=mask_of(jigs, request.lock),
        locked_trailers=mask_of(trailers, request.lock),
        firsts=tuple(firsts),
        weights=tuple(firsts.values()),
    )
    return _Read(jigs, trailers, problem, choices, MILLION * shares)


def _trailer_suits(
    request: Request, book: Rulebook, palette: Palette, trailers: Sequence[Card], on_it: Columns
) -> NDArray[np.int8]:
    suits = suitability(book, evaluate(book, TRAILER, trailers, on_it), request.accept).T.copy()
    for place, card in enumerate(trailers):
        if card.other_face:
            decided = evaluate(book, TRAILER, (palette.by_id[card.other_face],), on_it)
            suits[:, place] = np.maximum(suits[:, place], suitability(book, decided, request.accept)[0])
    return suits


def _first_trailers(book: Rulebook, sold: Sequence[Card], on_it: Columns) -> list[int]:
    """A school's first choices of trailers on a jig, by situation; a two-faced one is one if either face is."""
    first = first_choices(book, evaluate(book, TRAILER, sold, on_it))
    places = {card.id: place for place, card in enumerate(sold)}
    either = first.copy()
    for place, card in enumerate(sold):
        if card.other_face in places:
            either[place] |= first[places[card.other_face]]
    return row_masks(either.T)


def _first_pairs(
    sold: tuple[tuple[Card, ...], tuple[Card, ...]],
    jigs: Sequence[Card],
    trailers: Sequence[Card],
    first_jigs: int,
    first_trailers: dict[Tone, int],
) -> Need | None:
    """A school's first choices of one situation as a need; None where it has none.

    A jig of its first choices with a trailer of its first choices on that jig's tone; where it speaks of one half
    alone, that half is enough. The bit after the last trailer stands for any trailer.
    """
    if not first_jigs and not any(first_trailers.values()):
        return None
    of_jig = {card.id: place for place, card in enumerate(sold[0])}
    of_trailer = [sum(1 << place for place, one in enumerate(sold[1]) if one.id == card.id) for card in trailers]
    need = []
    for card in jigs:
        wanted = first_trailers[card.tone]
        if first_jigs and not first_jigs >> of_jig[card.id] & 1:
            need.append(0)
        elif first_jigs and not wanted:
            need.append(1 << len(trailers))
        else:
            need.append(sum(1 << place for place, bit in enumerate(of_trailer) if bit & wanted))
    return tuple(need)


def _planned(
    request: Request,
    palette: Palette,
    read: _Read,
    chosen_jigs: list[int],
    chosen_trailers: list[int],
    proved: bool,
    at_least: int,
) -> Plan:
    problem, jigs, trailers, days = read.problem, read.jigs, read.trailers, read.problem.days
    done = answered_by(problem, chosen_jigs, chosen_trailers)
    best = problem.suits.max(axis=0) if len(problem.suits) else problem.suits
    mask = sum(1 << trailer for trailer in chosen_trailers) | 1 << len(trailers)
    way_of, ways, at = np.full(len(days), -1), dict[Way, int](), []
    for row in map(int, np.flatnonzero(done)):
        table = best[row][np.ix_(chosen_jigs, chosen_trailers)].astype(np.int64)
        if request.right:  # first the pair that most schools have as a first choice
            for need in read.choices[row]:
                first = [[bool(need[j] & (1 << t | 1 << len(trailers))) for t in chosen_trailers] for j in chosen_jigs]
                table = table + 1000 * (np.array(first) & (table > 0))
        jig_place, trailer_place = divmod(int(table.argmax()), table.shape[1])
        j, t = chosen_jigs[jig_place], chosen_trailers[trailer_place]
        hit = sum(any(need[one] & mask for one in chosen_jigs) for need in read.choices[row])
        at.append((row, j, t))
        way = Way((jigs[j], trailers[t]), hit, len(read.choices[row]))
        way_of[row] = ways.setdefault(way, len(ways))
    right = right_by(problem, chosen_jigs, chosen_trailers)

    def piece(kind: int, place: int) -> Piece:
        card = (jigs, trailers)[kind][place]
        category = (request.category, TRAILER)[kind]
        rest = [[one for one in chosen if one != place or which != kind] for which, chosen in enumerate(
            (chosen_jigs, chosen_trailers))]  # fmt: skip
        without = answered_by(problem, rest[0], rest[1])
        mine = [one for one in at if one[1 + kind] == place]
        rows = [row for row, _, _ in mine]
        most = max(mine, key=lambda one: int(days[one[0]]), default=None)
        reason = said("locked" if card.id in request.lock else "more-right")
        if most is not None:
            reason = _reason(request, palette, category, card, most[0], jigs[most[1]].tone if kind else None)
        return Piece(
            category,
            card,
            int(days[rows].sum()) / MILLION,
            int(days[done & ~without].sum()) / MILLION,
            card.id in _owned(request, category),
            reason,
            (right - right_by(problem, rest[0], rest[1])) / read.share,
        )

    by_place = {(kind, place): piece(kind, place) for kind, chosen in enumerate((chosen_jigs, chosen_trailers))
                for place in chosen}  # fmt: skip

    def bought(step: PairStep) -> Bought:
        one = by_place[step.piece]
        return Bought(one.category, one.card, step.adds / MILLION, step.adds_right / read.share)

    able = {row for row, needs in enumerate(problem.needs()) if needs}
    counted = problem if request.right else replace(problem, firsts=(), weights=())
    return Plan(
        pieces=tuple(by_place.values()),
        served=ServedDays(way_of, days, ways),
        unanswered=tuple(
            Unanswered(i, int(days[i]) / MILLION, Open.AT_MOST if i in able else Open.NO_PAIR)
            for i in range(len(days))
            if days[i] and not done[i]
        ),
        expected_days=int(days.sum()) / MILLION,
        answered_days=int(days[done].sum()) / MILLION,
        order=tuple(map(bought, pair_order(counted, chosen_jigs, chosen_trailers))),
        proved=proved,
        at_least=at_least,
        right_days=right / read.share,
        most_right_days=sum(problem.weights) / read.share,
    )


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
