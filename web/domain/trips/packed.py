"""What was packed for a trip, kept as it was: the tray, and what each hour was to begin with and why."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from tackle.base.vocabulary import TRAILER
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.day.tray import DayTray, TrayPiece


@dataclass(frozen=True, slots=True)
class Began:
    """What an hour was to begin with, in whose words."""

    card: Colour
    trailer: Colour | None
    grade: str
    why: str


Rows = Mapping[str, Sequence[Began | None]]


@dataclass(frozen=True, slots=True)
class Packed:
    """The tray as it was packed; `rows`: by category what each hour was to begin with."""

    pieces: tuple[TrayPiece, ...]
    answered_hours: float
    expected_hours: float
    first_choice_hours: float
    visibility_in: float
    at: tuple[str, ...]
    rows: Rows

    @property
    def kinds(self) -> int:
        return len(self.rows)


def shown_as(tray: DayTray, rows: Rows, at: Sequence[str], visibility_in: float) -> Packed:
    """A tray as a page shows it, packed or not: the hours of each piece are those that begin with it."""
    begun = [one for row in rows.values() for one in row if one is not None]
    threaded = Counter(one.trailer for one in begun)

    def served(piece: TrayPiece) -> TrayPiece:
        mine = sum(one is not None and one.card is piece.card for one in rows.get(piece.category, ()))
        return replace(piece, hours=float(threaded[piece.card] if piece.category == TRAILER else mine))

    data = tray.answered_hours, tray.expected_hours, tray.first_choice_hours, visibility_in
    return Packed(tuple(served(piece) for piece in tray.pieces), *data, tuple(at), rows)


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
