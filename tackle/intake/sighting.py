"""A line that says what was seen to be eaten: "minnows at the dock, 14 May"."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Final

from tackle.base.errors import InvalidInput
from tackle.base.units import System
from tackle.base.vocabulary import Forage
from tackle.intake.dates import find_day
from tackle.intake.words import bare_words, house_words

__all__ = ["EXAMPLE", "Sighting", "read_sighting"]

EXAMPLE: Final = "minnows at the dock, 14 May"
_MOST_PLACE: Final = 60


@dataclass(frozen=True, slots=True)
class Sighting:
    """What was seen to be eaten, when, and where, in the angler's words."""

    food: Forage
    day: date
    place: str


def read_sighting(text: str, today: date, system: System = "imperial") -> Sighting:
    """A sighting from a line; without a date it is of today. Raises InvalidInput."""
    day, rest = find_day(text, today, system)
    words = bare_words(rest)
    for length in (3, 2, 1):
        for start in range(len(words) - length + 1):
            food = _food(" ".join(words[start : start + length]))
            if food is not None:
                left = [*words[:start], *words[start + length :]]
                place = " ".join(word for word in left if word not in ("at", "in", "on", "the", "by", "off", "near"))
                return Sighting(food, day or today, place[:_MOST_PLACE])
    raise InvalidInput("line", f"“{text[:40]}” names nothing that fish eat", EXAMPLE)


def _food(words: str) -> Forage | None:
    known = house_words().food
    for form in (words, words.removesuffix("es"), words.removesuffix("s")):
        if form in known:
            return known[form]
    return None
