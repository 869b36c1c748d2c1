"""The order of the day by book and log together: drawn once a trip, so that a reload says the same."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tackle.colours.card import Card
from tackle.day.rotation import Turns, by_role
from tackle.learn.assumed import assumed
from tackle.learn.book import words_of
from tackle.learn.choice import book_here, order_drawn
from tackle.learn.log import cell_of, telling
from tackle.learn.model import Belief
from tackle.situations.situation import Situation
from web.accounts.models import User
from web.day.evidence import belief_of, logged
from web.day.models import Trip
from web.plans.reads import Basis

NOTED = 1.15  # times the average: from here on the log is named as a reason


@dataclass(frozen=True, slots=True)
class Advice:
    """What the log makes of one situation: the colours in the order to throw them, and the reason in words."""

    order: tuple[Card, ...]
    why: str


def advice_of(
    owner: User,
    basis: Basis,
    trip: Trip,
    category: str,
    situations: Sequence[Situation],
    turns: Sequence[Turns | None],
) -> list[Advice | None] | None:
    """For each situation the order by book and log of the colours that the turns there offer; None in place of all
    where the log tells nothing between them."""
    offered = {card.id for each in turns if each for card in each.order}
    sold = tuple(card for card in basis.palette.sold_in(category) if card.id in offered)
    log = logged(owner, category, basis.palette, trip.date)
    mine = tuple(turn for turn in log.turns if turn.colour in offered)
    if not telling(mine):
        return None
    told, words = assumed(), words_of(basis.books, sold, category, situations)
    found: list[Advice | None] = []
    for situation, here, each in zip(situations, words, turns, strict=True):
        cell = cell_of(situation, told)
        belief, said = belief_of(category, mine, sold, basis.books, cell)
        book = dict(zip((card.id for card in sold), map(float, here), strict=True))
        rng = np.random.default_rng([trip.pk, *map(ord, category), *map(ord, "".join(cell or ()))])
        drawn = order_drawn(belief, rng, book_here(belief, said, book, told.spread))
        order = by_role([basis.palette.by_id[one] for one in drawn if each and basis.palette.by_id[one] in each.order])
        found.append(Advice(order, _why(order[0], belief)) if order else None)
    return found


def _why(card: Card, belief: Belief) -> str:
    times = math.exp(belief.middle(belief.colours.index(card.id)))
    if times >= NOTED:
        return f"Your log and the book together: {times:.1f} times the bites of the average in water like this."
    return "Drawn by book and log: it may be the best, and is not known well enough."
