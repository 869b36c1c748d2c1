"""A turn typed from paper: "7:10 8min worm black 2 solid 1 came off"."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any, Final

from tackle.base.errors import InvalidInput
from tackle.base.units import System, read_length_in
from tackle.base.vocabulary import CATEGORIES, HookUp, Light, ids
from tackle.colours.palette import Palette
from tackle.intake.line import MOST_LINE, read_line

__all__ = ["EXAMPLE", "read_turn"]

EXAMPLE: Final = "7:10 8min worm black 2 solid 1 came off"
_START: Final = re.compile(r"(?<![\d:])([01]?\d|2[0-3])[:.h]([0-5]\d)(?!\d)\s*([ap]\.?m\b\.?)?", re.IGNORECASE)
_MINUTES: Final = re.compile(
    r"\b(\d{1,3})\s*(minutes|minute|mins|min|m|hours|hour|hrs|hr|h)\b\.?(?:\s*(\d{1,2})\s*(?:min|m)\b)?", re.IGNORECASE
)
# Fish of which nothing else is said; "2 fish lost" says it.
_FISH: Final = re.compile(
    rf"\b(\d{{1,2}}|no|a|one|two|three)\s+fish(?:es)?\b(?:\s+({'|'.join(ids(HookUp))}))?,?", re.IGNORECASE
)
# How a bite is said on the screens, by its id. "Solid" is a colour's word too: only behind a number is it a bite's.
_SAID: Final = (
    (re.compile(r"\b(came off|off again)\b", re.IGNORECASE), HookUp.LOST.value),
    (re.compile(r"\bbarely hooked\b", re.IGNORECASE), HookUp.OUTSIDE.value),
    (re.compile(r"(?<=\d )(solid)\b|(?<=fish )(solid)\b", re.IGNORECASE), HookUp.WHOLE.value),
    (re.compile(r"\b(follows|followed)\b", re.IGNORECASE), HookUp.FOLLOW.value),
    (re.compile(r"\bno bites\b", re.IGNORECASE), "nothing"),
)
_FEW: Final = {"no": 0, "a": 1, "one": 1, "two": 2, "three": 3}
_CAME: Final = re.compile(rf"\b(?:(\d{{1,2}})\s*)?({'|'.join(ids(HookUp))}|torn|nothing)\b,?", re.IGNORECASE)
_GONE: Final = re.compile(
    r"\b(?:(\d{1,2})\s*)?(?:(?:lures?|baits?)\s+(?P<after>lost|torn)|(?P<before>lost|torn)\s+(?:the\s+)?(?:lures?|baits?))\b[,:]?",
    re.IGNORECASE,
)
_VISIBILITY: Final = re.compile(r"\bsee\s+(\d+(?:[.,]\d+)?)\s*(in|inches|cm|ft|feet|m)\b", re.IGNORECASE)
_LIGHT: Final = re.compile(rf"\b({'|'.join(ids(Light))}|sun|cloud|cloudy|dawn|dusk)\b,?", re.IGNORECASE)
_SKY: Final = {"sun": "bright", "cloud": "overcast", "cloudy": "overcast", "dawn": "low", "dusk": "low"}
_WITH: Final = re.compile(r"\b(?:with|\+)\s+(?:a\s+)?(.+?)(?:\s+(?:trailer|on it))?$", re.IGNORECASE)


def read_turn(
    line: str, palette: Palette, system: System, remembered: Mapping[tuple[str, str], str] | None = None
) -> dict[str, Any]:
    """What a line tells of a turn, as a tap of the kind "turn" holds it. Raises InvalidInput.

    Without minutes the turn is kept and shown, and tells nothing of how often it bites.
    """
    text = line.strip()[:MOST_LINE]
    for said, how in _SAID:
        text = said.sub(how, text)
    data: dict[str, Any] = {}
    if start := _START.search(text):
        data["start"] = _hour(int(start[1]), start[3]) * 60 + int(start[2])
        text = text.replace(start[0], " ", 1)
    if minutes := _MINUTES.search(text):
        hours = minutes[2].lower().startswith("h")
        data["minutes"] = int(minutes[1]) * (60 if hours else 1) + int(minutes[3] or 0)
        text = text.replace(minutes[0], " ", 1)
    for came in _GONE.finditer(text):
        data[f"gone_{(came['after'] or came['before']).lower()}"] = int(came[1] or 1)
    text = _GONE.sub(" ", text)
    if seen := _VISIBILITY.search(text):
        data["visibility_in"] = round(read_length_in(f"{seen[1]} {seen[2]}", system, "line"), 1)
        text = text.replace(seen[0], " ", 1)
    if light := _LIGHT.search(text):
        data["light"] = _SKY.get(light[1].lower(), light[1].lower())
        text = text.replace(light[0], " ", 1)
    for fish in _FISH.finditer(text):
        how, count = (fish[2] or HookUp.WHOLE).lower(), fish[1].lower()
        if many := int(count) if count.isdigit() else _FEW[count]:
            data[how] = data.get(how, 0) + many
    text = _FISH.sub(" ", text)
    for came in _CAME.finditer(text):
        what = came[2].lower()
        if what != "nothing":
            name = "gone_torn" if what == "torn" else what
            data[name] = data.get(name, 0) + int(came[1] or 1)
    text = " ".join(_CAME.sub(" ", text).replace(",", " ").split())
    threaded = _WITH.search(text)
    text = text.replace(threaded[0], " ", 1) if threaded else text
    guess = read_line(text, palette, system, remembered)
    if guess.category is None or "category" in guess.unsure:
        raise InvalidInput("line", f"“{line.strip()[:60]}” names no category for certain", EXAMPLE)
    if guess.card is None or "colour" in guess.unsure:
        raise InvalidInput("line", f"“{line.strip()[:60]}” names no colour for certain", EXAMPLE)
    if threaded:
        trailer = read_line(f"jig trailer {threaded[1]}", palette, system, remembered)
        if not CATEGORIES[guess.category].takes_trailer or trailer.card is None or "colour" in trailer.unsure:
            raise InvalidInput("line", f"“{line.strip()[:60]}” names no trailer for certain", EXAMPLE)
        data["trailer"] = trailer.card.id
    return {"category": guess.category, "card": guess.card.id, **data}


def _hour(hour: int, half: str | None) -> int:
    """An hour of the day, from one of a half of it."""
    if half is None:
        return hour
    return hour % 12 + (12 if half.lower().startswith("p") else 0)
