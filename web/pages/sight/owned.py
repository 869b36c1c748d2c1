"""The fish's eye on what is owned and what is planned: who is nearly one down there, over the angler's own days."""

from dataclasses import dataclass

from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import render

from tackle.base.store import kept
from tackle.base.vocabulary import CATEGORIES
from tackle.check.reach import Reached, make_reach
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.sight.alike import Yardstick
from tackle.sight.pairs import HardlyApart, better_dropped, find_pairs
from web.common.accounts.models import User
from web.common.accounts.request import OwnRequest
from web.domain.crate.services import set_yardstick
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
    """What is aboard, pair by pair: nearly one down there, and parted there though alike in the hand. Posted: the
    two colours that are the measure."""
    owner, wrong = request.user, ""
    if request.method == "POST":
        try:
            data = (request.POST.get(name, "") for name in ("first", "second", "depth"))
            set_yardstick(owner, *data)
        except ValidationError as error:
            wrong = " ".join(error.messages)
    basis = get_basis(owner)
    measure = get_yardstick(owner, basis.palette)
    one: list[HardlyApart] = []
    parted: list[HardlyApart] = []
    aboard: dict[str, dict[str, Colour]] = {}
    for each in get_owned(owner).stock:
        if not each.at_home:
            aboard.setdefault(each.lure.category, {})[each.lure.card.id] = each.lure.card
    for category, cards in aboard.items():
        pairs = _pairs(category, tuple(cards.values()), basis.days, measure)
        one += [pair for pair in pairs if pair.nearly_one]
        parted += [pair for pair in pairs if pair.parted_below]
    context = {
        "one": sorted(one, key=lambda pair: (pair.real, -pair.share))[:MOST],
        "more": max(len(one) - MOST, 0),
        "parted": sorted(parted, key=lambda pair: pair.share)[:MOST],
        "measure": measure,
        "choices": basis.palette.cards,
        "wrong": wrong,
    }
    return render(request, "sight/doubles.html", context, status=422 if wrong else 200)


def planned(request: OwnRequest) -> HttpResponse:
    """Of the plan for one category, the colours that are nearly one to the fish, and what dropping one would cost."""
    category = request.GET.get("category", "")
    found: list[Cheaper] = []
    basis = get_basis(request.user)
    measure = get_yardstick(request.user, basis.palette)
    if category in CATEGORIES and category in basis.categories:
        answered = answer(basis, category)
        if not answered.paired:
            cards = tuple(piece.card for piece in answered.answer.pieces)
            pairs = [pair for pair in _pairs(category, cards, basis.days, measure) if pair.nearly_one]
            reached = make_reach(answered.request, basis.palette)
            found = [Cheaper(pair, *better_dropped(pair, cards, reached)) for pair in pairs]
    context = {"found": found, "category": category, "measure": measure}
    return render(request, "sight/cheaper.html", context)


def get_yardstick(owner: User, palette: Palette) -> Yardstick:
    """The two colours that the owner takes for nearly one, and how deep."""
    return Yardstick(palette.known(owner.alike_first), palette.known(owner.alike_second), owner.alike_depth_ft)


@kept("hardly apart")
def _pairs(category: str, cards: tuple[Colour, ...], days: Days, measure: Yardstick) -> tuple[HardlyApart, ...]:
    return find_pairs(category, cards, days.kept, measure)
