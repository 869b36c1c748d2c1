"""The order of the day by book and log together: drawn once a trip, so that a reload says the same."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tackle.colours.card import Card
from tackle.day.rotation import by_role
from tackle.learn.assumed import assumed
from tackle.learn.book import words_of
from tackle.learn.choice import order_drawn, still_book
from tackle.learn.log import cell_of
from tackle.learn.model import Belief
from tackle.situations.situation import Situation
from web.accounts.models import User
from web.day.models import Trip
from web.learned.reads import belief_of, days_said, logged
from web.plans.reads import Basis

NOTED = 1.15  # times the average: from here on the log is named as a reason


@dataclass(frozen=True, slots=True)
class Advice:
    """What the log makes of one situation: the colours in the order to throw them, and the reason in words."""

    order: tuple[Card, ...]
    why: str


def advice_of(
    owner: User, basis: Basis, trip: Trip, category: str, cards: Sequence[Card], situations: Sequence[Situation]
) -> list[Advice] | None:
    """For each situation the order by book and log; None where the log tells nothing between these colours."""
    log = logged(owner, category, basis.palette, trip.date)
    ids = {card.id for card in cards}
    mine = tuple(turn for turn in log.turns if turn.colour in ids)
    if not days_said(mine)[0]:
        return None
    sold = tuple(card for card in basis.palette.sold_in(category) if card.id in ids)
    words = words_of(basis.books, sold, category, situations)
    told = assumed()
    found = []
    for place, situation in enumerate(situations):
        cell = cell_of(situation, told)
        belief, book = belief_of(category, mine, sold, basis.books, cell)
        still = still_book(belief, told.spread)
        moved = {
            card.id: still[card.id] * (words[place, at] - book[card.id]) for at, card in enumerate(sold)
        }  # fmt: skip
        rng = np.random.default_rng([trip.pk, *map(ord, category), *map(ord, "".join(cell or ()))])
        drawn = order_drawn(belief, rng, moved)
        order = by_role([card for one in drawn for card in sold if card.id == one])
        found.append(Advice(order, _why(order[0], belief)))
    return found


def _why(card: Card, belief: Belief) -> str:
    times = math.exp(belief.middle(belief.colours.index(card.id)))
    if times >= NOTED:
        return f"Your log and the book together: {times:.1f} times the bites of the average in water like this."
    return "Drawn by book and log: it may be the best, and is not known well enough."
