"""A plan for one category: the fewest colours for the days to expect, and what each is for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import reduce
from operator import or_

import numpy as np

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.instance import DAY, Instance, bits
from tackle.cover.solution import buying_order, solve, stand_ins
from tackle.errors import Refused
from tackle.schools.call import Call
from tackle.schools.evaluation import evaluate
from tackle.schools.rulebook import Rulebook
from tackle.situations.columns import tabulate
from tackle.situations.situation import Situation
from tackle.vocabulary import Grade

__all__ = [
    "Chosen",
    "Plan",
    "Request",
    "Served",
    "Unanswered",
    "check",
    "days_answered",
    "make_plan",
    "mask_of",
    "worth",
]

_SUITABILITY = {Grade.GO_TO: 100, Grade.WORKS: 60}


@dataclass(frozen=True, slots=True)
class Request:
    """What to plan. `days` goes with `situations`; colours are card ids of the category."""

    category: str
    books: tuple[Rulebook, ...]
    situations: tuple[Situation, ...]
    days: tuple[float, ...]
    agree_all: bool = False
    accept: Grade = Grade.WORKS
    owned: frozenset[str] = frozenset()
    lock: frozenset[str] = frozenset()
    ban: frozenset[str] = frozenset()
    at_most: int | None = None


@dataclass(frozen=True, slots=True)
class Served:
    """How one situation is answered: the card that serves it, its grade, and the school and call that say so."""

    index: int
    days: float
    card: Card
    grade: Grade
    book: Rulebook
    call: Call
    others: tuple[Card, ...]


@dataclass(frozen=True, slots=True)
class Unanswered:
    """A situation with no answer, and why."""

    index: int
    days: float
    why: str


@dataclass(frozen=True, slots=True)
class Chosen:
    """A colour of the set: the days it serves as the best of the set, and those that no other could answer.

    `stand_ins` are the colours that could each take its place and leave no day unanswered.
    """

    card: Card
    days: float
    alone: float
    owned: bool
    reason: str
    stand_ins: tuple[Card, ...]


@dataclass(frozen=True, slots=True)
class Plan:
    """The answer. Days are rounded to millionths. `order` and `curve` hold (card, days) and (size, days)."""

    proved: bool
    at_least: int
    colours: tuple[Chosen, ...]
    served: tuple[Served, ...]
    unanswered: tuple[Unanswered, ...]
    expected_days: float
    answered_days: float
    curve: tuple[tuple[int, float], ...]
    order: tuple[tuple[Card, float], ...]


def worth(grade: Grade, accept: Grade) -> int:
    """The suitability of a grade, in hundredths; 0 where it does not cover."""
    if grade is Grade.WORKS and accept is Grade.GO_TO:
        return 0
    return _SUITABILITY.get(grade, 0)


class _Opinions:
    """What the schools of a request say of every card in every situation."""

    def __init__(self, request: Request, cards: Sequence[Card]) -> None:
        self.request, self.cards = request, cards
        columns = tabulate(request.situations)
        self.decided = [evaluate(book, request.category, cards, columns) for book in request.books]
        self.suits = np.zeros((len(request.books), len(request.situations), len(cards)), dtype=np.int64)
        for place, book in enumerate(request.books):
            grades = np.array([worth(call.grade, request.accept) for call in book.calls] + [0], dtype=np.int64)
            self.suits[place] = grades[self.decided[place].T]

    def needs(self, index: int) -> tuple[int, ...]:
        """The bit sets of cards, of each of which one is needed to answer a situation."""
        masks = [
            sum(1 << int(card) for card in np.flatnonzero(self.suits[place, index]))
            for place in range(len(self.request.books))
            if not self.request.agree_all or (self.decided[place][:, index] >= 0).any()
        ]
        if self.request.agree_all:
            return tuple(masks)
        return (reduce(or_, masks),)

    def why_none(self, index: int) -> str:
        """Why no colour at all can answer a situation."""
        if not self.cards:
            return "Every colour of this category is dropped."
        names = [
            book.name
            for place, book in enumerate(self.request.books)
            if not self.request.agree_all or (self.decided[place][:, index] >= 0).any()
            if not self.suits[place, index].any()
        ]
        if not names:
            return "No school says anything of this water."
        what = "calls nothing a go-to" if self.request.accept is Grade.GO_TO else "has no colour for this water"
        return f"{_listed(names)} {what}." if len(names) == 1 else f"{_listed(names)}: each {what}."

    def deciding(self, index: int, card: int) -> tuple[Rulebook, Call]:
        """The school that thinks most of a card in a situation, and its call."""
        place = int(np.argmax(self.suits[:, index, card]))
        book = self.request.books[place]
        return book, book.calls[self.decided[place][card, index]]


def make_plan(request: Request, palette: Palette) -> Plan:
    """The exact plan for a request. Raises Refused where locks, bans and at_most contradict each other."""
    check(request, palette, (request.category,))
    cards = [card for card in palette.sold_in(request.category) if card.id not in request.ban]
    opinions = _Opinions(request, cards)
    needs = [opinions.needs(index) for index in range(len(request.situations))]
    millionths = [round(days * DAY) for days in request.days]
    able = [i for i, masks in enumerate(needs) if masks and all(masks) and millionths[i]]
    instance = Instance(
        days=np.array([millionths[i] for i in able], dtype=np.int64),
        needs=tuple(needs[i] for i in able),
        suits=opinions.suits.max(axis=0)[able] if able else np.zeros((0, len(cards)), dtype=np.int64),
        owned=mask_of(cards, request.owned),
        locked=mask_of(cards, request.lock),
    )
    solution = solve(instance, request.at_most)
    chosen = solution.chosen
    answered = {i for i, done in zip(able, instance.answered(chosen), strict=True) if done}
    served = _serve(opinions, chosen, sorted(answered), millionths)
    limit = f"Not among the {request.at_most} colours that answer most; one more would be needed."
    unanswered = [
        Unanswered(i, days / DAY, limit if i in able else opinions.why_none(i))
        for i, days in enumerate(millionths)
        if days and i not in answered
    ]
    return Plan(
        proved=solution.proved,
        at_least=solution.at_least,
        colours=tuple(_colours(instance, cards, chosen, served, request.owned)),
        served=tuple(served),
        unanswered=tuple(unanswered),
        expected_days=sum(millionths) / DAY,
        answered_days=sum(millionths[i] for i in answered) / DAY,
        curve=tuple((size, days / DAY) for size, days in solution.curve),
        order=tuple((cards[place], days / DAY) for place, days in buying_order(instance, chosen)),
    )


def days_answered(request: Request, palette: Palette, sets: Sequence[frozenset[str]]) -> list[float]:
    """The days that each of some sets of colours would answer, whatever the request locks or bans."""
    cards = palette.sold_in(request.category)
    opinions = _Opinions(request, cards)
    needs = [opinions.needs(index) for index in range(len(request.situations))]
    reached = []
    for colours in sets:
        mask = mask_of(cards, colours)
        done = (bool(masks) and all(need & mask for need in masks) for masks in needs)
        reached.append(sum(round(days * DAY) for days, ok in zip(request.days, done, strict=True) if ok) / DAY)
    return reached


def check(request: Request, palette: Palette, categories: Sequence[str]) -> None:
    """Raises Refused where a request names a colour of none of the categories, or contradicts itself."""
    sold = dict.fromkeys(card.id for category in categories for card in palette.sold_in(category))
    for field, ids in (("lock", request.lock), ("ban", request.ban), ("owned", request.owned)):
        for card_id in sorted(ids):
            if card_id not in sold:
                raise Refused(field, f"{card_id!r} is not a colour in {' or '.join(categories)}", sold)
    both = sorted(request.lock & request.ban)
    if both:
        raise Refused("lock", f"{both[0]!r} is locked and banned", "a colour in one of the two")
    if request.at_most is not None and len(request.lock) > request.at_most:
        raise Refused("at_most", f"{request.at_most} is fewer than the locked colours", f"{len(request.lock)} or more")


def _serve(opinions: _Opinions, chosen: int, answered: list[int], millionths: list[int]) -> list[Served]:
    best_suits = opinions.suits.max(axis=0)
    picked = list(bits(chosen))
    served = []
    for index in answered:
        fit = [place for place in picked if best_suits[index, place]]
        best = max(fit, key=lambda place: (best_suits[index, place], -place))
        book, call = opinions.deciding(index, best)
        others = tuple(opinions.cards[place] for place in fit if place != best)
        served.append(Served(index, millionths[index] / DAY, opinions.cards[best], call.grade, book, call, others))
    return served


def _colours(
    instance: Instance, cards: Sequence[Card], chosen: int, served: list[Served], owned: frozenset[str]
) -> list[Chosen]:
    whole = instance.answered(chosen)
    colours = []
    for place in bits(chosen):
        card = cards[place]
        mine = [s for s in served if s.card is card]
        without = instance.answered(chosen & ~(1 << place))
        alone = sum(int(d) for d, now, then in zip(instance.days, whole, without, strict=True) if now and not then)
        by_reason: dict[str, float] = {}
        for s in mine:
            by_reason[s.call.why] = by_reason.get(s.call.why, 0.0) + s.days
        silent = "Locked." if instance.locked >> place & 1 else "Here so that every school has a colour it accepts."
        reason = max(by_reason, key=lambda why: by_reason[why]) if by_reason else silent
        days = sum(round(s.days * DAY) for s in mine) / DAY
        others = tuple(cards[other] for other in bits(stand_ins(instance, chosen, place)))
        colours.append(Chosen(card, days, alone / DAY, card.id in owned, reason, others))
    return sorted(colours, key=lambda colour: -colour.days)


def mask_of(cards: Sequence[Card], ids: frozenset[str]) -> int:
    """The bit set of the places of some ids among cards."""
    return sum(1 << place for place, card in enumerate(cards) if card.id in ids)


def _listed(names: list[str]) -> str:
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]
