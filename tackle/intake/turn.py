"""A turn typed from paper: "7:10 8min worm black 2 whole 1 lost"."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any, Final

from tackle.colours.palette import Palette
from tackle.errors import Refused
from tackle.intake.line import MOST_LINE, read_line
from tackle.units import System
from tackle.vocabulary import HookUp, ids

__all__ = ["EXAMPLE", "read_turn"]

EXAMPLE: Final = "7:10 8min worm black 2 whole 1 lost"
_START: Final = re.compile(r"(?<![\d:])([01]?\d|2[0-3])[:.h]([0-5]\d)(?!\d)")
_MINUTES: Final = re.compile(r"\b(\d{1,3})\s*(?:minutes|minute|mins|min|m)\b\.?", re.IGNORECASE)
_CAME: Final = re.compile(rf"\b(?:(\d{{1,2}})\s*)?({'|'.join(ids(HookUp))}|torn|nothing)\b,?", re.IGNORECASE)
_GONE: Final = re.compile(r"\b(?:(\d{1,2})\s*)?(?:lures?|baits?)\s+(lost|torn)\b,?", re.IGNORECASE)


def read_turn(
    line: str, palette: Palette, system: System, remembered: Mapping[tuple[str, str], str] | None = None
) -> dict[str, Any]:
    """What a line tells of a turn, as a tap of the kind "turn" holds it. Raises Refused.

    Without minutes the turn is kept and shown, and tells nothing of how often it bites.
    """
    text = line.strip()[:MOST_LINE]
    told: dict[str, Any] = {}
    if start := _START.search(text):
        told["start"] = int(start[1]) * 60 + int(start[2])
        text = text.replace(start[0], " ", 1)
    if minutes := _MINUTES.search(text):
        told["minutes"] = int(minutes[1])
        text = text.replace(minutes[0], " ", 1)
    for came in _GONE.finditer(text):
        told[f"gone_{came[2].lower()}"] = int(came[1] or 1)
    text = _GONE.sub(" ", text)
    for came in _CAME.finditer(text):
        what = came[2].lower()
        if what != "nothing":
            name = "gone_torn" if what == "torn" else what
            told[name] = told.get(name, 0) + int(came[1] or 1)
    text = " ".join(_CAME.sub(" ", text).replace(",", " ").split())
    guess = read_line(text, palette, system, remembered)
    if guess.category is None or "category" in guess.unsure:
        raise Refused("line", f"“{line.strip()[:60]}” names no kind of lure for certain", EXAMPLE)
    if guess.card is None or "colour" in guess.unsure:
        raise Refused("line", f"“{line.strip()[:60]}” names no colour for certain", EXAMPLE)
    return {"category": guess.category, "card": guess.card.id, **told}
