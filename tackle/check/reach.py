"""What owned cards answer of a plan's days, and on which they are right: cards of the palette and any others, such as
a lure after a repair."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable, Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tackle.base.hashing import content_hash
from tackle.base.store import STORE
from tackle.colours.colour import Colour
from tackle.colours.family import family
from tackle.colours.palette import Palette
from tackle.cover.instance import bits
from tackle.cover.opinions import Opinions, gather_opinions
from tackle.cover.plan import Plan, Request
from tackle.schools.evaluation import evaluate_kinds, reaching, suitability
from tackle.schools.top_choice import are_as_good
from tackle.situations.rows import MILLION, to_millionths

__all__ = ["Planned", "Reach", "Reached", "on_days", "make_reach"]


@dataclass(frozen=True, slots=True)
class Planned:
    """A plan for one category, with the request it answers; of jigs with trailers the plan's pieces are wanted, and
    what is owned is held against the request for the jig alone."""

    request: Request
    plan: Plan

    @property
    def mark(self) -> str:
        """See tackle.base.hashing. A plan follows from its request."""
        return content_hash(self.request)

    @property
    def alone(self) -> Request:
        """The request for the category by itself."""
        return replace(self.request, with_trailers=False) if self.request.with_trailers else self.request

    @property
    def wanted(self) -> dict[tuple[str, Colour], float]:
        """What the plan asks for, by category and card, with the days each serves."""
        return {(piece.category, piece.card): piece.days for piece in self.plan.pieces}


@dataclass(frozen=True, slots=True, order=True)
class Reached:
    """Days answered; right days, as shares; and first-choice days, on which something is as good as the first word."""

    days: float
    right: float
    first: float = 0.0

    def __add__(self, other: Reached) -> Reached:
        return Reached(*(round(one + more, 6) for one, more in zip(self.counts, other.counts, strict=True)))

    def __sub__(self, other: Reached) -> Reached:
        return Reached(*(round(one - less, 6) for one, less in zip(self.counts, other.counts, strict=True)))

    def __bool__(self) -> bool:
        return any(self.counts)

    @property
    def counts(self) -> tuple[float, float, float]:
        return self.days, self.right, self.first

    @property
    def worth(self) -> tuple[float, float, float]:
        """What of two is better: more first-choice days, then right days, then days."""
        return self.first, self.right, self.days


class Reach:
    """The days of requests for one category, and which of them some cards answer, and are right on, and on which one is
    as good as the first word.

    Requests of several plans stand side by side, each with its own schools. Situations of which their schools say the
    same of any card are one kind of day: m is how many kinds all requests have together, `days` (m,) their whole
    millionths. Where a request does not ask for what is right, nothing is right or wrong.
    """

    def __init__(self, requests: Sequence[Request], palette: Palette) -> None:
        self.requests = requests
        self.category = requests[0].category
        self.cards = palette.sold_in(self.category)
        self._parts = [_make_part(one, palette) for one in requests]
        self.days = np.concatenate([part.days for part in self._parts])
        sizes = [len(part.days) for part in self._parts]
        before = np.cumsum([0, *sizes[:-1]])
        self._kind_of = np.concatenate(
            [part.kind_indices + first for part, first in zip(self._parts, before, strict=True)]
        )
        self._speaks = _side_by_side([part.speaks for part in self._parts])
        self._shares = math.lcm(*range(1, max(len(request.books) for request in requests) + 1))
        weights = [
            part.weights(self._shares) if each.right else np.zeros(part.speaks.shape, dtype=np.int64)
            for part, each in zip(self._parts, requests, strict=True)
        ]
        self._weights = _side_by_side(weights)
        self._agree_all = np.repeat([each.agree_all for each in requests], sizes)
        self._places: dict[Colour, int] = {}
        self._accepted = self._first = np.zeros((0, *self._speaks.shape), dtype=np.bool_)
        self._good = np.zeros((0, len(self.days)), dtype=np.bool_)

    def learn(self, cards: Iterable[Colour]) -> None:
        """Asks the schools of some cards at once."""
        new = tuple(card for card in dict.fromkeys(cards) if card not in self._places)
        if not new:
            return
        said = [part.accepted_days(new) for part in self._parts]
        self._accepted, self._first = (
            np.concatenate([before, _side_by_side([kinds[index] for kinds in said])])
            for index, before in enumerate((self._accepted, self._first))
        )
        good = [part.as_good_days(new) & bool(one.right) for part, one in zip(self._parts, self.requests, strict=True)]
        self._good = np.concatenate([self._good, np.concatenate(good, axis=1)])
        for card in new:
            self._places[card] = len(self._places)

    def accepted(self, card: Colour) -> NDArray[np.bool_]:
        """Which schools accept a card on which days; shape (schools, m)."""
        return self.met([card])

    def answers(self, card: Colour) -> NDArray[np.bool_]:
        """In which situations of the requests, one after the other, any school accepts a card."""
        return np.asarray(np.any(self.accepted(card), axis=0)[self._kind_of], dtype=np.bool_)

    def first(self, card: Colour) -> NDArray[np.bool_]:
        """Of which schools a card is a first choice on which days; shape (schools, m)."""
        places = self._indices([card])
        return _any(self._first, places)

    def serves(self, card: Colour) -> bool:
        """Whether a card answers any day, or is right on one."""
        here = self.days > 0
        right = self.first(card) & (self._weights > 0)
        return bool((self.accepted(card).any(axis=0) & here).any() or right.any())

    def met(self, cards: Iterable[Colour]) -> NDArray[np.bool_]:
        """Which schools accept any of some cards on which days; shape (schools, m)."""
        places = self._indices(cards)
        return _any(self._accepted, places)

    def answered(self, met: NDArray[np.bool_]) -> NDArray[np.bool_]:
        """Which days are answered, by what schools accept; shape (m,)."""
        some = np.any(met, axis=0)
        every = np.all(met | ~self._speaks, axis=0) & np.any(self._speaks, axis=0)
        return np.asarray(np.where(self._agree_all, every, some), dtype=np.bool_)

    def total(self, answered: NDArray[np.bool_]) -> float:
        """The days of some situations."""
        return int(self.days[answered].sum()) / MILLION

    def reached(self, cards: Iterable[Colour]) -> Reached:
        """The days that some cards answer together, on which they are right, and on which one is as good as the first
        word."""
        places = self._indices(cards)
        right = int(self._weights[_any(self._first, places)].sum()) / (MILLION * self._shares)
        answered, first = self.answered(_any(self._accepted, places)), _any(self._good, places)
        return Reached(self.total(answered), right, self.total(first))

    def _indices(self, cards: Iterable[Colour]) -> list[int]:
        listed = list(cards)
        self.learn(listed)
        return [self._places[card] for card in listed]


def _any(said: NDArray[np.bool_], places: list[int]) -> NDArray[np.bool_]:
    return np.asarray(said[places].any(axis=0), dtype=np.bool_)


class _Part:
    """What some schools say of every card of a category on the kinds of days that some situations are: which speak,
    which cards they accept, and which are their first choices. `kind_indices`: each situation's kind; `days`: those of
    each kind, in whole millionths."""

    def __init__(self, opinions: Opinions, days: Sequence[float]) -> None:
        self.kind_indices, self.days = opinions.kind_indices, opinions.by_kind(to_millionths(days))
        self.speaks = np.any(opinions.deciding_rules >= 0, axis=1)
        self._opinions = opinions
        self._books, self._accept = opinions.books, opinions.accept
        self._kinds = opinions.day_kinds
        self._places = {card: index for index, card in enumerate(opinions.cards)}
        self._accepted = np.ascontiguousarray(np.moveaxis(opinions.suits > 0, 2, 0))  # (cards, schools, m)
        narrow = [reaching(book, of_it) for book, of_it in zip(opinions.books, opinions.deciding_rules, strict=True)]
        # For each school and day how narrow the call is that decides its best go-to card; past all calls: it has none.
        self._best = np.stack([
            places.min(axis=0, initial=len(book.calls) + 1)
            for book, places in zip(opinions.books, narrow, strict=True)
        ])  # fmt: skip
        self._has = self._best <= np.array([[len(book.calls)] for book in opinions.books])
        self._first = np.zeros(self._accepted.shape, dtype=np.bool_)
        for kind, place in enumerate(opinions.choice_of.tolist()):
            for school, mask in enumerate(opinions.choices[place]):
                self._first[list(bits(mask)), school, kind] = True
        self._indices: dict[Hashable, list[int]] = {}
        for place, card in enumerate(opinions.cards):
            self._indices.setdefault(family(card, opinions.category), []).append(place)

    def weights(self, shares: int) -> NDArray[np.int64]:
        """What a first choice of each school adds to the right days, in shares of a millionth; (schools, m)."""
        return np.asarray(self._has * (self.days * shares // np.maximum(self._has.sum(axis=0), 1)), dtype=np.int64)

    def accepted_days(self, cards: Sequence[Colour]) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
        """Which cards the schools accept on which days, and of which these are first choices; (cards, schools, m)."""
        shape = (len(cards), *self.speaks.shape)
        accepted, first = np.zeros(shape, dtype=np.bool_), np.zeros(shape, dtype=np.bool_)
        known = [at for at, card in enumerate(cards) if card in self._places]
        places = [self._places[cards[at]] for at in known]
        accepted[known], first[known] = self._accepted[places], self._first[places]
        made = [at for at, card in enumerate(cards) if card not in self._places]
        for school, book in enumerate(self._books if made else ()):
            deciding_rules = evaluate_kinds(self._kinds, school, [cards[at] for at in made])
            accepted[made, school] = suitability(book, deciding_rules, self._accept) > 0
            first[made, school] = reaching(book, deciding_rules) <= np.minimum(self._best[school], len(book.calls))
        for at in made:
            kin = self._first[self._kin(cards[at])].any(axis=0)
            first[at] |= kin & accepted[at].any(axis=0)
        return accepted, first

    def as_good_days(self, cards: Sequence[Colour]) -> NDArray[np.bool_]:
        """On which days some cards are as good as the first word; (cards, m)."""
        votes = self._opinions.votes
        accepted, first = self.accepted_days(cards)
        of_it = np.zeros((len(cards), len(self.days)), dtype=np.int64)
        for at, card in enumerate(cards):
            kin = self._kin(card)
            # A colour of no family that there is counts where a school would reach for it before all others.
            of_it[at] = votes.family[:, kin[0]] if kin else votes.most * first[at].any(axis=0)
        return np.asarray(are_as_good(of_it, votes.most) & accepted.any(axis=1), dtype=np.bool_)

    def _kin(self, card: Colour) -> list[int]:
        return self._indices.get(family(card, self._opinions.category), [])


def on_days(request: Request) -> Hashable:
    """Of a request what a reach of it follows from, beside the palette."""
    return (
        request.category, request.books, request.situations, request.days, request.agree_all, request.accept,
        bool(request.right),
    )  # fmt: skip


def make_reach(request: Request, palette: Palette) -> Callable[[Iterable[Colour]], Reached]:
    """What some cards reach of a request: the days that they answer together, and those on which they are right; kept.

    The schools are asked only where somebody asks what is not known yet.
    """
    mark, reach = content_hash((on_days(request), palette)), cache(lambda: Reach([request], palette))

    def reached(cards: Iterable[Colour]) -> Reached:
        some = frozenset(cards)
        return STORE.once("reached", (mark, some), lambda: reach().reached(some))

    return reached


def _make_part(one: Request, palette: Palette) -> _Part:
    asked = one.category, one.books, one.situations, one.agree_all, one.accept
    return _Part(gather_opinions(*asked, palette), one.days)


def _side_by_side(parts: Sequence[NDArray[Any]]) -> NDArray[Any]:
    """Matrices along a diagonal of their last two axes, nothing elsewhere."""
    if len(parts) == 1:
        return parts[0]
    rows, columns = (sum(part.shape[axis] for part in parts) for axis in (-2, -1))
    whole = np.zeros((*parts[0].shape[:-2], rows, columns), dtype=parts[0].dtype)
    row = column = 0
    for part in parts:
        whole[..., row : row + part.shape[-2], column : column + part.shape[-1]] = part
        row, column = row + part.shape[-2], column + part.shape[-1]
    return whole
