"""The fish's eye on what is owned and what is planned: who is nearly one down there, over the angler's own days."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import render

from tackle.check.reach import Reach, Reached
from tackle.colours.card import Card
from tackle.colours.likeness import difference, never_one
from tackle.colours.palette import Palette
from tackle.kept import kept
from tackle.sight.alike import Yardstick, days_alike, views_of
from tackle.vocabulary import CATEGORIES
from web.accounts.models import User
from web.accounts.request import OwnRequest
from web.plans.reads import answer, basis_of
from web.stock.changes import set_yardstick
from web.stock.reads import stock_of
from web.waters.reads import Days

MOSTLY = 0.8  # of the days: from here on two are nearly one in the angler's water
PARTED = 0.5  # of the days on which two that look alike in the hand part
MOST = 5


@dataclass(frozen=True, slots=True)
class Pair:
    """Two colours of a category, the days on which the fish would hardly part them, and of how many."""

    category: str
    first: Card
    second: Card
    days: float
    of: float
    real: bool  # whether an angler never takes them for one, whatever the eye says

    @property
    def share(self) -> float:
        return self.days / self.of if self.of else 0.0


@dataclass(frozen=True, slots=True)
class Cheaper:
    """Two colours of a plan that are nearly one, and what dropping the one that costs less would cost."""

    pair: Pair
    drop: Card
    keep: Card
    cost: Reached


def doubles(request: OwnRequest) -> HttpResponse:
    """What is aboard, pair by pair: nearly one down there, and parted there though alike in the hand. Posted: the
    two colours that are the measure."""
    owner, wrong = request.user, ""
    if request.method == "POST":
        try:
            told = (request.POST.get(name, "") for name in ("first", "second", "depth"))
            set_yardstick(owner, *told)
        except ValidationError as error:
            wrong = " ".join(error.messages)
    basis = basis_of(owner)
    measure = yardstick_of(owner, basis.palette)
    one: list[Pair] = []
    parted: list[Pair] = []
    aboard: dict[str, dict[str, Card]] = {}
    for each in stock_of(owner, basis.palette):
        if not each.at_home:
            aboard.setdefault(each.lure.category, {})[each.lure.card.id] = each.lure.card
    for category, cards in aboard.items():
        pairs = pairs_of(category, tuple(cards.values()), basis.days, measure)
        one += [pair for pair in pairs if pair.share >= MOSTLY]
        parted += [pair for pair in pairs if 1 - pair.share >= PARTED and _in_hand(pair, owner)]
    context = {
        "one": sorted(one, key=lambda pair: (pair.real, -pair.share))[:MOST],
        "more": max(len(one) - MOST, 0),
        "parted": sorted(parted, key=lambda pair: pair.share)[:MOST],
        "measure": measure,
        "choices": basis.palette.cards,
        "wrong": wrong,
    }
    return render(request, "sight/doubles.html", context, status=422 if wrong else 200)


def _in_hand(pair: Pair, owner: User) -> bool:
    """Whether two look alike in the hand: about as near as what counts as one, and nothing seen that differs."""
    return difference(pair.first, pair.second) <= max(owner.same_within, 12.0) and pair.first.tone is pair.second.tone


def planned(request: OwnRequest) -> HttpResponse:
    """Of the plan for one category, the colours that are nearly one to the fish, and what dropping one would cost."""
    category = request.GET.get("category", "")
    found: list[Cheaper] = []
    basis = basis_of(request.user)
    measure = yardstick_of(request.user, basis.palette)
    if category in CATEGORIES and category in basis.plan.categories:
        answered = answer(basis, category)
        if not answered.paired:
            cards = tuple(one.card for one in answered.answer.pieces)
            pairs = [pair for pair in pairs_of(category, cards, basis.days, measure) if pair.share >= MOSTLY]
            reach = Reach([answered.request], basis.palette)
            found = [_cheaper(pair, cards, reach) for pair in pairs]
    context = {"found": found, "category": category, "measure": measure}
    return render(request, "sight/cheaper.html", context)


def _cheaper(pair: Pair, cards: Sequence[Card], reach: Reach) -> Cheaper:
    whole = reach.reached(cards)
    costs = [(whole - reach.reached(set(cards) - {card}), card) for card in (pair.first, pair.second)]
    cost, drop = min(costs, key=lambda told: (told[0].days, told[0].right))
    return Cheaper(pair, drop, pair.second if drop is pair.first else pair.first, cost)


def yardstick_of(owner: User, palette: Palette) -> Yardstick:
    """The two colours that the owner takes for nearly one, and how deep."""
    return Yardstick(palette.known(owner.alike_first), palette.known(owner.alike_second), owner.alike_depth_ft)


@kept(megabytes=2)
def pairs_of(category: str, cards: tuple[Card, ...], days: Days, measure: Yardstick) -> tuple[Pair, ...]:
    """All pairs of some colours over the days on which their category is thrown."""
    there = [row for row in days.kept if row.water.throws(category)]
    views = views_of(there)
    total = sum(views.values())
    if len(cards) < 2 or not total:
        return ()
    alike = days_alike(cards, views, measure)
    return tuple(
        Pair(
            category, cards[one], cards[other], round(float(alike[one, other]), 1), round(total, 1),
            never_one(cards[one], cards[other]),
        )
        for one, other in combinations(range(len(cards)), 2)
    )  # fmt: skip
