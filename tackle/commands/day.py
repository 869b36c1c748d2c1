"""The day command: the tray for one day, from what is owned."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

from tackle.colours.card import Card
from tackle.colours.palette import Palette, house_palette
from tackle.commands.colour import read_colour
from tackle.commands.fields import known_fields, list_of, number, schools_of, words
from tackle.day.tray import Begin, Have, Hour, Tray, pack
from tackle.errors import Refused
from tackle.situations.situation import Situation, read_situation
from tackle.vocabulary import CATEGORIES

__all__ = ["day"]

_FIELDS: Final = ("id", "schools", "categories", "room", "hours", "have")
_MOST_HOURS, _MOST_ROOM, _MOST_COUNT = 48, 1_000, 100_000


def day(request: Mapping[str, Any]) -> dict[str, Any]:
    """The tray for a day. Raises Refused."""
    known_fields(request, _FIELDS)
    categories = words(request, "categories", CATEGORIES)
    if not categories:
        raise Refused("categories", "names no category", CATEGORIES)
    entries = list_of(request, "hours")
    if not 1 <= len(entries) <= _MOST_HOURS:
        raise Refused("hours", f"has {len(entries)} entries", f"1 to {_MOST_HOURS}")
    hours = [_hour(entry, f"hours[{place}]", categories[0]) for place, entry in enumerate(entries)]
    have, palette = _have(request)
    room = _whole(request.get("room"), "room", 0, _MOST_ROOM)
    return _as_json(pack(hours, categories, have, schools_of(request), palette, room), hours)


def _hour(entry: Any, field: str, category: str) -> Hour:
    if not isinstance(entry, Mapping) or not isinstance(entry.get("at"), str):
        raise Refused(field, "is not an object with at, hours and situation", "an hour")
    known_fields(entry, ("at", "hours", "situation"))
    length = number(entry, "hours", 1.0, 24, field)
    return Hour(entry["at"][:20], length, read_situation(entry.get("situation"), category, f"{field}.situation"))


def _have(request: Mapping[str, Any]) -> tuple[list[Have], Palette]:
    """What is owned, one entry a colour; and a palette that knows the colours told by their traits."""
    house = house_palette()
    counts: dict[tuple[str, str], int] = {}
    cards: dict[str, Card] = {}
    for place, entry in enumerate(list_of(request, "have")):
        field = f"have[{place}]"
        if not isinstance(entry, Mapping):
            raise Refused(field, "is not an object", "an object with category, colour and count")
        category = entry.get("category")
        if not isinstance(category, str) or category not in CATEGORIES:
            raise Refused(f"{field}.category", f"{str(category)[:60]!r} is not a category", CATEGORIES)
        card = read_colour(entry.get("colour"), f"{field}.colour", category, house, f"have-{place}")
        cards[card.id] = card
        where = category, card.id
        counts[where] = counts.get(where, 0) + _whole(entry.get("count", 1), f"{field}.count", 0, _MOST_COUNT)
    told = [card for card in cards.values() if card.id not in house.by_id]
    palette = Palette((*house.cards, *told)) if told else house
    return [Have(category, cards[card], count) for (category, card), count in counts.items()], palette


def _whole(value: Any, field: str, low: int, high: int) -> int:
    if isinstance(value, bool) or not isinstance(value, int) or not low <= value <= high:
        raise Refused(field, f"{str(value)[:60]!r} is not allowed", f"a whole number from {low} to {high}")
    return value


def _as_json(tray: Tray, hours: list[Hour]) -> dict[str, Any]:
    return {
        "tray": [
            {
                "category": piece.category,
                "colour": piece.card.id,
                "count": piece.count,
                "hours": piece.hours,
                "right_hours": round(piece.right_hours, 6),
            }
            for piece in tray.pieces
        ],
        "expected_hours": tray.expected_hours,
        "answered_hours": tray.answered_hours,
        "right_hours": round(tray.right_hours, 6),
        "status": "optimal" if tray.proved else "bounded",
        "hours": [
            {"at": hour.at, "first": {category: _begin(begin) for category, begin in firsts.items()}}
            for hour, firsts in zip(hours, tray.firsts, strict=True)
        ],
        "changes": [
            {
                "at": hours[change.index].at,
                "category": change.category,
                "from": change.was.id,
                "to": change.now.card.id,
                "why": _why(hours[change.index - 1].situation, hours[change.index].situation, change.now),
            }
            for change in tray.changes
        ],
    }


def _begin(begin: Begin | None) -> dict[str, Any] | None:
    if begin is None:
        return None
    told = {"colour": begin.card.id, "grade": begin.grade.value, "school": begin.book.id, "why": begin.call.why}
    return told


def _why(was: Situation, now: Situation, begin: Begin) -> str:
    """What is other than in the hour before, and what the school says of it."""
    other = [
        f"{name} {getattr(now, name)}"
        for name in ("light", "wind", "stain")
        if getattr(was, name) != getattr(now, name)
    ]
    if was.visibility_in != now.visibility_in:
        other.append(f"visibility {now.visibility_in:g} in")
    return f"{', '.join(other)}: {begin.call.why}" if other else begin.call.why
