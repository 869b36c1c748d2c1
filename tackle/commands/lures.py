"""The lures command: typed lines read as lures, as the entry page reads them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

from tackle.colours.palette import house_palette
from tackle.commands.fields import known_fields
from tackle.errors import Refused
from tackle.intake.line import read_line

__all__ = ["lures"]

_FIELDS: Final = ("id", "line", "units")
_SYSTEMS: Final = ("imperial", "metric")


def lures(request: Mapping[str, Any]) -> dict[str, Any]:
    """Answers one request. Raises Refused where it cannot be."""
    known_fields(request, _FIELDS)
    line, units = request.get("line"), request.get("units", "imperial")
    if not isinstance(line, str) or not line.strip():
        raise Refused("line", "is missing or empty", "one typed line")
    if units not in _SYSTEMS:
        raise Refused("units", f"{str(units)[:40]!r} is not known", _SYSTEMS)
    guess = read_line(line, house_palette(), units)
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
