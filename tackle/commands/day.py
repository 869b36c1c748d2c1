"""The day command: the tray for one day, from what is owned."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Final

from tackle.base.typed import ANYTHING, ListOf, Number, OptionalKind, Record, Text, Whole
from tackle.base.vocabulary import CATEGORIES
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette, house_palette
from tackle.commands.colour import read_colour
from tackle.commands.fields import CATEGORY, SCHOOLS, read_schools, rows
from tackle.day.tray import Begin, DayTray, Have, Hour, RodPiece, pack
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.situation import Situation, read_situation

__all__ = ["day"]

_REQUEST: Final = Record({
    "id": ANYTHING, "schools": SCHOOLS, "categories": ListOf(CATEGORY, 1000, 1), "room": Whole(0, 1_000),
    "hours": ListOf(ANYTHING, 48, 1), "have": rows(), "rods": OptionalKind(Whole(0, 30)),
})  # fmt: skip
_HOUR: Final = Record({"at": Text(200, 0), "hours": OptionalKind(Number(0, 24), 1.0), "situation": ANYTHING})
_HAVE: Final = Record({"category": CATEGORY, "colour": ANYTHING, "count": OptionalKind(Whole(0, 100_000), 1)})


def day(request: Mapping[str, Any]) -> dict[str, Any]:
    """The tray for a day. Raises InvalidInput."""
    asked = _REQUEST.read(request)
    categories = list(dict.fromkeys(asked["categories"]))
    hours = [_hour(entry, f"hours[{index}]", categories[0]) for index, entry in enumerate(asked["hours"])]
    have, palette = _have(asked["have"])
    books = read_schools(asked["schools"], house_rulebooks())
    tray = pack(hours, categories, have, books, palette, asked["room"], asked["rods"] or 0)
    return _as_json(tray, hours) | ({} if asked["rods"] is None else {"rods": [_rod(rod) for rod in tray.rods]})


def _hour(entry: Any, field: str, category: str) -> Hour:
    data = _HOUR.read(entry, field)
    return Hour(data["at"], data["hours"], read_situation(data["situation"], category, f"{field}.situation"))


def _have(entries: Sequence[Any]) -> tuple[list[Have], Palette]:
    """What is owned, one entry a colour; and a palette that knows the colours told by their traits."""
    house = house_palette()
    counts: dict[tuple[str, str], int] = {}
    cards: dict[str, Colour] = {}
    for index, entry in enumerate(entries):
        field = f"have[{index}]"
        one = _HAVE.read(entry, field)
        category = one["category"]
        card = read_colour(one["colour"], f"{field}.colour", category, house, f"have-{index}")
        cards[card.id] = card
        where = category, card.id
        counts[where] = counts.get(where, 0) + one["count"]
    data = [card for card in cards.values() if card.id not in house.by_id]
    palette = Palette((*house.cards, *data)) if data else house
    return [Have(category, cards[card], count) for (category, card), count in counts.items()], palette


def _as_json(tray: DayTray, hours: list[Hour]) -> dict[str, Any]:
    return {
        "tray": [
            {
                "category": piece.category,
                "colour": piece.card.id,
                "count": piece.count,
                "hours": piece.hours,
                "right_hours": round(piece.right_hours, 6),
                **({"fallback": True} if piece.is_fallback else {}),
            }
            for piece in tray.pieces
        ],
        "expected_hours": tray.expected_hours,
        "answered_hours": tray.answered_hours,
        "right_hours": round(tray.right_hours, 6),
        "first_choice_hours": tray.first_choice_hours,
        "status": "optimal" if tray.proved else "bounded",
        "hours": [
            {"at": hour.at, "first": {category: _begin(category, begin) for category, begin in firsts.items()}}
            for hour, firsts in zip(hours, tray.firsts, strict=True)
        ],
        "changes": [
            {
                "at": hours[change.index].at,
                "category": change.category,
                "from": change.was.card.id,
                "to": change.now.card.id,
                "why": _why(hours[change.index - 1].situation, hours[change.index].situation, change.now),
            }
            for change in tray.changes
            if change.was.card is not change.now.card
        ],
    }


def _rod(one: RodPiece) -> dict[str, Any]:
    return {
        "category": one.category,
        "colour": one.card.id,
        "with": one.trailer and one.trailer.id,
        "hours": one.hours,
        "right_hours": round(one.right_hours, 6),
    }


def _begin(category: str, begin: Begin | None) -> dict[str, Any] | None:
    if begin is None:
        return None
    data = {"colour": begin.card.id, "grade": begin.grade.value, "school": begin.book.id, "why": begin.why}
    return data | ({"with": begin.trailer and begin.trailer.id} if CATEGORIES[category].takes_trailer else {})


def _why(was: Situation, now: Situation, begin: Begin) -> str:
    """What is other than in the hour before, and what the school says of it."""
    other = [
        f"{name} {getattr(now, name)}"
        for name in ("light", "wind", "stain")
        if getattr(was, name) != getattr(now, name)
    ]
    if was.visibility_in != now.visibility_in:
        other.append(f"visibility {now.visibility_in:g} in")
    return f"{', '.join(other)}: {begin.why}" if other else begin.why
