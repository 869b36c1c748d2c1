"""The learn command: what a log says of colours in one category."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from typing import Any, Final

from tackle.colours.card import Card
from tackle.colours.palette import house_palette
from tackle.commands.fields import known_fields, list_of, number, words
from tackle.errors import Refused
from tackle.learn.assumed import assumed
from tackle.learn.book import word_of
from tackle.learn.choice import told_apart
from tackle.learn.fair_test import bites_needed
from tackle.learn.log import Turn, cell_of, merged, telling
from tackle.learn.model import Belief, believed
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.situation import Situation, read_situation
from tackle.vocabulary import CATEGORIES

__all__ = ["learn"]

_FIELDS: Final = ("id", "category", "schools", "situation", "colours", "turns")
_TURN: Final = ("day", "at", "colour", "minutes", "bites", "situation")
_DAY: Final = re.compile(r"\d{4}-\d{2}-\d{2}")
_HOUR: Final = re.compile(r"([01]?\d|2[0-3]):([0-5]\d)")
_MOST_TURNS: Final = 100_000
_KNOWN: Final = 0.95


def learn(request: Mapping[str, Any]) -> dict[str, Any]:
    """What the log says. Raises Refused.

    >>> thrown = [("black-plain", 4), ("red-bug", 1)]
    >>> turns = [
    ...     {"day": f"2026-05-{day:02}", "at": "06:00", "colour": colour, "minutes": 30, "bites": bites}
    ...     for day in range(1, 9) for colour, bites in thrown
    ... ]
    >>> told = learn({"category": "worm", "schools": [], "turns": turns})
    >>> told["pairs"][0]["first"], told["pairs"][0]["better"] > 0.9
    ('black-plain', True)
    """
    known_fields(request, _FIELDS)
    category = request.get("category")
    if not isinstance(category, str) or category not in CATEGORIES:
        raise Refused("category", f"{str(category)[:60]!r} is not a category", CATEGORIES)
    entries = list_of(request, "turns")
    if len(entries) > _MOST_TURNS:
        raise Refused("turns", f"has {len(entries)} entries", f"at most {_MOST_TURNS}")
    turns = [_turn(entry, f"turns[{place}]", category) for place, entry in enumerate(entries)]
    asked = request.get("situation")
    situation = None if asked is None else read_situation(asked, category)
    cards = _cards(request, turns, category)
    listed = {card.id for card in cards}
    mine = [turn for turn in merged(turns, assumed()) if turn.colour in listed]
    books = tuple(house_rulebooks()[school] for school in words(request, "schools", house_rulebooks()))
    book = word_of(books, cards, category, _weights(mine, situation))
    belief = believed(mine, cards, book, assumed(), cell_of(situation, assumed()))
    return {
        "days": len({turn.day for turn in mine}),
        "telling_days": len(telling(mine)),
        "minutes": _plain(sum(turn.minutes for turn in mine)),
        "bites": _plain(sum(turn.bites for turn in mine)),
        "colours": _colours(belief, mine),
        "pairs": _pairs(belief),
    }


def _turn(entry: Any, field: str, category: str) -> Turn:
    if not isinstance(entry, Mapping):
        raise Refused(field, "is not an object", "an object with day, colour, minutes and bites")
    for name in entry:
        if name not in _TURN:
            raise Refused(f"{field}.{name}", "is not a known field", _TURN)
    day, at = entry.get("day"), entry.get("at")
    if not isinstance(day, str) or not _DAY.fullmatch(day):
        raise Refused(f"{field}.day", f"{str(day)[:20]!r} is not a day", "2026-05-02")
    hour = _HOUR.fullmatch(at) if isinstance(at, str) else None
    if at is not None and hour is None:
        raise Refused(f"{field}.at", f"{str(at)[:20]!r} is not a time", "06:10")
    card = house_palette().card(entry.get("colour", ""), f"{field}.colour", category)
    situation = entry.get("situation")
    return Turn(
        day=day,
        colour=card.id,
        minutes=number(entry, "minutes", 0.0, 1_440, field),
        bites=number(entry, "bites", 0.0, 1_000, field),
        at=int(hour[1]) + int(hour[2]) / 60 if hour else None,
        situation=None if situation is None else read_situation(situation, category, f"{field}.situation"),
    )


def _cards(request: Mapping[str, Any], turns: Sequence[Turn], category: str) -> list[Card]:
    """The colours asked for, or those logged, in the palette's order."""
    palette = house_palette()
    named = list_of(request, "colours")
    if named:
        return [palette.card(one, f"colours[{place}]", category) for place, one in enumerate(dict.fromkeys(named))]
    thrown = {turn.colour for turn in turns}
    return [card for card in palette.sold_in(category) if card.id in thrown]


def _weights(turns: Sequence[Turn], situation: Situation | None) -> list[tuple[Situation, float]]:
    """The situations that the book is asked about: the one named, or those of the turns by their minutes."""
    if situation is not None:
        return [(situation, 1.0)]
    return [(turn.situation, turn.minutes) for turn in turns if turn.situation is not None and turn.minutes]


def _colours(belief: Belief, turns: Sequence[Turn]) -> list[dict[str, Any]]:
    told = []
    for place, (colour, best) in enumerate(zip(belief.colours, belief.best(), strict=True)):
        low, high = belief.between(0.05, 0.95, place)
        mine = [turn for turn in turns if turn.colour == colour]
        told.append(
            {
                "colour": colour,
                "minutes": _plain(sum(turn.minutes for turn in mine)),
                "bites": _plain(sum(turn.bites for turn in mine)),
                "times": round(math.exp(belief.middle(place)), 4),
                "low": round(math.exp(low), 4),
                "high": round(math.exp(high), 4),
                "best": round(best, 4),
            }
        )
    return told


def _pairs(belief: Belief) -> list[dict[str, Any]]:
    """All pairs, the likelier better first."""
    return [
        {
            "first": first,
            "second": second,
            "better": round(better, 4),
            "bites_needed": 0 if better >= _KNOWN else bites_needed(round(times, 2)),
        }
        for first, second, better, times in told_apart(belief)
    ]


def _plain(value: float) -> float | int:
    return int(value) if value == int(value) else round(value, 4)
