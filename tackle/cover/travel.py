"""The travel box: a few pieces over all categories of a plan, chosen for the most days.

A piece, one colour of one category, answers the days that its category and its colour fit. A day's share of right is
over the schools that have a first choice in any packed category: one of theirs in the box is enough. Where some pieces
answer every day that can be, and are right on as many as the plan asks, those left over give as many days as they can a
second answer by another category, then a third.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray

from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.cover.instance import Instance, bits, row_masks
from tackle.cover.plan import Request
from tackle.cover.planner import opinions_for
from tackle.cover.representatives import open_colours
from tackle.cover.solution import solve
from tackle.schools.rulebook import Rulebook
from tackle.schools.top_choice import are_as_good
from tackle.situations.rows import MILLION, to_millionths

_GOOD = 1_000  # more than any suitability

__all__ = ["TravelBox", "TravelPiece", "travel_box"]


@dataclass(frozen=True, slots=True)
class TravelPiece:
    """One colour of one category, the layer it is in, and the days it answers of those that the layer is to answer."""

    category: str
    card: Colour
    layer: int
    days: float
    owned: bool


@dataclass(frozen=True, slots=True)
class TravelBox:
    """The pieces, first answers first; the days with a first answer, a second, and so on; those on which something
    packed is as good as the first word of its category; whether each was proved."""

    pieces: tuple[TravelPiece, ...]
    layers: tuple[float, ...]
    expected_days: float
    right_days: float
    first_choice_days: float
    proved: bool


@dataclass(frozen=True, slots=True)
class _Piece:
    category: str
    card: Colour
    owned: bool


def travel_box(
    requests: Sequence[tuple[Request, Sequence[Hashable]]],
    days: Sequence[tuple[Hashable, float]],
    palette: Palette,
    most: int,
) -> TravelBox:
    """The best box of at most `most` pieces.

    `days` lists what is expected; a request comes with the key in `days` of each of its situations. What a request
    bans is left out, and what it locks is not forced: the box is smaller than the plan. Where all schools must agree,
    a piece answers a day if all that are not silent accept it.
    """
    row_of = {key: row for row, (key, _) in enumerate(days)}
    pieces: list[_Piece] = []
    suits: list[NDArray[np.int64]] = []
    goods: list[NDArray[np.bool_]] = []
    firsts: dict[tuple[int, Rulebook], int] = {}  # by day and school, over all categories
    for request, keys in requests:
        opinions = opinions_for(request, palette)
        rows = [row_of[key] for key in keys]
        choices = [opinions.choices[place] for place in opinions.choice_of[opinions.kind_indices].tolist()]
        for row, masks in zip(rows, choices, strict=True) if request.right else ():
            for book, mask in zip(opinions.books, masks, strict=True):
                if mask:
                    firsts.setdefault((row, book), 0)
        allowed = open_colours(
            replace(request, lock=frozenset()), opinions, opinions.by_kind(to_millionths(request.days))
        )
        for index, card in enumerate(opinions.cards):
            if allowed >> index & 1:
                for row, masks in zip(rows, choices, strict=True) if request.right else ():
                    for book, mask in zip(opinions.books, masks, strict=True):
                        if mask >> index & 1:
                            firsts[row, book] |= 1 << len(pieces)
                met = opinions.best[:, index]
                if request.agree_all:
                    met = np.where(opinions.met_by(1 << index), met, 0)
                column = np.zeros(len(days), dtype=np.int64)
                column[rows] = met[opinions.kind_indices]
                good = np.zeros(len(days), dtype=np.bool_)
                votes = opinions.votes
                good[rows] = (are_as_good(votes.family[:, index], votes.most) & (met > 0))[opinions.kind_indices]
                goods.append(good)
                pieces.append(_Piece(request.category, card, card.id in request.owned))
                suits.append(column)
    millionths = to_millionths([one for _, one in days])
    asked = Counter(row for row, _ in firsts)
    shares = math.lcm(*range(1, max(asked.values(), default=1) + 1))
    merged: dict[int, int] = {}
    for (row, _), mask in firsts.items():
        if mask:
            merged[mask] = merged.get(mask, 0) + int(millionths[row]) * shares // asked[row]
    share = max((request.right for request, _ in requests), default=Fraction(0))
    table = np.array(suits, dtype=np.int64).T.reshape(len(days), len(pieces))
    good_on = np.array(goods, dtype=np.bool_).T.reshape(len(days), len(pieces))
    box = _layered(pieces, table, good_on, millionths, most, merged, share)
    packed = [pieces.index(_Piece(piece.category, piece.card, piece.owned)) for piece in box.pieces]
    mask = sum(1 << place for place in packed)
    right = sum(weight for first, weight in merged.items() if first & mask)
    first_choice = int(millionths[good_on[:, packed].any(axis=1)].sum()) / MILLION
    return replace(box, right_days=right / (MILLION * shares), first_choice_days=first_choice)


def _layered(
    pieces: list[_Piece],
    suits: NDArray[np.int64],
    good_on: NDArray[np.bool_],
    days: NDArray[np.int64],
    most: int,
    firsts: dict[int, int],
    share: Fraction,
) -> TravelBox:
    found: list[TravelPiece] = []
    layers: list[float] = []
    proved = True
    while len(found) < most:
        rows = np.flatnonzero(suits.any(axis=1) & (days > 0))
        if not len(rows):
            break
        open_suits = suits[rows]
        instance = Instance(
            days=days[rows],
            needs=tuple((mask,) for mask in row_masks(open_suits > 0)),
            suits=open_suits,
            owned=sum(1 << column for column, piece in enumerate(pieces) if piece.owned),
            firsts=() if layers else tuple(firsts),
            weights=() if layers else tuple(firsts.values()),
        )
        solution = solve(instance, most - len(found), Fraction(0) if layers else share)
        picked = list(bits(solution.chosen))
        proved &= solution.proved
        # A day is of what is as good as its first word, before what only suits.
        best = (open_suits[:, picked] + _GOOD * good_on[rows][:, picked]).argmax(axis=1)
        answered = open_suits[:, picked].any(axis=1)
        for index, column in enumerate(picked):
            mine = int(days[rows[answered & (best == index)]].sum()) / MILLION
            piece = pieces[column]
            if mine:  # what has no day of its own is left at home
                found.append(TravelPiece(piece.category, piece.card, len(layers) + 1, mine, piece.owned))
        layers.append(int(days[rows[answered]].sum()) / MILLION)
        # The next answer to a day is another category's: the same one in a second colour would be no second way.
        for category in {pieces[column].category for column in picked}:
            columns = [column for column, piece in enumerate(pieces) if piece.category == category]
            mine_here = [column for column in picked if pieces[column].category == category]
            done = suits[:, mine_here].any(axis=1)
            suits[np.ix_(np.flatnonzero(done), np.array(columns))] = 0
        suits[:, picked] = 0
    found.sort(key=lambda piece: (piece.layer, -piece.days))
    return TravelBox(tuple(found), tuple(layers), int(days.sum()) / MILLION, 0.0, 0.0, proved)
