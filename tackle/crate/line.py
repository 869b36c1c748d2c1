"""One typed line understood as a lure: "3 worm green pumpkin 6in", "2 sq crank chart blk back 2.5 3/8oz"."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Final, TypeVar

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.crate.lure import sound_of
from tackle.crate.words import Match, category_of, colour_words, house_words, matches, normal, sure_of
from tackle.units import CM_PER_IN, G_PER_OZ, M_PER_FT, System

__all__ = ["MOST_COUNT", "Guess", "read_line"]

MOST_COUNT: Final = 999

T = TypeVar("T")

_COUNT: Final = re.compile(r"\s*(\d{1,3})\s*x?(?=\s+[a-z(])", re.IGNORECASE)
_TIMES: Final = re.compile(r"(?<!\S)(?:x\s*(\d{1,3})|\((\d{1,3})\))(?!\S)", re.IGNORECASE)
_DOZEN: Final = re.compile(r"(?<!\S)dozens?(?!\S)", re.IGNORECASE)
_NUMBER: Final = r"(?<![\d.,/])(\d+\s+\d+/\d+|\d+/\d+|\d+(?:[.,]\d+)?)"
_WEIGHT: Final = re.compile(_NUMBER + r"\s*(oz|ounces?|g|gr|grams?)\b", re.IGNORECASE)
_PART: Final = re.compile(r"(?<!\S)(\d{1,2}/\d{1,2})(?!\S)")
_SIZE: Final = re.compile(_NUMBER + r"\s*(inch(?:es)?|in\b|\"|”|cm\b|mm\b)", re.IGNORECASE)
_DEPTH: Final = re.compile(_NUMBER + r"\s*(ft|feet|foot|'|’|m|meters?|metres?)(?!\w)", re.IGNORECASE)
_SOUND: Final = re.compile(r"(?<!\S)(silent|rattl(?:e|es|er|ing)|knock(?:s|er|ing)?)(?!\S)", re.IGNORECASE)
_BARE: Final = re.compile(r"\s" + _NUMBER + r"\s*$")


@dataclass(frozen=True, slots=True)
class Guess:
    """What a line says: `offers` are the cards it may mean, surest first; None and empty where it does not say."""

    count: int
    category: str | None
    colour: str
    size_in: float | None
    weight_oz: float | None
    depth_ft: float | None
    sound: str
    offers: tuple[Match, ...]

    @property
    def sure(self) -> Card | None:
        """The card that is meant beyond doubt, None where one must ask."""
        return sure_of(self.offers) if self.category else None


def read_line(
    text: str, palette: Palette, system: System = "imperial", remembered: Mapping[tuple[str, str], str] | None = None
) -> Guess:
    """The best guess at a typed line.

    A bare number at the end is a size in inches, or centimetres; a bare fraction is a weight in ounces.
    `remembered`: what the user chose before, as (category, normal name) -> card id; it comes first, as certain.
    """
    left = text.strip()
    count: int | None = None
    if found := _COUNT.match(left):
        count, left = int(found[1]), left[found.end() :]
    weight, left = _taken(_WEIGHT, left, _ounces)
    size, left = _taken(_SIZE, left, _inches)
    depth, left = _taken(_DEPTH, left, _feet)
    if weight is None:
        weight, left = _taken(_PART, left, lambda found: _number(found[1]))
    sound, left = _taken(_SOUND, left, lambda found: sound_of(found[1]))
    if count is None:
        count, left = _taken(_TIMES, left, lambda found: int(found[1] or found[2]))
    dozen, left = _taken(_DOZEN, left, lambda _: 12)
    count = min(max((1 if count is None else count) * (dozen or 1), 1), MOST_COUNT)
    if size is None and (found := _BARE.search(left)):
        number = _number(found[1])
        size = number if system == "imperial" else number / CM_PER_IN
        left = left[: found.start()]
    category, colour = _category(left, palette)
    offers = matches(colour, category, palette)
    known = (remembered or {}).get((category or "", normal(colour)), "")
    if known in palette.by_id and (category is None or category in palette.by_id[known].sold_in):
        card = palette.by_id[known]
        offers = [Match(card, 100.0), *(offer for offer in offers if offer.card is not card)]
    return Guess(
        count,
        category,
        colour,
        size and round(size, 2),
        weight and round(weight, 3),
        depth and round(depth, 1),
        sound or "",
        tuple(offers[:5]),
    )


def _category(text: str, palette: Palette) -> tuple[str | None, str]:
    """The category that some words of a text name, and the text without them.

    The longest name wins, then one that is no word of a colour ("craw" may be either), then the first.
    """
    words = text.split()
    colours = colour_words(palette)
    for exact in (True, False):
        for length in (3, 2, 1):
            found = []
            for start in range(len(words) - length + 1):
                part = " ".join(words[start : start + length])
                category = category_of(part)
                if category and (not exact or _exactly(part)):
                    rest = " ".join((*words[:start], *words[start + length :]))
                    found.append((part.lower() in colours, start, category, rest))
            if found:
                return min(found)[2:]
    return None, text.strip()


def _exactly(part: str) -> bool:
    plain = part.lower().strip()
    return plain in house_words().category or plain.removesuffix("s") in house_words().category


def _taken(pattern: re.Pattern[str], text: str, read: Callable[[re.Match[str]], T]) -> tuple[T | None, str]:
    found = pattern.search(text)
    if not found:
        return None, text
    return read(found), text[: found.start()] + " " + text[found.end() :]


def _ounces(found: re.Match[str]) -> float:
    return _number(found[1]) / (1 if found[2].lower().startswith("o") else G_PER_OZ)


def _inches(found: re.Match[str]) -> float:
    unit = found[2].lower()
    return _number(found[1]) / (CM_PER_IN if unit == "cm" else 10 * CM_PER_IN if unit == "mm" else 1)


def _feet(found: re.Match[str]) -> float:
    return _number(found[1]) / (M_PER_FT if found[2].lower().startswith("m") else 1)


def _number(text: str) -> float:
    """2.5, 2,5, 3/8 or 1 1/2."""
    total = 0.0
    for part in text.replace(",", ".").split():
        top, _, bottom = part.partition("/")
        total += float(top) / (float(bottom) if bottom and float(bottom) else 1.0)
    return total
