"""What owned cards answer of a plan's days: cards of the palette and any others, such as a lure after a repair."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.instance import DAY
from tackle.cover.opinions import worth
from tackle.cover.pairs import Piece
from tackle.cover.planner import Plan, Request, opinions_for
from tackle.schools.evaluation import evaluate
from tackle.situations.columns import tabulate

__all__ = ["Planned", "Reach"]


@dataclass(frozen=True, slots=True)
class Planned:
    """A plan for one category, with the request it answers.

    `pieces`: where a jig is planned together with trailers, the jigs and trailers wanted instead of the plan's colours.
    """

    request: Request
    plan: Plan
    pieces: tuple[Piece, ...] | None = None

    @property
    def wanted(self) -> dict[tuple[str, Card], float]:
        """What the plan asks for, by category and card, with the days each serves."""
        if self.pieces is not None:
            return {(piece.category, piece.card): piece.days for piece in self.pieces}
        return {(self.request.category, one.card): one.days for one in self.plan.colours}


class Reach:
    """The days of requests for one category, and which of them some cards answer.

    Requests of several plans stand side by side, each with its own schools: m is all their days together.
    `days`: (m,) whole millionths.
    """

    def __init__(self, requests: Sequence[Request], palette: Palette) -> None:
        self.requests = requests
        self.category = requests[0].category
        self.cards = palette.sold_in(self.category)
        self._parts = [_Part(request, palette) for request in requests]
        self.days = np.concatenate([part.days for part in self._parts])
        self._speaks = _side_by_side([part.speaks for part in self._parts])
        self._agree_all = np.concatenate([np.full(len(part.days), part.request.agree_all) for part in self._parts])
        self._known: dict[Card, NDArray[np.bool_]] = {}

    def learn(self, cards: Iterable[Card]) -> None:
        """Asks the schools of some cards at once."""
        new = tuple(card for card in dict.fromkeys(cards) if card not in self._known)
        if new:
            asked = [part.accepted(new) for part in self._parts]
            for place, card in enumerate(new):
                self._known[card] = _side_by_side([accepted[:, place] for accepted in asked])

    def accepted(self, card: Card) -> NDArray[np.bool_]:
        """Which schools accept a card on which days; shape (schools, m)."""
        if card not in self._known:
            self.learn([card])
        return self._known[card]

    def met(self, cards: Iterable[Card]) -> NDArray[np.bool_]:
        """Which schools accept any of some cards on which days; shape (schools, m)."""
        found = np.zeros_like(self._speaks)
        for card in cards:
            found |= self.accepted(card)
        return found

    def answered(self, met: NDArray[np.bool_]) -> NDArray[np.bool_]:
        """Which days are answered, by what schools accept; shape (m,)."""
        some = np.any(met, axis=0)
        every = np.all(met | ~self._speaks, axis=0) & np.any(self._speaks, axis=0)
        return np.asarray(np.where(self._agree_all, every, some), dtype=np.bool_)

    def total(self, answered: NDArray[np.bool_]) -> float:
        """The days of some situations."""
        return int(self.days[answered].sum()) / DAY

    def days_of(self, cards: Iterable[Card]) -> float:
        """The days that some cards answer together."""
        return self.total(self.answered(self.met(cards)))


class _Part:
    """One request: its days, which schools speak on them, and which cards they accept."""

    def __init__(self, request: Request, palette: Palette) -> None:
        self.request = request
        self.days = np.array([round(one * DAY) for one in request.days], dtype=np.int64)
        self._opinions = opinions_for(request, palette)
        self.speaks = np.any(self._opinions.decided >= 0, axis=1)
        self._columns = tabulate(request.situations)
        self._places = {card: place for place, card in enumerate(self._opinions.cards)}

    def accepted(self, cards: Sequence[Card]) -> NDArray[np.bool_]:
        """Which schools accept which cards on which days; shape (schools, cards, m). Cards of the palette are known."""
        found = np.zeros((len(self.request.books), len(cards), len(self.days)), dtype=np.bool_)
        other = [at for at, card in enumerate(cards) if card not in self._places]
        known = [at for at, card in enumerate(cards) if card in self._places]
        places = [self._places[cards[at]] for at in known]
        found[:, known] = np.moveaxis(self._opinions.suits[:, :, places] > 0, 1, 2)
        for place, book in enumerate(self.request.books if other else ()):
            grades = [worth(call.grade, self.request.accept) > 0 for call in book.calls]
            decided = evaluate(book, self.request.category, tuple(cards[at] for at in other), self._columns)
            found[place, other] = np.array([*grades, False])[decided]
        return found


def _side_by_side(parts: Sequence[NDArray[np.bool_]]) -> NDArray[np.bool_]:
    """Matrices along a diagonal, False elsewhere."""
    rows, columns = (sum(part.shape[axis] for part in parts) for axis in (0, 1))
    whole = np.zeros((rows, columns), dtype=np.bool_)
    row = column = 0
    for part in parts:
        whole[row : row + part.shape[0], column : column + part.shape[1]] = part
        row, column = row + part.shape[0], column + part.shape[1]
    return whole
