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
from tackle.cover.planner import Plan, Request, opinions_for
from tackle.schools.evaluation import evaluate
from tackle.situations.columns import tabulate

__all__ = ["Planned", "Reach"]


@dataclass(frozen=True, slots=True)
class Planned:
    """A plan for one category, with the request it answers."""

    request: Request
    plan: Plan


class Reach:
    """The days of one request, and which of them some cards answer. `days`: (m,) whole millionths."""

    def __init__(self, request: Request, palette: Palette) -> None:
        self.request = request
        self.opinions = opinions_for(request, palette)
        self.days = np.array([round(one * DAY) for one in request.days], dtype=np.int64)
        self._places = {card.id: place for place, card in enumerate(self.opinions.cards)}
        self._columns = tabulate(request.situations)
        self._speaks = np.any(self.opinions.decided >= 0, axis=1)
        self._known: dict[Card, NDArray[np.bool_]] = {}

    def learn(self, cards: Sequence[Card]) -> None:
        """Asks the schools of some cards at once: cards of the palette are known already."""
        new = tuple(card for card in dict.fromkeys(cards) if card not in self._known)
        other = tuple(card for card in new if card is not self._own(card))
        for card in new:
            if card is self._own(card):
                self._known[card] = self.opinions.suits[:, :, self._places[card.id]] > 0
        if other:
            accepted = np.zeros((len(self.request.books), len(other), len(self.days)), dtype=np.bool_)
            for place, book in enumerate(self.request.books):
                grades = [worth(call.grade, self.request.accept) > 0 for call in book.calls]
                decided = evaluate(book, self.request.category, other, self._columns)
                accepted[place] = np.array([*grades, False])[decided]
            for place, card in enumerate(other):
                self._known[card] = accepted[:, place]

    def _own(self, card: Card) -> Card | None:
        place = self._places.get(card.id)
        return None if place is None else self.opinions.cards[place]

    def accepted(self, card: Card) -> NDArray[np.bool_]:
        """Which schools accept a card on which days; shape (schools, m)."""
        if card not in self._known:
            self.learn([card])
        return self._known[card]

    def met(self, cards: Iterable[Card]) -> NDArray[np.bool_]:
        """Which schools accept any of some cards on which days; shape (schools, m)."""
        found = np.zeros((len(self.request.books), len(self.days)), dtype=np.bool_)
        for card in cards:
            found |= self.accepted(card)
        return found

    def answered(self, met: NDArray[np.bool_]) -> NDArray[np.bool_]:
        """Which days are answered, by what schools accept; shape (m,)."""
        if self.request.agree_all:
            return np.asarray(np.all(met | ~self._speaks, axis=0) & np.any(self._speaks, axis=0), dtype=np.bool_)
        return np.asarray(np.any(met, axis=0), dtype=np.bool_)

    def total(self, answered: NDArray[np.bool_]) -> float:
        """The days of some situations."""
        return int(self.days[answered].sum()) / DAY

    def days_of(self, cards: Iterable[Card]) -> float:
        """The days that some cards answer together."""
        return self.total(self.answered(self.met(cards)))
