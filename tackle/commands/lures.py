"""The lures command: typed lines read as lures, as the entry page reads them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Final

from tackle.base.errors import InvalidInput
from tackle.base.typed import ANYTHING, ListOf, OptionalKind, Record, Text, Word
from tackle.colours.palette import house_palette
from tackle.intake.heap import HeapReader, read_heap
from tackle.intake.line import LineRead

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
        return _line(HeapReader(house_palette(), asked["units"]).read(asked["line"]), asked["line"])
    read = read_heap(asked["lines"], house_palette(), asked["units"])
    return {"rows": [_line(lures, line) for lures, line in zip(read, asked["lines"], strict=True)]}


def _line(read: Sequence[LineRead], line: str) -> dict[str, Any]:
    """What one line is: the first of its lures, and where it is several, each of them."""
    answer = _row(read[0]) | {"line": line, "parts": [lure.line for lure in read]}
    return answer | {"rows": [_row(lure) for lure in read]} if len(read) > 1 else answer


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
        "carried": list(guess.carried),
        "price": guess.price,
        "hook": guess.hook or None,
        "line_lb": guess.line_lb,
        "with": _with(guess.trailer) if guess.trailer else None,
    }


def _with(trailer: LineRead) -> dict[str, Any]:
    card = trailer.sure.id if trailer.sure else None
    return {"category": trailer.category, "colour": card, "count": trailer.count, "size_in": trailer.size_in}
