"""What a phone needs to ask the schools without a signal: their calls on some kinds of lure, as plain data.

Which cards a call wants, and how well, is worked out here, so that the phone knows no traits: its evaluator
(`web/pages/trips/static/day/schools.js`) tries conditions and puts cards in order, as `tackle.schools` does.
"""

from __future__ import annotations

import math
from collections.abc import Hashable, Mapping, Sequence
from typing import Any, Final

from tackle.base.vocabulary import CATEGORIES, TRAILER, Grade, Opacity
from tackle.colours.colour import Colour
from tackle.colours.family import family
from tackle.colours.palette import Palette
from tackle.colours.role import find_role
from tackle.day.fish import FAST, is_step
from tackle.day.rotation import LOUD_FROM_F, LOUD_FROM_IN, step_away
from tackle.learn.assumed import assumed
from tackle.learn.factors import NOTED, Factors
from tackle.schools.rule import Rule
from tackle.schools.rulebook import Rulebook
from tackle.schools.top_choice import CLARITY, LIFTED, RESTS_ON, house_weights, named_where_told
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.conditions import CHOICES, CONDITIONS
from tackle.situations.depth import on_top
from tackle.situations.light import DIM_DEPTH_FT, TIPS

__all__ = ["book_for_phone"]

_GRADES: Final = (Grade.GO_TO, Grade.WORKS, Grade.AVOID)


def book_for_phone(
    aboard: Mapping[str, Sequence[Colour]], books: Sequence[Rulebook], palette: Palette, logs: Mapping[str, Factors]
) -> dict[str, Any]:
    """What the schools say of some kinds of lure, whatever comes; of each kind what lies aboard, what a log says of it.

    Trailers are told by themselves, where jigs and some of them are aboard.
    """
    whys: dict[str, int] = {}
    weights, data = house_weights(), assumed()
    return {
        "kinds": {
            category: _kind(category, cards, books, palette, logs.get(category, {}), whys)
            for category, cards in aboard.items()
        },
        "schools": [{"id": book.id, "name": book.name} for book in books],
        "cards": {card.id: _card(card) for kind in aboard for card in (*aboard[kind], *palette.sold_in(kind))},
        "whys": list(whys),
        "words": {name: list(words) for name, words in CHOICES.items()},
        "weights": {
            "power": weights.power, "leads": weights.leads, "trusts": weights.trusts, "warns": weights.warns,
            "lifted": LIFTED, "noted": NOTED,
        },
        "water": {
            "bands": list(BANDS), "edges": list(HOUSE_LADDER.edges_in), "tips": TIPS, "dim_depth_ft": DIM_DEPTH_FT,
            "rests_on": dict(RESTS_ON), "loud_in": LOUD_FROM_IN, "loud_f": LOUD_FROM_F,
            "unsaid": {name: _unsaid(row.unsaid) for name, row in CONDITIONS.items()},
            "cells": {"murky": data.murky_below_in, "clear": data.clear_from_in, "bright": sorted(data.bright)},
        },
    }  # fmt: skip


def _unsaid(value: Any) -> Any:
    return list(value) if isinstance(value, tuple) else value


def _card(card: Colour) -> dict[str, Any]:
    return {
        "tone": card.tone.value, "role": find_role(card).value, "through": card.opacity is Opacity.TRANSLUCENT,
        "imitates": [food.value for food in card.imitates],
    }  # fmt: skip


def _kind(
    category: str, aboard: Sequence[Colour], books: Sequence[Rulebook], palette: Palette, log: Factors,
    whys: dict[str, int],
) -> dict[str, Any]:  # fmt: skip
    sold = palette.sold_in(category)
    cards = [*sold, *(card for card in aboard if card not in sold)]
    weights = house_weights()
    return {
        "cards": [card.id for card in cards],
        "families": _families(cards, category),
        "jig": CATEGORIES[category].takes_trailer,
        "trailer": category == TRAILER,
        "on_top": on_top(category),
        "fast": category in FAST,
        "calls": [_calls(book, category, cards, whys) for book in books],
        "leads": [
            [[lead.season and lead.season.value, lead.eaten] for lead in weights.lead
             if lead.school == book.id and category in lead.categories]
            for book in books
        ],
        "steps": {card.id: _steps(card, aboard, category) for card in aboard},
        "log": {"|".join(cell): dict(data) for cell, data in log.items()},
    }  # fmt: skip


def _families(cards: Sequence[Colour], category: str) -> list[int]:
    """The family of each card, as a number."""
    known: dict[Hashable, int] = {}
    return [known.setdefault(family(card, category), len(known)) for card in cards]


def _calls(book: Rulebook, category: str, cards: Sequence[Colour], whys: dict[str, int]) -> list[dict[str, Any]]:
    """The calls that want any of the cards, lowest precedence first, so that later ones overwrite."""
    traits = [card.traits() for card in cards]
    places = [index for index, call in enumerate(book.calls) if category in call.categories]
    places.sort(key=lambda place: (book.calls[place].precedence, -place))
    found = []
    for place in places:
        call = book.calls[place]
        rows = {row: call.matched(has) for row, has in enumerate(traits) if call.wants(has)}
        if rows:
            found.append(_call(call, int(book.from_narrow[place]), rows, whys.setdefault(call.why, len(whys))))
    return found


def _call(call: Rule, place: int, rows: Mapping[int, int], why: int) -> dict[str, Any]:
    data: dict[str, Any] = {
        "g": _GRADES.index(call.grade), "p": place, "y": why, "w": list(rows), "m": list(rows.values()),
        "r": {name: [_finite(span.low), _finite(span.below)] for name, span in call.ranges}, 
        "a": {name: _bits(name, values) for name, values in call.among}, "n": named_where_told(call),
    }  # fmt: skip
    if any(name in CLARITY for name, _ in call.ranges):
        data["c"] = 1
    if call.lifted:
        data["x"] = 1
    return data


def _bits(name: str, values: frozenset[str]) -> int:
    """Words by their places in the vocabulary; one past the last: what is not known."""
    return sum(1 << index for index, word in enumerate((*CHOICES[name], "unknown")) if word in values)


def _finite(edge: float) -> float | None:
    return edge if math.isfinite(edge) else None


def _steps(card: Colour, aboard: Sequence[Colour], category: str) -> list[list[str]]:
    """What lies aboard a step from a card, the nearest first; those equally near together."""
    found: dict[Any, list[str]] = {}
    for one in aboard:
        if one.id != card.id and find_role(one) is find_role(card) and is_step(card, one, category):
            found.setdefault(step_away(card, one), []).append(one.id)
    return [found[key] for key in sorted(found)]
