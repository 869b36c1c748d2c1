"""Whether the reasons of a rulebook say no more than their calls' conditions see to, as far as words allow."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry
from tackle.schools.call import Call, Conditions
from tackle.schools.review import ensured
from tackle.schools.rulebook import Rulebook, read_conditions

__all__ = ["unfounded"]

_FILE: Final = FOLDER / "reason-words.toml"


@dataclass(frozen=True, slots=True)
class _Word:
    """A word of a reason, and the conditions any of which lets a call say it."""

    says: re.Pattern[str]
    unless: re.Pattern[str] | None
    needs: tuple[Conditions, ...]


def unfounded(book: Rulebook) -> Iterator[tuple[Call, str]]:
    """The calls whose reason says what their conditions do not see to, and the words."""
    for call in book.calls:
        for word in loaded(_load_words, _FILE):
            said = word.says.search(call.why.lower())
            if said is None or (word.unless is not None and word.unless.search(call.why.lower())):
                continue
            if not any(ensured(need, call) for need in word.needs):
                yield call, said[0]


def _load_words(path: Path) -> tuple[_Word, ...]:
    file = Entry(read_toml(path), path.name, "file", ("word",))
    return tuple(
        _read(Entry(raw, path.name, f"word {place}", ("says", "unless", "needs")))
        for place, raw in enumerate(file.list("word"), 1)
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
