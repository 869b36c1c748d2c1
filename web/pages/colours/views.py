"""The Colours step: the palette, one card, cards side by side, the angler's own cards, and Ask."""

import calendar
from typing import Any

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.utils.safestring import SafeString
from django.views.decorators.http import require_POST

from tackle.base.errors import InvalidInput
from tackle.base.units import System, write_exact
from tackle.base.vocabulary import (
    CATEGORIES,
    TRAILER,
    Finish,
    Forage,
    Grade,
    Light,
    Season,
    Tone,
    ids,
)  # fmt: skip
from tackle.colours.colour import Colour
from tackle.colours.family import families, family
from tackle.colours.likeness import difference, most_alike, unlike_traits
from tackle.colours.palette import Palette, free_code
from tackle.schools.beside import beside
from tackle.schools.counsel import counsel
from tackle.schools.top_choice import ask
from tackle.situations.clarity import HOUSE_LADDER
from tackle.situations.conditions import CONDITIONS
from tackle.situations.situation import Situation, in_category
from tackle.situations.thrown import best_seasons
from web.common.accounts.request import OwnRequest
from web.common.ui.drawn import drawn
from web.common.ui.words import either, label, many
from web.domain.colours import selectors, services
from web.domain.crate.selectors import lure_codes
from web.domain.crate.services import drop_card
from web.domain.history.shown import add_errors
from web.domain.plans.selectors import Owned, get_owned, list_owned, thrown_in
from web.domain.rulebooks.selectors import list_rulebooks
from web.pages.colours.ask import ANY, STOPS_IN, read_question
from web.pages.colours.card_board import make_boards
from web.pages.colours.forms import CardForm, initial_values

MOST_SIDE_BY_SIDE, MOST_ALIKE = 3, 4
KEPT_SCRIPTS = [f"day/{name}.js" for name in ("clock", "lengths", "facts", "schools", "ask_kept")]  # without a signal
FIRST = ("see", "light", "wind", "season", "food", "on")  # that Ask asks outside its fold
# Conditions of words that have a place of their own on the form, or follow there from month and temperature.
PLACED = ("light", "wind", "stain", "season", "cover", "pace", "food", "on")
ASKED_AS = {
    "target": "After", "mood": "The fish are", "density": "The cover is", "current": "The water is",
}  # fmt: skip

BEST = 3  # kinds, where none is asked about


def colours(request: OwnRequest) -> HttpResponse:
    palette, own = get_owned(request.user).palette, selectors.own_ids(request.user)
    known = {"category": CATEGORIES, "tone": ids(Tone), "forage": ids(Forage), "finish": ids(Finish)}
    wanted = {name: v for name, allowed in known.items() if (v := request.GET.get(name, "")) in allowed}
    words = request.GET.get("q", "")[:60]

    def sticks() -> SafeString:
        found = selectors.searched(palette, words, wanted)
        shown = {"groups": _by_tone(found), "found": found, "every": palette.cards, "wanted": wanted, "own": own}
        return render_to_string("colours/found.html", shown)

    found = drawn("colours that are found", (palette, words, wanted, set(own)), sticks)
    if request.htmx:
        return HttpResponse(found)
    context = {"found": found, "every": palette.cards, "wanted": wanted, "words": words, "known": known}
    return render(request, "colours/colours.html", context)


def _by_tone(cards: list[Colour]) -> list[tuple[str, list[Colour]]]:
    return [(tone, some) for tone in ids(Tone) if (some := [card for card in cards if card.tone == tone])]


def card(request: OwnRequest, card_id: str) -> HttpResponse:
    palette = selectors.get_palette(request.user)
    found = _card(palette, card_id)
    category = request.GET.get("category", "")
    category = category if category in found.sold_in else (found.sold_in[0] if found.sold_in else "worm")
    season, food = request.GET.get("season", ""), request.GET.get("forage", "")
    boards = make_boards(
        found,
        category,
        Season(season) if season in ids(Season) else None,
        Forage(food) if food in ids(Forage) else Forage.UNKNOWN,
        list(list_rulebooks(request.user).values()),
    )
    context = {
        "card": found,
        "category": category,
        "season": season,
        "forage": food,
        "boards": boards,
        "seasons": ids(Season),
        "foods": ids(Forage),
        "lights": ids(Light),
        "alike": most_alike(found, [one for one in palette.sold_in(category) if one.id != found.id])[:MOST_ALIKE],
        "kin": [
            one
            for one in palette.sold_in(category)
            if one.id != found.id and family(one, category) == family(found, category)
        ],
        "own": selectors.own_ids(request.user),
        "other_face": palette.by_id.get(found.other_face or ""),
    }
    return render(request, "colours/boards.html" if request.htmx else "colours/card.html", context)


def compare(request: OwnRequest) -> HttpResponse:
    """Two or three cards side by side."""
    palette = selectors.get_palette(request.user)
    wanted = list(dict.fromkeys(value for value in request.GET.getlist("card") if value))[:MOST_SIDE_BY_SIDE]
    cards = [_card(palette, card_id) for card_id in wanted]
    shared = [c for c in CATEGORIES if all(c in one.sold_in for one in cards)] if cards else []
    category = request.GET.get("category", "")
    category = category if category in shared else (shared[0] if shared else "")
    books = list(list_rulebooks(request.user).values())
    boards = [(one, make_boards(one, category, None, Forage.UNKNOWN, books)) for one in cards] if category else []
    context = {
        "cards": cards,
        "one_family": category and len(cards) > 1 and len(families(cards, category)) == 1,
        "boards": boards,
        "shared": shared,
        "category": category,
        "every": palette.cards,
        "lights": ids(Light),
        "apart": [(a, b, difference(a, b), unlike_traits(a, b)) for i, a in enumerate(cards) for b in cards[i + 1 :]],
    }
    return render(request, "colours/compare.html", context)


def own(request: OwnRequest, card_id: str = "") -> HttpResponse:
    """The form for a card of the angler's own: a new one, a copy of ours, or one to change."""
    palette = selectors.get_palette(request.user)
    mine = card_id in selectors.own_ids(request.user)
    start = _card(palette, card_id) if card_id else None
    initial = initial_values(start) if start else {}
    if not mine:
        initial |= {"code": free_code({each.code for each in palette.by_id.values()})}
    if start and not mine:
        initial |= {"name": f"{start.name}, mine"}
    form = CardForm(request.POST or None, initial=initial)
    if request.method == "POST" and form.is_valid():
        try:
            return redirect("card", services.keep_card(request.user, form.entry(), card_id if mine else "").card)
        except ValidationError as error:
            add_errors(form, error)
    context = {"form": form, "card": start, "mine": mine}
    return render(request, "colours/own.html", context, status=422 if form.errors else 200)


@require_POST
def drop(request: OwnRequest, card_id: str) -> HttpResponse:
    messages.success(request, drop_card(request.user, card_id))
    return redirect("colours")


@require_POST
def bring_back(request: OwnRequest, card_id: str) -> HttpResponse:
    messages.success(request, services.bring_back(request.user, card_id))
    return redirect("card", card_id)


def _asked_more(request: OwnRequest) -> bool:
    """Whether anything is asked about beyond the first row of the form."""
    return any(request.GET.get(row.asked) for row in CONDITIONS.values() if row.asked and row.asked not in FIRST)


def question(request: OwnRequest) -> HttpResponse:
    """Ask: one situation, the answer at once, school by school."""
    units = request.user.units
    any_kind = request.GET.get("category") == ANY
    try:
        situation = read_question(request.GET, units)
    except InvalidInput as refused:
        context = {
            "refused": refused,
            "asked": request.GET,
            "asked_more": _asked_more(request),
            "see": request.GET.get("see", ""),
        }
        if request.htmx:
            return render(request, "colours/answer.html", context, status=422)
        return render(
            request, "colours/ask.html", _choices(units, get_owned(request.user).palette) | context, status=422
        )
    answer = _best_of_all(request, situation) if any_kind else _answer(request, situation)
    if request.htmx:
        return HttpResponse(answer)
    context = _choices(units, get_owned(request.user).palette) | {
        "situation": situation,
        "asked": request.GET,
        "asked_more": _asked_more(request),
        "see": write_exact(situation.visibility_in, units),
        "stop": min(range(len(STOPS_IN)), key=lambda place: abs(STOPS_IN[place] - situation.visibility_in)),
        "answer": answer,
        "any_kind": any_kind,
    }
    return render(request, "colours/ask.html", context)


def _choices(units: System, palette: Palette) -> dict[str, Any]:
    """What there is to choose from, for every condition of words."""
    jigs = [card for one in CATEGORIES.values() if one.takes_trailer for card in palette.sold_in(one.id)]
    words = {row.asked: ids(row.words) for row in CONDITIONS.values() if row.asked and row.words}
    return {
        "kept_scripts": KEPT_SCRIPTS,
        "categories": CATEGORIES,
        "words": words,
        "months": [(str(number), name) for number, name in enumerate(calendar.month_name) if number],
        "more": [(name, ASKED_AS.get(name) or label(name), some) for name, some in words.items() if name not in PLACED],
        "jig_tones": list(dict.fromkeys(card.tone.value for card in jigs)),
        "foods": [food for food in words["food"] if food != "unknown"],
        "stops": [(inches, write_exact(inches, units)) for inches in STOPS_IN],
    }


def _answer(request: OwnRequest, situation: Situation) -> str:
    owned = get_owned(request.user)
    books, palette, followed = tuple(owned.books.values()), owned.palette, tuple(owned.plan.schools)
    mine, planned = list_owned(request.user, situation.category)
    trailers = tuple(card for card in palette.sold_in(TRAILER) if card.id in owned.counts.get(TRAILER, {}))
    lies = {card: refs[0] for card, refs in _refs(owned, situation.category).items() if card in mine and not planned}

    def said() -> SafeString:
        answer = counsel(situation, palette, books, [book for book in books if book.id in followed], mine, trailers)
        shown = {
            "mine": mine,
            "planned": planned,
            "lies": lies,
            "situation": situation,
            "band": HOUSE_LADDER.band_at(situation.visibility_in),
            "answer": answer,
            "beside": beside(answer.start.card, situation, request.user.units) if answer.start else [],
            "books": books,
            "cards": palette.sold_in(situation.category),
            "grades": ids(Grade),
            "units": request.user.units,
        }
        return render_to_string("colours/answer.html", shown)

    asked = situation, palette, books, followed, mine, planned, trailers, tuple(lies.items()), request.user.units
    return drawn("answer of Ask", asked, said)


def _best_of_all(request: OwnRequest, situation: Situation) -> str:
    """Over all that one throws, the kinds to begin with and the colour of each."""
    owned = get_owned(request.user)
    basis, found = owned.basis, []
    for category in basis.categories:
        there = in_category(situation, category)
        if not thrown_in(basis, category).on(there):
            continue
        have, planned = list_owned(request.user, category)
        asked = ask(basis.books, basis.palette.sold_in(category), there)
        if start := asked.start(have):
            best = there.phase in best_seasons(category)
            refs = {} if planned else _refs(owned, category)
            found.append((best, asked.most, category, start, refs.get(start.card.id, [""])[0]))
    found.sort(key=lambda one: (-one[0], -one[1]))
    context = {"situation": situation, "band": HOUSE_LADDER.band_at(situation.visibility_in), "best": found[:BEST]}
    context["names"] = either([many(category) for _, _, category, *_ in found[:BEST]])
    return render_to_string("colours/best.html", context)


def _refs(owned: Owned, category: str) -> dict[str, list[str]]:
    """Where the lures of a category lie that can be thrown, by the ids of their cards."""
    called, found = lure_codes(owned.shelf), dict[str, list[str]]()
    for one in owned.shelf:
        if one.lure.category == category and one.lure.is_usable:
            found.setdefault(one.lure.card.id, []).append(called[int(one.lure.ref)])
    return found


def _card(palette: Palette, card_id: str) -> Colour:
    found = palette.by_id.get(card_id)
    if found is None:
        raise Http404
    return found
