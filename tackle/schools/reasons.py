"""Whether the reasons of a rulebook say no more than their calls' conditions see to, and nothing of a card that it has
not, as far as words allow."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from tackle.base.vocabulary import Grade
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry
from tackle.schools.review import ensured
from tackle.schools.rule import TRAITS, Conditions, Rule, Want, has_trait
from tackle.schools.rulebook import Rulebook, read_conditions

__all__ = ["unfounded"]

_FILE: Final = FOLDER / "reason-words.toml"


@dataclass(frozen=True, slots=True)
class _Word:
    """A word of a reason, and the conditions any of which lets a call say it."""

    says: re.Pattern[str]
    unless: re.Pattern[str] | None
    needs: tuple[Conditions, ...]


@dataclass(frozen=True, slots=True)
class _Trait:
    """A word of a reason for what a card has, and the sets of traits any of which lets it stand beside a card."""

    says: re.Pattern[str]
    needs: tuple[Want, ...]


def unfounded(book: Rulebook, palette: Palette) -> Iterator[tuple[Rule, str]]:
    """The calls whose reason says what their conditions do not see to, or what a card that it may stand beside has not,
    and the words."""
    words, traits = loaded(_load_words, _FILE)
    for call in book.calls:
        why = call.why.lower()
        for word in words:
            said = word.says.search(why)
            if said is None or (word.unless is not None and word.unless.search(why)):
                continue
            if not any(ensured(need, call) for need in word.needs):
                yield call, said[0]
        for trait in traits if call.grade is not Grade.AVOID else ():
            if said := trait.says.search(why):
                beside = (card for category in call.categories for card in palette.sold_in(category))
                if any(call.wants(card.traits()) and not _has_any(card, trait.needs) for card in beside):
                    yield call, said[0]


def _has_any(card: Colour, needs: tuple[Want, ...]) -> bool:
    traits = card.traits()
    return any(all(has_trait(traits[name], values) for name, values in need) for need in needs)


def _load_words(path: Path) -> tuple[tuple[_Word, ...], tuple[_Trait, ...]]:
    file = Entry(read_toml(path), path.name, "file", ("word", "trait"))
    words = (
        _read(Entry(raw, path.name, f"word {index}", ("says", "unless", "needs")))
        for index, raw in enumerate(file.list("word"), 1)
    )
    traits = (
        _read_trait(Entry(raw, path.name, f"trait {index}", ("says", "needs")))
        for index, raw in enumerate(file.list("trait"), 1)
    )
    return tuple(words), tuple(traits)


def _read_trait(entry: Entry) -> _Trait:
    needs = (Entry(raw, entry.file, entry.name, tuple(TRAITS)) for raw in entry.list("needs"))
    return _Trait(
        _pattern(entry, "says"),
        tuple(tuple((name, need.words(name, need.raw[name], TRAITS[name])) for name in need.raw) for need in needs),
    )


def _read(entry: Entry) -> _Word:
    return _Word(
        _pattern(entry, "says"),
        _pattern(entry, "unless") if "unless" in entry.raw else None,
        tuple(read_conditions(need, entry.file, entry.name) for need in entry.list("needs")),
    )


def _pattern(entry: Entry, field: str) -> re.Pattern[str]:
    try:
        return re.compile(entry.text(field))
    except re.error as error:
        raise entry.error(field, f"is not a regular expression: {error}") from error
