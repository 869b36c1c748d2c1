"""The lures command: typed lines read as lures, as the entry page reads them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

from tackle.colours.palette import house_palette
from tackle.intake.line import read_line
from tackle.typed import ANYTHING, Maybe, Record, Text, Word

__all__ = ["lures"]

_REQUEST: Final = Record({
    "id": ANYTHING, "line": Text(100_000), "units": Maybe(Word(("imperial", "metric")), "imperial"),
})  # fmt: skip


def lures(request: Mapping[str, Any]) -> dict[str, Any]:
    """Answers one request. Raises Refused where it cannot be."""
    asked = _REQUEST.read(request)
    guess = read_line(asked["line"], house_palette(), asked["units"])
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
    }
