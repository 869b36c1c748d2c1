"""What a phone keeps of a trip, so that it answers without a signal: the tray, and a table for whatever comes."""

from collections.abc import Iterable
from typing import Any

from tackle.colours.card import Card
from tackle.day.phone_table import table_of
from tackle.day.rotation import Turns
from tackle.learn.fair_test import bites_needed, ends_at
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.vocabulary import Forage, Light, Stain, Wind, ids
from web.accounts.models import User
from web.crate.reads import Stock, stock_of
from web.day.advice import Advice, advice_of
from web.day.models import Trip
from web.day.reads import Evening, evening_from
from web.plans.reads import basis_of
from web.ui.words import label, sky

MOST_TEST = 300  # bites of a fair test that the phone can tell of


def kept_on_phone(owner: User, trip: Trip) -> tuple[dict[str, Any], list[Card]]:
    """All that the page on the water needs, as plain data; and the cards whose sticks it shows."""
    basis = basis_of(owner)
    stock = stock_of(owner, basis.palette)
    evening = evening_from(basis, stock, trip)
    aboard = aboard_of(stock, evening)
    cards = list({card.id: card for listed in aboard.values() for card in listed}.values())
    foods = _foods(trip, evening)
    table = table_of(evening.hours[0].situation, aboard, foods, basis.books, basis.palette)
    advice = {
        category: advice_of(
            owner,
            basis,
            trip,
            category,
            table.situations[category],
            [turns[category] for turns in table.cells.values()],
        )
        for category in aboard
    }
    entries: dict[tuple[Any, ...], int] = {}
    cells = {}
    for at, (cell, turns) in enumerate(table.cells.items()):
        places = []
        for category in aboard:
            told = advice[category]
            entry = _entry(turns[category], told[at] if told else None)
            places.append(entries.setdefault(entry, len(entries)))
        cells[f"{cell.band}|{cell.light}|{cell.wind}|{cell.food}"] = places
    names = ("order", "why", "school", "grade", "loud")
    data = {
        "trip": trip.pk,
        "owner": owner.pk,
        "called": owner.username,
        "date": trip.date.isoformat(),
        "water": trip.water.name,
        "units": owner.units,
        "turn": trip.turn_minutes,
        "categories": {category: label(category) for category in aboard},
        "tray": [
            {"category": piece.category, "card": piece.card.id, "count": piece.count} for piece in evening.tray.pieces
        ],
        "aboard": {category: [card.id for card in listed] for category, listed in aboard.items()},
        "cards": {card.id: {"name": card.name, "code": card.code} for card in cards},
        "cells": cells,
        "entries": [dict(zip(names, entry, strict=True)) if entry else None for entry in entries],
        "near": {
            category: {card: near.id if near else None for card, near in steps.items()}
            for category, steps in table.near.items()
        },
        "bands": [[band, *HOUSE_LADDER.range_of(band)] for band in BANDS],
        "hours": [{"hour": one.hour, "light": one.light, "wind": one.wind or Wind.RIPPLE} for one in evening.skies],
        "now": {
            "visibility_in": evening.visibility_in,
            "usual_in": evening.clarity.likely_in,
            "stain": evening.stain,
            "food": foods[0],
        },
        "words": {
            "light": {one: sky(one) for one in ids(Light)},
            "wind": {one: label(one) for one in ids(Wind)},
            "stain": {one: "clean" if one == Stain.NONE else label(one).lower() for one in ids(Stain)},
            "food": {food: label(food).lower() for food in foods},
            "band": {band: label(band).lower() for band in BANDS},
        },
        "others": _others(trip),
        "test": {"ends": ends_at(MOST_TEST), "twice": bites_needed(2.0), "half_more": bites_needed(1.5)},
    }
    return data, cards


def aboard_of(stock: Iterable[Stock], evening: Evening) -> dict[str, list[Card]]:
    """What can be thrown, by category: the tray first, then what else is aboard."""
    aboard: dict[str, list[Card]] = {category: [] for category in evening.tray.firsts[0]}
    for piece in evening.tray.pieces:
        aboard[piece.category].append(piece.card)
    for one in stock:
        listed = aboard.get(one.lure.category)
        if one.aboard and listed is not None and one.lure.card not in listed:
            listed.append(one.lure.card)
    return {category: listed for category, listed in aboard.items() if listed}


def _entry(turns: Turns | None, advice: Advice | None) -> tuple[Any, ...]:
    if turns is None:
        return ()
    order = tuple(card.id for card in (advice.order if advice else turns.order))
    why, who = (advice.why, "your log") if advice else (turns.call.why, turns.book.name)
    return order, why, who, turns.grade.value, turns.loud.id if turns.loud else None


def _foods(trip: Trip, evening: Evening) -> list[Forage]:
    """What may be eaten there in that month, what is mostly eaten first; and that nobody knows."""
    told = evening.hours[0].situation.forage[:1]
    eaten = next(row for row in trip.water.year.all() if row.month == trip.date.month).food
    return list(dict.fromkeys([*told, *map(Forage, sorted(eaten)), Forage.UNKNOWN]))


def _others(trip: Trip) -> list[dict[str, Any]]:
    """The last turn of each phone and rod, to show the other one's."""
    last: dict[tuple[str, int], dict[str, Any]] = {}
    rows: Iterable[Any] = trip.turns.order_by("at").values("device", "angler", "category", "card", "at")
    for row in rows:
        last[row["device"], row["angler"]] = row
    return list(last.values())
