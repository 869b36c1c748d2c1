"""The travel box: a few pieces over all categories of a plan, chosen for the most days.

A piece, one colour of one category, answers the days that its category and its colour fit. Where some pieces answer
every day that can be, those left over give as many days as they can a second answer by another category, then a third.
"""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.curve import best_of_size
from tackle.cover.instance import DAY, Instance, bits, reduced, row_masks
from tackle.cover.planner import Request, opinions_for
from tackle.cover.search import smallest_cover

__all__ = ["TravelBox", "TravelPiece", "travel_box"]

NODES = 30_000


@dataclass(frozen=True, slots=True)
class TravelPiece:
    """One colour of one category, the layer it is in, and the days it answers of those that the layer is to answer."""

    category: str
    card: Card
    layer: int
    days: float
    owned: bool


@dataclass(frozen=True, slots=True)
class TravelBox:
    """The pieces, first answers first; the days with a first answer, a second, and so on; whether each was proved."""

    pieces: tuple[TravelPiece, ...]
    layers: tuple[float, ...]
    expected_days: float
    proved: bool


@dataclass(frozen=True, slots=True)
class _Piece:
    category: str
    card: Card
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
    for request, keys in requests:
        opinions = opinions_for(request, palette)
        rows = [row_of[key] for key in keys]
        for place, card in enumerate(opinions.cards):
            if card.id not in request.ban:
                met = opinions.best[:, place]
                if request.agree_all:
                    met = np.where(opinions.met_by(1 << place), met, 0)
                column = np.zeros(len(days), dtype=np.int64)
                column[rows] = met
                pieces.append(_Piece(request.category, card, card.id in request.owned))
                suits.append(column)
    millionths = np.array([round(one * DAY) for _, one in days], dtype=np.int64)
    return _layered(pieces, np.array(suits, dtype=np.int64).T.reshape(len(days), len(pieces)), millionths, most)


def _layered(pieces: list[_Piece], suits: NDArray[np.int64], days: NDArray[np.int64], most: int) -> TravelBox:
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
        )
        picked, sure = _best(instance, most - len(found))
        proved &= sure
        best = open_suits[:, picked].argmax(axis=1)
        answered = open_suits[:, picked].any(axis=1)
        for place, column in enumerate(picked):
            mine = int(days[rows[answered & (best == place)]].sum()) / DAY
            piece = pieces[column]
            found.append(TravelPiece(piece.category, piece.card, len(layers) + 1, mine, piece.owned))
        layers.append(int(days[rows[answered]].sum()) / DAY)
        # The next answer to a day is another category's: the same one in a second colour would be no second way.
        for category in {pieces[column].category for column in picked}:
            columns = [column for column, piece in enumerate(pieces) if piece.category == category]
            mine_here = [column for column in picked if pieces[column].category == category]
            done = suits[:, mine_here].any(axis=1)
            suits[np.ix_(np.flatnonzero(done), np.array(columns))] = 0
        suits[:, picked] = 0
    found.sort(key=lambda piece: (piece.layer, -piece.days))
    return TravelBox(tuple(found), tuple(layers), int(days.sum()) / DAY, proved)


def _best(instance: Instance, room: int) -> tuple[list[int], bool]:
    """The places of the best set of at most `room` pieces, and whether it was proved."""
    small, kept = reduced(instance)
    full = smallest_cover(small, nodes=NODES)
    chosen, proved = full.chosen, full.proved
    if chosen.bit_count() > room:
        chosen, proved = best_of_size(small, room)
    return [kept[place] for place in bits(chosen)], proved
