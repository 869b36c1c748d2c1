"""What a phone keeps of a trip, so that it answers without a signal: the tray, and the schools' calls as data."""

from collections.abc import Iterable
from typing import Any

from tackle.base.vocabulary import CATEGORIES, TRAILER, Forage, Stain, Wind
from tackle.colours.colour import Colour
from tackle.day.log import Tap
from tackle.day.phone_book import book_for_phone
from tackle.learn.fair_test import bites_needed, ends_at
from tackle.situations.clarity import BANDS
from tackle.situations.conditions import CHOICES, CONDITIONS
from tackle.situations.depth import own_depth_ft
from tackle.situations.situation import Situation
from web.common.accounts.models import User
from web.common.ui.words import label, sky
from web.domain.crate.selectors import Stock, lure_codes
from web.domain.plans.selectors import Basis, get_basis, get_owned
from web.domain.trips.models import Trip
from web.domain.trips.selectors import Evening, all_gone, evening_from, newly_gone
from web.domain.trips.turns import as_read, list_taps

MOST_TAPS = 400  # of a trip that a phone gets back
MOST_TEST = 300  # bites of a fair test that the phone can tell of
TOLD = ("light", "wind", "stain", "cover", "density", "pace", "mood", "current", "tide")  # by one press of a few words


def kept_on_phone(owner: User, trip: Trip) -> tuple[dict[str, Any], list[Colour]]:
    """All that the page on the water needs, as plain data; and the cards whose sticks it shows."""
    basis = get_basis(owner)
    stock = get_owned(owner).stock
    evening = evening_from(basis, stock, trip)
    aboard, refs = list_aboard(stock, evening), lure_codes(stock)
    cards = list({card.id: card for listed in aboard.values() for card in listed}.values())
    listed = [one for one in evening.tray.firsts[0] if one in aboard]
    foods, more = evening.foods
    data = {
        "trip": trip.pk,
        "owner": owner.pk,
        "called": owner.username,
        "date": trip.date.isoformat(),
        "water": trip.water.name,
        "units": owner.units,
        "turn": trip.turn_minutes,
        "categories": {category: label(category) for category in listed},
        "tray": {one: [card.id for card in _packed(evening, one, basis)] for one in aboard},
        "counts": {f"{piece.category} {piece.card.id}": piece.count for piece in evening.shown.pieces},
        "aboard": {category: [card.id for card in those] for category, those in aboard.items()},
        "stock": _stock(stock, trip),
        "where": {
            f"{one.lure.category} {one.lure.card.id}": refs[int(one.lure.ref)] for one in reversed(stock) if one.aboard
        },
        "cards": {card.id: {"name": card.name, "code": card.code} for card in cards},
        "book": book_for_phone(aboard, basis.books, basis.palette, evening.logs),
        "told": {one: _as_told(evening.hours[0].of(one)) for one in listed},
        "works_ft": {one: own_depth_ft(one) for one in listed},
        "hours": [
            {"hour": one.hour, "light": one.light, "wind": one.wind or Wind.RIPPLE, **_warm(hour.situation)}
            for one, hour in zip(evening.skies, evening.hours, strict=True)
        ],
        "now": {"visibility_in": evening.visibility_in, "usual_in": evening.clarity.likely_in},
        "foods": foods,
        "more_foods": more,
        "words": {
            **{name: {one: _word(name, one) for one in CHOICES[name]} for name in TOLD},
            "food": {food: _food(food) for food in (*foods, *more)},
            "band": {band: label(band).lower() for band in BANDS},
        },
        "partner_tray": _partner_tray(evening, basis),
        "tide": {hour: flow.value for hour, flow in evening.flows.items()},
        "taps": _taps(trip),
        "zone": trip.water.time_zone,
        "test": {"ends": ends_at(MOST_TEST), "twice": bites_needed(2.0), "half_more": bites_needed(1.5)},
    }  # fmt: skip
    return data, cards


def _stock(stock: Iterable[Stock], trip: Trip) -> dict[str, int]:
    """How many of each lure came along, in the tray or beside it: what is gone has left the counts already."""
    newly = newly_gone(trip)
    counts = {where: count - newly.get(where, 0) for where, count in all_gone(trip).items()}
    for one in stock:
        if one.aboard:
            where = f"{one.lure.category} {one.lure.card.id}"
            counts[where] = counts.get(where, 0) + one.lure.count
    return counts


def list_aboard(stock: Iterable[Stock], evening: Evening) -> dict[str, list[Colour]]:
    """What can be thrown, by category: the tray first, then what else is aboard; trailers last."""
    thrown = [*evening.tray.firsts[0]]
    aboard: dict[str, list[Colour]] = {category: [] for category in thrown}
    if any(CATEGORIES[one].takes_trailer for one in thrown):
        aboard.setdefault(TRAILER, [])
    for piece in evening.shown.pieces:
        aboard.setdefault(piece.category, []).append(piece.card)
    for one in stock:
        listed = aboard.get(one.lure.category)
        if one.aboard and listed is not None and one.lure.card not in listed:
            listed.append(one.lure.card)
    return {category: listed for category, listed in aboard.items() if listed}


def _partner_tray(evening: Evening, basis: Basis) -> dict[str, list[str]]:
    """What is in the partner's tray, by category; none where nobody fishes along."""
    found: dict[str, list[Colour]] = {}
    for piece in evening.partner.pieces if evening.partner else ():
        found.setdefault(piece.category, []).append(piece.card)
    return {one: [card.id for card in _listed(cards, one, basis)] for one, cards in found.items()}


def _packed(evening: Evening, category: str, basis: Basis) -> list[Colour]:
    """What is in the tray of a kind."""
    return _listed([piece.card for piece in evening.shown.pieces if piece.category == category], category, basis)


def _listed(cards: list[Colour], category: str, basis: Basis) -> list[Colour]:
    """Some cards in the palette's order."""
    mine = {card.id for card in cards}
    return [card for card in basis.palette.sold_in(category) if card.id in mine]


def _as_told(situation: Situation) -> dict[str, Any]:
    """What is known of the day, by what rules are held against; the sky comes by the hour."""
    found = {name: getattr(situation, row.column or row.field) for name, row in CONDITIONS.items()}
    return {name: value for name, value in found.items() if name not in ("light", "wind", "tide", "with")}


def _warm(situation: Situation) -> dict[str, Any]:
    return {"water_temp_f": situation.likely_temp_f, "season": situation.phase}


def _food(food: Forage) -> str:
    return "nobody knows" if food is Forage.UNKNOWN else label(food).lower()


def _word(name: str, value: str) -> str:
    if name == "light":
        return sky(value)
    return "clean" if (name, value) == ("stain", Stain.NONE) else label(value).lower()


def _taps(trip: Trip) -> list[dict[str, Any]]:
    """The last taps of the trip, for a phone that has none of them."""
    return [_tap(tap) for tap in list_taps(trip)[-MOST_TAPS:]]


def _tap(tap: Tap) -> dict[str, Any]:
    names = ("id", "device", "place", "angler", "kind", "at", "time", "data")
    return {name: getattr(tap, name) for name in names}


def taps_after(trip: Trip, after: int) -> dict[str, Any]:
    """The taps of a trip that came after the one with a key, and the key of the last."""
    rows = list(trip.taps.filter(pk__gt=after).order_by("pk")[:MOST_TAPS])
    return {"taps": [_tap(as_read(row)) for row in rows], "last": rows[-1].pk if rows else after}
