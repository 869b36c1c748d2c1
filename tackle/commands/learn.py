"""The learn command: what a log says of colours in one category."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from typing import Any, Final

from tackle.base.typed import ANYTHING, Number, OptionalKind, Record, Text
from tackle.colours.colour import Colour
from tackle.colours.palette import house_palette
from tackle.commands.fields import CATEGORY, SCHOOLS, read_schools, rows
from tackle.learn.apart import told_apart
from tackle.learn.assumed import assumed
from tackle.learn.book import mean_advice
from tackle.learn.fair_test import bites_needed
from tackle.learn.known import known_pairs, tangled_in
from tackle.learn.log import Turn, find_square, merged, telling
from tackle.learn.model import Belief, believed
from tackle.situations.situation import Situation, read_situation

__all__ = ["learn", "read_turn"]

_HOUR: Final = re.compile(r"([01]?\d|2[0-3]):([0-5]\d)")
_MOST_TURNS: Final = 100_000
_REQUEST: Final = Record({
    "id": ANYTHING, "category": CATEGORY, "schools": SCHOOLS, "situation": ANYTHING, "colours": rows(),
    "turns": rows(most=_MOST_TURNS),
})  # fmt: skip
_TURN: Final = Record({
    "day": Text(10, 10, re.compile(r"\d{4}-\d{2}-\d{2}"), "a day such as 2026-05-02"),
    "at": OptionalKind(Text(5, 4, _HOUR, "a time such as 06:10")), "colour": ANYTHING,
    "minutes": OptionalKind(Number(0, 1_440), 0.0), "bites": OptionalKind(Number(0, 1_000), 0.0), "situation": ANYTHING,
})  # fmt: skip
_KNOWN: Final = 0.95


def learn(request: Mapping[str, Any]) -> dict[str, Any]:
    """What the log says. Raises InvalidInput.

    >>> thrown = [("black-plain", 4), ("red-bug", 1)]
    >>> turns = [
    ...     {"day": f"2026-05-{day:02}", "at": "06:00", "colour": colour, "minutes": 30, "bites": bites}
    ...     for day in range(1, 9) for colour, bites in thrown
    ... ]
    >>> told = learn({"category": "worm", "schools": [], "turns": turns})
    >>> told["pairs"][0]["first"], told["pairs"][0]["better"] > 0.9
    ('black-plain', True)
    """
    asked = _REQUEST.read(request)
    category = asked["category"]
    turns = [read_turn(entry, f"turns[{index}]", category) for index, entry in enumerate(asked["turns"])]
    situation = None if asked["situation"] is None else read_situation(asked["situation"], category)
    cards = _cards(asked["colours"], turns, category)
    listed = {card.id for card in cards}
    mine = [turn for turn in merged(turns, assumed()) if turn.colour in listed]
    books = read_schools(asked["schools"]) if asked["schools"] else ()
    book = mean_advice(books, cards, category, _weights(mine, situation))
    belief = believed(mine, cards, book, assumed(), find_square(situation, assumed()))
    tangled = tangled_in(mine)
    return {
        "days": len({turn.day for turn in mine}),
        "telling_days": len(telling(mine)),
        "minutes": _plain(sum(turn.minutes for turn in mine)),
        "bites": _plain(sum(turn.bites for turn in mine)),
        "colours": _colours(belief, mine),
        "pairs": _pairs(belief),
        "known": [{"first": first, "second": second} for first, second in known_pairs(belief, tangled)],
        "tangled": [{"colour": one.colour, "shares": one.shares, "share": one.share} for one in tangled],
    }


def read_turn(entry: Any, field: str, category: str) -> Turn:
    """A turn of a log, checked. Raises InvalidInput."""
    data = _TURN.read(entry, field)
    hour = _HOUR.fullmatch(data["at"]) if data["at"] else None
    situation = data["situation"]
    return Turn(
        day=data["day"],
        colour=house_palette().card(data["colour"], f"{field}.colour", category).id,
        minutes=data["minutes"],
        bites=data["bites"],
        at=int(hour[1]) + int(hour[2]) / 60 if hour else None,
        situation=None if situation is None else read_situation(situation, category, f"{field}.situation"),
    )


def _cards(named: Sequence[Any], turns: Sequence[Turn], category: str) -> list[Colour]:
    """The colours asked for, or those logged, in the palette's order."""
    palette = house_palette()
    if named:
        return [palette.card(one, f"colours[{index}]", category) for index, one in enumerate(dict.fromkeys(named))]
    thrown = {turn.colour for turn in turns}
    return [card for card in palette.sold_in(category) if card.id in thrown]


def _weights(turns: Sequence[Turn], situation: Situation | None) -> list[tuple[Situation, float]]:
    """The situations that the book is asked about: the one named, or those of the turns by their minutes."""
    if situation is not None:
        return [(situation, 1.0)]
    return [(turn.situation, turn.minutes) for turn in turns if turn.situation is not None and turn.minutes]


def _colours(belief: Belief, turns: Sequence[Turn]) -> list[dict[str, Any]]:
    data = []
    for index, (colour, best) in enumerate(zip(belief.colours, belief.best(), strict=True)):
        low, high = belief.interval(0.05, 0.95, index)
        mine = [turn for turn in turns if turn.colour == colour]
        data.append(
            {
                "colour": colour,
                "minutes": _plain(sum(turn.minutes for turn in mine)),
                "bites": _plain(sum(turn.bites for turn in mine)),
                "times": round(math.exp(belief.mean(index)), 4),
                "low": round(math.exp(low), 4),
                "high": round(math.exp(high), 4),
                "best": round(best, 4),
            }
        )
    return data


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
