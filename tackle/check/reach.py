"""What owned cards answer of a plan's days, and on which they are right: cards of the palette and any others, such as
a lure after a repair."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.instance import DAY
from tackle.cover.plan import Plan, Request
from tackle.cover.planner import opinions_for
from tackle.schools.evaluation import evaluate, reaching, suitability
from tackle.situations.columns import tabulate

__all__ = ["Planned", "Reach", "Reached"]


@dataclass(frozen=True, slots=True)
class Planned:
    """A plan for one category, with the request it answers; of jigs with trailers the plan's pieces are wanted, and
    what is owned is held against the request for the jig alone."""

    request: Request
    plan: Plan

    @property
    def alone(self) -> Request:
        """The request for the category by itself."""
        return replace(self.request, with_trailers=False) if self.request.with_trailers else self.request

    @property
    def wanted(self) -> dict[tuple[str, Card], float]:
        """What the plan asks for, by category and card, with the days each serves."""
        return {(piece.category, piece.card): piece.days for piece in self.plan.pieces}


@dataclass(frozen=True, slots=True, order=True)
class Reached:
    """Days answered, and right days, as shares."""

    days: float
    right: float

    def __sub__(self, other: Reached) -> Reached:
        return Reached(round(self.days - other.days, 6), round(self.right - other.right, 6))

    def __bool__(self) -> bool:
        return bool(self.days or self.right)


class Reach:
    """The days of requests for one category, and which of them some cards answer, and are right on.

    Requests of several plans stand side by side, each with its own schools: m is all their days together.
    `days`: (m,) whole millionths. Where a request does not ask for what is right, nothing is right or wrong.
    """

    def __init__(self, requests: Sequence[Request], palette: Palette) -> None:
        self.requests = requests
        self.category = requests[0].category
        self.cards = palette.sold_in(self.category)
        self._parts = [_Part(request, palette) for request in requests]
        self.days = np.concatenate([part.days for part in self._parts])
        self._speaks = _side_by_side([part.speaks for part in self._parts])
        self._shares = math.lcm(*range(1, max(len(request.books) for request in requests) + 1))
        self._weights = _side_by_side([part.weights(self._shares) for part in self._parts])
        self._agree_all = np.concatenate([np.full(len(part.days), part.request.agree_all) for part in self._parts])
        self._known: dict[Card, tuple[NDArray[np.bool_], NDArray[np.bool_]]] = {}

    def learn(self, cards: Iterable[Card]) -> None:
        """Asks the schools of some cards at once."""
        new = tuple(card for card in dict.fromkeys(cards) if card not in self._known)
        if new:
            asked = [part.said_of(new) for part in self._parts]
            for place, card in enumerate(new):
                accepted, first = (
                    _side_by_side([said[kind][:, place] for said in asked]).astype(np.bool_) for kind in (0, 1)
                )
                self._known[card] = accepted, first

    def accepted(self, card: Card) -> NDArray[np.bool_]:
        """Which schools accept a card on which days; shape (schools, m)."""
        self.learn([card])
        return self._known[card][0]

    def first(self, card: Card) -> NDArray[np.bool_]:
        """Of which schools a card is a first choice on which days; shape (schools, m)."""
        self.learn([card])
        return self._known[card][1]

    def serves(self, card: Card) -> bool:
        """Whether a card answers any day, or is right on one."""
        here = self.days > 0
        right = self.first(card) & (self._weights > 0)
        return bool((self.accepted(card).any(axis=0) & here).any() or right.any())

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

    def reached(self, cards: Iterable[Card]) -> Reached:
        """The days that some cards answer together, and those on which they are right."""
        listed = list(cards)
        first = np.zeros_like(self._speaks)
        for card in listed:
            first |= self.first(card)
        right = int(self._weights[first].sum()) / (DAY * self._shares)
        return Reached(self.total(self.answered(self.met(listed))), right)


class _Part:
    """One request: its days, which schools speak on them, which cards they accept, and which are first choices."""

    def __init__(self, request: Request, palette: Palette) -> None:
        self.request = request
        self.days = np.array([round(one * DAY) for one in request.days], dtype=np.int64)
        opinions = opinions_for(request, palette)
        self.speaks = np.any(opinions.decided >= 0, axis=1)
        self._suits = opinions.suits
        self._columns = tabulate(request.situations)
        self._places = {card: place for place, card in enumerate(opinions.cards)}
        # For each school and day how narrow the call is that decides its best go-to card; past all calls: it has none.
        self._best = np.stack([
            reaching(book, decided).min(axis=0, initial=len(book.calls) + 1)
            for book, decided in zip(request.books, opinions.decided, strict=True)
        ])  # fmt: skip
        self._decided = opinions.decided

    def weights(self, shares: int) -> NDArray[np.int64]:
        """What a first choice of each school adds to the right days, in shares of a millionth; (schools, m)."""
        has = np.array([best <= len(book.calls) for book, best in zip(self.request.books, self._best, strict=True)])
        if not self.request.right:
            return np.zeros(has.shape, dtype=np.int64)
        return np.asarray(has * (self.days * shares // np.maximum(has.sum(axis=0), 1)), dtype=np.int64)

    def said_of(self, cards: Sequence[Card]) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
        """Which schools accept which cards on which days, and of which these are first choices; (schools, cards, m)."""
        shape = (len(self.request.books), len(cards), len(self.days))
        accepted, first = np.zeros(shape, dtype=np.bool_), np.zeros(shape, dtype=np.bool_)
        other = [at for at, card in enumerate(cards) if card not in self._places]
        known = [at for at, card in enumerate(cards) if card in self._places]
        places = [self._places[cards[at]] for at in known]
        accepted[:, known] = np.moveaxis(self._suits[:, :, places] > 0, 1, 2)
        for school, book in enumerate(self.request.books):
            decided = np.zeros(shape[1:], dtype=np.int16)
            decided[known] = self._decided[school][places]
            if other:
                made = tuple(cards[at] for at in other)
                decided[other] = evaluate(book, self.request.category, made, self._columns)
                accepted[school, other] = suitability(book, decided[other], self.request.accept) > 0
            first[school] = reaching(book, decided) <= np.minimum(self._best[school], len(book.calls))
        return accepted, first


def _side_by_side(parts: Sequence[NDArray[Any]]) -> NDArray[Any]:
    """Matrices along a diagonal, nothing elsewhere."""
    rows, columns = (sum(part.shape[axis] for part in parts) for axis in (0, 1))
    whole = np.zeros((rows, columns), dtype=parts[0].dtype)
    row = column = 0
    for part in parts:
        whole[row : row + part.shape[0], column : column + part.shape[1]] = part
        row, column = row + part.shape[0], column + part.shape[1]
    return whole
