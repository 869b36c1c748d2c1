"""A plan for one category: the fewest colours for the days to expect, and what each is for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.instance import DAY, Instance, bits, by_needs, row_masks
from tackle.cover.opinions import Opinions, mask_of, opinions_of
from tackle.cover.solution import buying_order, solve, stand_ins
from tackle.errors import Refused
from tackle.schools.call import Call
from tackle.schools.rulebook import Rulebook
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
    "goes_between",
    "make_plan",
    "opinions_for",
]


@dataclass(frozen=True, slots=True)
class Request:
    """What to plan. `days` goes with `situations`; colours are card ids of the category.

    `salt`, where it is given, says of each situation whether its water is salt: then a colour that serves a day or
    more in both fresh and salt is preferred among sets of one size. `cents`: what colours cost, by card id.
    `owned_trailers`: where jigs are planned with trailers, the trailers owned; None: what `owned` names of them.
    """

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
    salt: tuple[bool, ...] = ()
    cents: frozenset[tuple[str, int]] = frozenset()
    owned_trailers: frozenset[str] | None = None


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

    @property
    def size(self) -> int:
        """How many colours there are."""
        return len(self.colours)


def make_plan(request: Request, palette: Palette) -> Plan:
    """The exact plan for a request. Raises Refused where locks, bans and at_most contradict each other."""
    check(request, palette, (request.category,))
    opinions = opinions_for(request, palette)
    cards = opinions.cards
    banned = mask_of(cards, request.ban)
    allowed = ((1 << len(cards)) - 1) & ~banned
    needs = [tuple(mask & allowed for mask in masks) for masks in opinions.needs]
    millionths = [round(days * DAY) for days in request.days]
    able = [i for i, masks in enumerate(needs) if masks and all(masks) and millionths[i]]
    suits = opinions.best[able] if able else np.zeros((0, len(cards)), dtype=np.int64)
    suits[:, list(bits(banned))] = 0
    instance = Instance(
        days=np.array([millionths[i] for i in able], dtype=np.int64),
        needs=tuple(needs[i] for i in able),
        suits=suits,
        owned=mask_of(cards, request.owned),
        locked=mask_of(cards, request.lock),
        prized=goes_between(request, opinions),
        costs=_costs(request, cards),
    )
    solution = solve(instance, request.at_most)
    chosen = solution.chosen
    answered = {i for i, done in zip(able, instance.answered(chosen), strict=True) if done}
    served = _serve(opinions, chosen, sorted(answered), millionths)
    limit = f"Not among the {request.at_most} colours that answer most; one more would be needed."
    possible = set(able)
    unanswered = [
        Unanswered(i, days / DAY, limit if i in possible else opinions.why_none(i, banned))
        for i, days in enumerate(millionths)
        if days and i not in answered
    ]
    small = by_needs(instance)
    return Plan(
        proved=solution.proved,
        at_least=solution.at_least,
        colours=tuple(_colours(small, cards, chosen, served, request.owned)),
        served=tuple(served),
        unanswered=tuple(unanswered),
        expected_days=sum(millionths) / DAY,
        answered_days=sum(millionths[i] for i in answered) / DAY,
        curve=tuple((size, days / DAY) for size, days in solution.curve),
        order=tuple((cards[place], days / DAY) for place, days in buying_order(small, chosen)),
    )


def goes_between(request: Request, opinions: Opinions) -> int:
    """The bit set of the cards that serve a day or more in fresh water and in salt; none where `salt` is not told."""
    if not request.salt:
        return 0
    days, salt = np.array(request.days), np.array(request.salt)
    met = opinions.best > 0
    both = (days[~salt] @ met[~salt] >= 1) & (days[salt] @ met[salt] >= 1)
    return row_masks(both[None, :])[0]


def _costs(request: Request, cards: Sequence[Card]) -> tuple[int, ...]:
    cents = dict(request.cents)
    return tuple(cents.get(card.id, 0) for card in cards) if cents else ()


def opinions_for(request: Request, palette: Palette) -> Opinions:
    """What the schools of a request say of every card."""
    return opinions_of(request.category, request.books, request.situations, request.agree_all, request.accept, palette)


def days_answered(request: Request, palette: Palette, sets: Sequence[frozenset[str]]) -> list[float]:
    """The days that each of some sets of colours would answer, whatever the request locks or bans."""
    opinions = opinions_for(request, palette)
    millionths = np.array([round(days * DAY) for days in request.days], dtype=np.int64)
    return [int(millionths[opinions.met_by(mask_of(opinions.cards, colours))].sum()) / DAY for colours in sets]


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


def _serve(opinions: Opinions, chosen: int, answered: list[int], millionths: list[int]) -> list[Served]:
    picked = list(bits(chosen))
    served = []
    for index, row in zip(answered, opinions.best[answered][:, picked].tolist(), strict=True):
        fit = [(suit, -place) for suit, place in zip(row, picked, strict=True) if suit]
        best = -max(fit)[1]
        book, call = opinions.deciding(index, best)
        others = tuple(opinions.cards[-place] for _, place in fit if -place != best)
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
