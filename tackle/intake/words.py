"""The short forms anglers write, from the data file."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any, Final

from tackle.data import FOLDER, read_toml
from tackle.errors import DataError
from tackle.vocabulary import CATEGORIES

__all__ = ["MOST_NAME", "Words", "house_words", "load_words", "normal", "bare_words"]

WORDS_FILE: Final = FOLDER / "words.toml"
MOST_NAME: Final = 80  # characters: no printed name is longer, and a long one takes long to compare
LONGEST: Final = 4  # words that one entry of the file may have


@dataclass(frozen=True, slots=True)
class Words:
    """What a word or a few stand for, in lower case.

    `category`: the categories it may be, none where it is no lure of ours. `colour`: the words it is short for.
    `nickname`: the ids of the cards it may mean. `let_go`: says nothing of the colour. `other`: colours not ours.
    """

    category: Mapping[str, tuple[str, ...]]
    colour: Mapping[str, str]
    nickname: Mapping[str, tuple[str, ...]]
    let_go: frozenset[str]
    other: frozenset[str]


def load_words(path: Path) -> Words:
    """The short forms in a TOML file. Raises DataError naming file, entry and field."""
    raw = read_toml(path)
    for part in ("category", "colour", "nickname", "let_go"):
        if not isinstance(raw.get(part), dict):
            raise DataError(path.name, part, "table", "is missing")
    category = {short: _ids(path, "category", short, told) for short, told in raw["category"].items()}
    for short, ids in category.items():
        for one in ids:
            if one not in CATEGORIES:
                raise DataError(path.name, "category", short, f"{one!r} is not a category")
    for short, words in raw["colour"].items():
        if not isinstance(words, str) or not words:
            raise DataError(path.name, "colour", short, "is not a text")
    own = {name.replace("-", " "): (name,) for name in CATEGORIES}
    return Words(
        {**own, **category},
        raw["colour"],
        {short: _ids(path, "nickname", short, told) for short, told in raw["nickname"].items()},
        frozenset(_ids(path, "let_go", "words", raw["let_go"].get("words"))),
        frozenset(_ids(path, "let_go", "other", raw["let_go"].get("other"))),
    )


def _ids(path: Path, entry: str, field: str, told: Any) -> tuple[str, ...]:
    many = [told] if isinstance(told, str) else told
    if not isinstance(many, list) or not all(isinstance(one, str) and one for one in many):
        raise DataError(path.name, entry, field, "is not a text or a list of texts")
    return tuple(many)


@cache
def house_words() -> Words:
    """The short forms that ship with the app, loaded once."""
    return load_words(WORDS_FILE)


def bare_words(text: str) -> list[str]:
    """The words of a text in lower case, without marks."""
    return re.sub(r"[^a-z0-9]+", " ", text.lower()).split()


def normal(text: str) -> str:
    """A name without case, marks and odd spaces, its short forms written out, the longest first."""
    words, colour = bare_words(text[: 2 * MOST_NAME]), house_words().colour
    out: list[str] = []
    place = 0
    while place < len(words):
        for length in range(min(LONGEST, len(words) - place), 0, -1):
            part = " ".join(words[place : place + length])
            if part in colour or length == 1:
                out.append(colour.get(part, part))
                place += length
                break
    return " ".join(out)
