"""The short forms anglers write, from the data file, and the nearest cards to a printed name."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache, lru_cache
from pathlib import Path
from typing import Final

from rapidfuzz import fuzz, process

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.data import FOLDER, read_toml
from tackle.errors import DataError
from tackle.vocabulary import CATEGORIES

__all__ = [
    "Match", "Words", "category_of", "colour_words", "house_words", "load_words", "matches", "normal", "sure_of",
]  # fmt: skip

WORDS_FILE: Final = FOLDER / "words.toml"
SURE: Final = 88.0  # from here on a match is taken without asking
_CLOSE: Final = 84.0  # how near a slip may be to a category's word
_TIE: Final = 4.5
MOST_NAME: Final = 80  # characters: no printed name is longer, and a long one takes long to compare
_OFFERED: Final = 40.0  # below this a guess only misleads


@dataclass(frozen=True, slots=True)
class Words:
    """Short forms in lower case: of categories (to their id) and of colours (to the words they stand for)."""

    category: Mapping[str, str]
    colour: Mapping[str, str]


@dataclass(frozen=True, slots=True)
class Match:
    """A card that may be meant, and how sure that is, 0 to 100."""

    card: Card
    score: float


def load_words(path: Path) -> Words:
    """The short forms in a TOML file. Raises DataError naming file, entry and field."""
    raw = read_toml(path)
    for part in ("category", "colour"):
        table = raw.get(part)
        if not isinstance(table, dict) or not all(isinstance(value, str) and value for value in table.values()):
            raise DataError(path.name, part, "table", "is not a table of texts")
    for short, category in raw["category"].items():
        if category not in CATEGORIES:
            raise DataError(path.name, "category", short, f"{category!r} is not a category")
    own = {name.replace("-", " "): name for name in CATEGORIES}
    return Words({**own, **raw["category"]}, raw["colour"])


@cache
def house_words() -> Words:
    """The short forms that ship with the app, loaded once."""
    return load_words(WORDS_FILE)


def normal(text: str) -> str:
    """A name without case, marks and odd spaces, its short forms written out."""
    plain = re.sub(r"[^a-z0-9]+", " ", text.lower()).split()
    colour = house_words().colour
    return " ".join(colour.get(word, word) for word in plain)


def category_of(text: str) -> str | None:
    """The category that a word or two stand for, slips forgiven; None where none is near."""
    table = house_words().category
    plain = re.sub(r"[^a-z0-9]+", " ", text.lower()).strip()
    if not plain:
        return None
    singular = plain.removesuffix("s")
    if plain in table or singular in table:
        return table.get(plain) or table[singular]
    if len(plain) < 4:
        return None
    near = process.extractOne(plain, list(table), scorer=fuzz.ratio, score_cutoff=_CLOSE)
    return table[near[0]] if near else None


def matches(text: str, category: str | None, palette: Palette, most: int = 5) -> list[Match]:
    """The cards that a printed name may mean, surest first; of a category where one is told."""
    return list(_matches(normal(text[:MOST_NAME]), category, palette)[:most])


@lru_cache(maxsize=20_000)
def _matches(plain: str, category: str | None, palette: Palette) -> tuple[Match, ...]:
    cards = palette.sold_in(category) if category else palette.cards
    if not plain:
        return ()
    best: dict[Card, float] = {}
    names = _names(palette)
    for card in cards:
        best[card] = max(_score(plain, name, worth) for name, worth in names[card])
    found = sorted(best.items(), key=lambda entry: -entry[1])
    return tuple(Match(card, round(score, 1)) for card, score in found[:8] if score >= _OFFERED)


@lru_cache(maxsize=64)
def _names(palette: Palette) -> dict[Card, tuple[tuple[str, float], ...]]:
    """What each card goes by, with what a full match is worth: its own name most, a code or a bare tone least."""
    return {
        card: (
            (normal(card.name), 100.0),
            *((normal(name), 98.0) for name in card.also),
            *((normal(name), 94.0) for name in (card.code, card.tone)),
        )
        for card in palette.cards
    }


@lru_cache(maxsize=64)
def colour_words(palette: Palette) -> frozenset[str]:
    """Every word that stands in a card's names."""
    return frozenset(word for names in _names(palette).values() for name, _ in names for word in name.split())


def _score(plain: str, name: str, worth: float) -> float:
    """How near two names are: the words in any order, with slips; words too many count less than words amiss."""
    if plain == name:
        return worth
    return min(worth, 0.6 * fuzz.token_sort_ratio(plain, name) + 0.4 * fuzz.token_set_ratio(plain, name) - 1)


def sure_of(offers: Sequence[Match]) -> Card | None:
    """The card that is meant beyond doubt: near enough, and no other as near. None where one must ask."""
    if not offers or offers[0].score < SURE:
        return None
    rival = offers[1].score if len(offers) > 1 else 0.0
    if offers[0].score - rival <= _TIE and not offers[0].score == 100.0 > rival:
        return None  # only a card's own full name stands above its rivals
    return offers[0].card
