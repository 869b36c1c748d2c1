"""Whether the reasons of a rulebook say no more than their calls' conditions see to, as far as words allow."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any, Final

from tackle.data import FOLDER, read_toml
from tackle.errors import DataError
from tackle.schools.call import Call, Conditions
from tackle.schools.review import ensured
from tackle.schools.rulebook import Rulebook, read_conditions

__all__ = ["unfounded"]

_FILE: Final = "reason-words.toml"


@dataclass(frozen=True, slots=True)
class _Word:
    """A word of a reason, and the conditions any of which lets a call say it."""

    says: re.Pattern[str]
    unless: re.Pattern[str] | None
    needs: tuple[Conditions, ...]


def unfounded(book: Rulebook) -> Iterator[tuple[Call, str]]:
    """The calls whose reason says what their conditions do not see to, and the words."""
    for call in book.calls:
        for word in _words():
            said = word.says.search(call.why.lower())
            if said is None or (word.unless is not None and word.unless.search(call.why.lower())):
                continue
            if not any(ensured(need, call) for need in word.needs):
                yield call, said[0]


@cache
def _words() -> tuple[_Word, ...]:
    entries = read_toml(FOLDER / _FILE).get("word")
    if not isinstance(entries, list) or not entries:
        raise DataError(_FILE, "file", "word", "has no [[word]] entries")
    return tuple(_read(entry, f"word {place}") for place, entry in enumerate(entries, 1))


def _read(entry: Mapping[str, Any], name: str) -> _Word:
    needs = entry.get("needs")
    if not isinstance(needs, list) or not needs:
        raise DataError(_FILE, name, "needs", "is not a list of conditions")
    return _Word(
        _pattern(entry, name, "says"),
        _pattern(entry, name, "unless") if "unless" in entry else None,
        tuple(read_conditions(need, _FILE, name) for need in needs),
    )


def _pattern(entry: Mapping[str, Any], name: str, field: str) -> re.Pattern[str]:
    try:
        return re.compile(str(entry[field]))
    except (KeyError, re.error) as error:
        raise DataError(_FILE, name, field, f"is not a regular expression: {error}") from error
