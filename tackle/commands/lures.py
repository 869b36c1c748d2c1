"""The lures command: typed lines read as lures, as the entry page reads them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

from tackle.base.errors import InvalidInput
from tackle.base.typed import ANYTHING, ListOf, OptionalKind, Record, Text, Word
from tackle.colours.palette import house_palette
from tackle.intake.line import LineRead, read_heap, read_line

__all__ = ["lures"]

MOST_LINES: Final = 10_000

_REQUEST: Final = Record({
    "id": ANYTHING, "line": OptionalKind(Text(100_000)), "lines": OptionalKind(ListOf(Text(100_000, 0), MOST_LINES)),
    "units": OptionalKind(Word(("imperial", "metric")), "imperial"),
})  # fmt: skip


def lures(request: Mapping[str, Any]) -> dict[str, Any]:
    """Answers one request. Raises InvalidInput where it cannot be."""
    asked = _REQUEST.read(request)
    if (asked["line"] is None) == (asked["lines"] is None):
        raise InvalidInput("line", "is told beside lines, or neither is", "a line, or some lines")
    if asked["lines"] is None:
        return _row(read_line(asked["line"], house_palette(), asked["units"]))
    rows = [{**_row(guess), "carried": list(guess.carried)} for guess in
            read_heap(asked["lines"], house_palette(), asked["units"])]  # fmt: skip
    return {"rows": rows}


def _row(guess: LineRead) -> dict[str, Any]:
    return {
        "category": guess.category,
        "colour": guess.card.id if guess.card else None,
        "tone": guess.card.tone.value if guess.card else None,
        "count": guess.count,
        "size_in": guess.size_in,
        "weight_oz": guess.weight_oz,
        "depth_ft": guess.depth_ft,
        "sound": guess.sound or None,
        "name": "" if guess.card else guess.colour,
        "unsure": list(guess.unsure),
        "offers": [card.id for card in guess.offers],
        "condition": guess.condition or None,
        "kind": "other" if guess.thing else "lure",
        "other": guess.thing or None,
        "as": guess.stands_for or None,
    }
