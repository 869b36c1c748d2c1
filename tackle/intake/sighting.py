"""A line that says what was seen to be eaten: "minnows at the dock, 14 May"."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date
from typing import Final

from tackle.days import read_day
from tackle.errors import Refused
from tackle.intake.words import bare_words, house_words
from tackle.vocabulary import Forage

__all__ = ["EXAMPLE", "Sighting", "read_sighting"]

EXAMPLE: Final = "minnows at the dock, 14 May"
_MONTHS: Final = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_ISO: Final = re.compile(r"\b\d{4}-\d{2}-\d{2}\b")
_NAMED: Final = re.compile(
    rf"\b(?:(?P<before>\d{{1,2}})\.? ?)?(?P<month>{'|'.join(_MONTHS)})[a-z]*\.?(?: ?(?P<after>\d{{1,2}})\b(?!\d))?"
    r"(?:,? (?P<year>\d{4})\b)?", re.I,
)  # fmt: skip
_MOST_PLACE: Final = 60


@dataclass(frozen=True, slots=True)
class Sighting:
    """What was seen to be eaten, when, and where, in the angler's words."""

    food: Forage
    day: date
    place: str


def read_sighting(text: str, today: date) -> Sighting:
    """A sighting from a line; without a date it is of today, without a year of the last such day. Raises Refused."""
    day, rest = _day(text, today)
    words = bare_words(rest)
    for length in (3, 2, 1):
        for start in range(len(words) - length + 1):
            food = _food(" ".join(words[start : start + length]))
            if food is not None:
                left = [*words[:start], *words[start + length :]]
                place = " ".join(word for word in left if word not in ("at", "in", "on", "the", "by", "off", "near"))
                return Sighting(food, day, place[:_MOST_PLACE])
    raise Refused("line", f"“{text[:40]}” names nothing that fish eat", EXAMPLE)


def _day(text: str, today: date) -> tuple[date, str]:
    if found := _ISO.search(text):
        return read_day(found[0]), text.replace(found[0], " ")
    for found in _NAMED.finditer(text):
        number = found["before"] or found["after"]
        if number is None:
            continue
        month = _MONTHS.index(found["month"].lower()[:3]) + 1
        year = int(found["year"] or today.year)
        try:
            day = date(year, month, int(number))
            if not found["year"] and day > today:
                day = day.replace(year=year - 1)
        except ValueError as error:
            raise Refused("line", f"“{found[0].strip()}” is no day", EXAMPLE) from error
        return day, text.replace(found[0], " ")
    return today, text


def _food(words: str) -> Forage | None:
    known = house_words().food
    for form in (words, words.removesuffix("es"), words.removesuffix("s")):
        if form in known:
            return known[form]
    return None
