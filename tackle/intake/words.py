"""The short forms anglers write, from the data file."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import Final

from tackle.base.vocabulary import CATEGORIES, Forage, ids
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry

__all__ = ["MOST_NAME", "Words", "house_words", "load_words", "normal", "bare_words"]

WORDS_FILE: Final = FOLDER / "words.toml"
MOST_NAME: Final = 80  # characters: no printed name is longer, and a long one takes long to compare
LONGEST: Final = 4  # words that one entry of the file may have

_PARTS: Final = ("category", "as", "thing", "hardware", "condition", "food", "colour", "nickname", "let_go")


@dataclass(frozen=True)
class Words:
    """What a word or a few stand for, in lower case.

    `category`: the categories it may be. `stands_for`: those among them that are a kind of its own, taken in as the
    nearest. `things`: what has no colour that counts. `parts`: what a lure is made with; `looks`: how they look.
    `condition`: what has happened to a lure, and its condition then. `food`: what is meant that fish eat. `colour`:
    the words it is short for. `nickname`: the ids of the cards it may mean. `let_go`: says nothing of the colour.
    `other`: colours not ours.
    """

    category: Mapping[str, tuple[str, ...]]
    stands_for: frozenset[str]
    things: frozenset[str]
    parts: frozenset[str]
    looks: frozenset[str]
    condition: Mapping[str, str]
    food: Mapping[str, Forage]
    colour: Mapping[str, str]
    nickname: Mapping[str, tuple[str, ...]]
    let_go: frozenset[str]
    other: frozenset[str]

    @cached_property
    def joined(self) -> Mapping[str, tuple[str, ...]]:
        """The categories by the words for them, written together."""
        return {short.replace(" ", ""): ids for short, ids in self.category.items()}

    @cached_property
    def by_start(self) -> Mapping[tuple[str, int], list[str]]:
        """The names of `joined` by first letter and length: a slip leaves the one and changes the other by one."""
        found: dict[tuple[str, int], list[str]] = {}
        for name in self.joined:
            found.setdefault((name[:1], len(name)), []).append(name)
        return found

    @cached_property
    def of_kinds(self) -> frozenset[str]:
        """Every word that is part of one for a category."""
        return frozenset(word for short in self.category for word in short.split())

    @cached_property
    def of_damage(self) -> frozenset[str]:
        """Every word that is part of one for what has happened to a lure."""
        return frozenset(word for short in self.condition for word in short.split())

    @cached_property
    def of_no_kind(self) -> frozenset[str]:
        """Words, beside those of colours, that are never taken for a slip of a kind's name."""
        data = (*self.things, *self.parts, *self.looks, *self.condition, *self.let_go, *self.other)
        return frozenset(word for entry in data for word in entry.split())

    @cached_property
    def things_too(self) -> frozenset[str]:
        """What has no colour that counts, of several too."""
        return self.things | {f"{word}s" for word in self.things}


def load_words(path: Path) -> Words:
    """The short forms in a TOML file. Raises DataError naming file, entry and field."""
    file = Entry(read_toml(path), path.name, "file", _PARTS)
    parts = {part: Entry(file.table(part), path.name, part) for part in _PARTS}
    category = {short: _ids(parts["category"], short) for short in parts["category"].raw}
    for short, meant in category.items():
        parts["category"].among(short, meant, tuple(CATEGORIES))
    nearest = {short: _ids(parts["as"], short) for short in parts["as"].raw}
    for short, meant in nearest.items():
        parts["as"].among(short, meant, tuple(CATEGORIES))
    own = {name.replace("-", " "): (name,) for name in CATEGORIES}
    return Words(
        {**own, **category, **nearest},
        frozenset(nearest),
        frozenset(parts["thing"].texts("words")),
        frozenset(parts["hardware"].texts("parts")),
        frozenset(parts["hardware"].texts("looks")),
        {short: parts["condition"].text(short) for short in parts["condition"].raw},
        {
            **{food.value.replace("-", " "): food for food in Forage if food is not Forage.UNKNOWN},
            **{short: Forage(parts["food"].word(short, ids(Forage))) for short in parts["food"].raw},
        },
        {short: parts["colour"].text(short) for short in parts["colour"].raw},
        {short: _ids(parts["nickname"], short) for short in parts["nickname"].raw},
        frozenset(parts["let_go"].texts("words")),
        frozenset(parts["let_go"].texts("other")),
    )


def _ids(entry: Entry, field: str) -> tuple[str, ...]:
    """A text or a list of texts."""
    return (entry.text(field),) if isinstance(entry.raw[field], str) else entry.texts(field)


def house_words() -> Words:
    """The short forms that ship with the app, loaded once."""
    return loaded(load_words, WORDS_FILE)


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
