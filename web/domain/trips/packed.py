"""What was packed for a trip, kept as it was: the tray, and what each hour was to begin with and why."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.day.tray import Begin, DayTray, Hour, TrayPiece


@dataclass(frozen=True, slots=True)
class Began:
    """What an hour was to begin with, in whose words."""

    card: Colour
    trailer: Colour | None
    grade: str
    why: str


@dataclass(frozen=True, slots=True)
class Packed:
    """The tray as it was packed; `rows`: by category what each hour was to begin with."""

    pieces: tuple[TrayPiece, ...]
    answered_hours: float
    expected_hours: float
    first_choice_hours: float
    visibility_in: float
    at: tuple[str, ...]
    rows: Mapping[str, Sequence[Began | None]]

    @property
    def kinds(self) -> int:
        return len(self.rows)


def shown_as(tray: DayTray, hours: Sequence[Hour], visibility_in: float) -> Packed:
    """A tray as a page shows it, packed or not."""
    thrown = [category for category in (tray.drawn[0] if tray.drawn else {}) if category not in tray.idle]
    rows = {category: [_began(row[category]) for row in tray.drawn] for category in thrown}
    data = tray.answered_hours, tray.expected_hours, tray.first_choice_hours, visibility_in
    return Packed(tray.pieces, *data, tuple(hour.at for hour in hours), rows)


def _began(begin: Begin | None) -> Began | None:
    return None if begin is None else Began(begin.card, begin.trailer, begin.grade.value, begin.why)


def as_kept(one: Packed) -> dict[str, Any]:
    """A packed tray as plain data."""
    return {
        "pieces": [[p.category, p.card.id, p.count, p.hours, p.right_hours, p.is_fallback] for p in one.pieces],
        "hours": [one.answered_hours, one.expected_hours, one.first_choice_hours],
        "visibility_in": one.visibility_in,
        "at": list(one.at),
        "rows": {
            category: [b and [b.card.id, b.trailer and b.trailer.id, b.grade, b.why] for b in row]
            for category, row in one.rows.items()
        },
    }


def packed_from(data: Mapping[str, Any], palette: Palette) -> Packed:
    """The same back; a colour that is gone since is known by its id."""
    known = palette.known
    answered, expected, first_choice = data["hours"]
    return Packed(
        tuple(TrayPiece(category, known(card), *numbers) for category, card, *numbers in data["pieces"]),
        answered,
        expected,
        first_choice,
        data["visibility_in"],
        tuple(data["at"]),
        {
            category: [b and Began(known(b[0]), known(b[1]) if b[1] else None, b[2], b[3]) for b in row]
            for category, row in data["rows"].items()
        },
    )
