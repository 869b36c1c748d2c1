"""The fish's eye on what is owned and what is planned: who is nearly one down there, over the angler's own days."""

from dataclasses import dataclass

from django.http import HttpResponse
from django.shortcuts import render

from tackle.base.store import kept
from tackle.base.vocabulary import CATEGORIES
from tackle.check.reach import Reached, make_reach
from tackle.colours.colour import Colour
from tackle.sight.pairs import HardlyApart, better_dropped, find_pairs
from web.common.accounts.request import OwnRequest
from web.domain.plans.selectors import answer, get_basis, get_owned
from web.domain.waters.selectors import Days

MOST = 5


@dataclass(frozen=True, slots=True)
class Cheaper:
    """Two colours of a plan that are nearly one, and what dropping the one that costs less would cost."""

    pair: HardlyApart
    drop: Colour
    keep: Colour
    cost: Reached


def doubles(request: OwnRequest) -> HttpResponse:
    """What is aboard, pair by pair: one to the fish, and two though alike in the hand."""
    owner = request.user
    basis = get_basis(owner)
    one: list[HardlyApart] = []
    parted: list[HardlyApart] = []
    aboard: dict[str, dict[str, Colour]] = {}
    for each in get_owned(owner).stock:
        if not each.at_home:
            aboard.setdefault(each.lure.category, {})[each.lure.card.id] = each.lure.card
    for category, cards in aboard.items():
        pairs = _pairs(category, tuple(cards.values()), basis.days)
        one += [pair for pair in pairs if pair.nearly_one]
        parted += [pair for pair in pairs if pair.parted_below]
    context = {
        "one": sorted(one, key=lambda pair: (pair.real, -pair.share))[:MOST],
        "more": max(len(one) - MOST, 0),
        "parted": sorted(parted, key=lambda pair: pair.share)[:MOST],
    }
    return render(request, "sight/doubles.html", context)


def planned(request: OwnRequest) -> HttpResponse:
    """Of the plan for one category, the colours that are nearly one to the fish, and what dropping one would cost."""
    category = request.GET.get("category", "")
    found: list[Cheaper] = []
    basis = get_basis(request.user)
    if category in CATEGORIES and category in basis.categories:
        answered = answer(basis, category)
        if not answered.paired:
            cards = tuple(piece.card for piece in answered.answer.pieces)
            pairs = [pair for pair in _pairs(category, cards, basis.days) if pair.nearly_one]
            reached = make_reach(answered.request, basis.palette)
            found = [Cheaper(pair, *better_dropped(pair, cards, reached)) for pair in pairs]
    context = {"found": found, "category": category}
    return render(request, "sight/cheaper.html", context)


@kept("hardly apart")
def _pairs(category: str, cards: tuple[Colour, ...], days: Days) -> tuple[HardlyApart, ...]:
    return find_pairs(category, cards, days.kept)
