"""One entry of a data file, read field by field: every reader of data reads through it, and every error names the file,
the entry and the field."""

from __future__ import annotations

import math
import re
from collections.abc import Collection, Iterable, Mapping
from enum import StrEnum
from typing import Any, Final, TypeVar

from tackle.errors import DataError
from tackle.vocabulary import ids

__all__ = ["ID", "Entry"]

ID: Final = re.compile(r"[a-z0-9]+(-[a-z0-9]+)*")

E = TypeVar("E", bound=StrEnum)


class Entry:
    """A table of a data file. Every method raises DataError where its field is missing or is not what it has to be.

    `name`: what the entry is called in errors; empty: by its own id, or `kind` where it has none. `fields`: those there
    may be; empty: any.
    """

    def __init__(self, raw: Any, file: str, name: str = "", fields: Collection[str] = (), kind: str = "entry") -> None:
        told = raw.get("id") if isinstance(raw, Mapping) else None
        self.file, self.name = file, name or (told if isinstance(told, str) and told else f"a {kind} with no id")
        if not isinstance(raw, Mapping):
            raise self.error("entry", "is not a table")
        self.raw: Mapping[str, Any] = raw
        for field in raw:
            if fields and field not in fields:
                raise self.error(field, f"is not a field of a {kind}: " + ", ".join(fields))

    def error(self, field: str, wrong: str) -> DataError:
        """The error for what is wrong with a field."""
        return DataError(self.file, self.name, field, wrong)

    def text(self, field: str, pattern: re.Pattern[str] | None = None, most: int = 400) -> str:
        """A text that is not blank."""
        value = self.raw.get(field)
        if not isinstance(value, str) or not value.strip():
            raise self.error(field, "is missing or not text")
        if len(value) > most:
            raise self.error(field, f"has {len(value)} characters; at most {most} are allowed")
        if pattern and not pattern.fullmatch(value):
            raise self.error(field, f"{value!r} is not of the form {pattern.pattern}")
        return value

    def number(self, field: str, low: float = -math.inf, high: float = math.inf) -> float:
        """A finite number within bounds."""
        return self._number(field, self.raw.get(field), low, high)

    def numbers(self, field: str, count: int | None = None, low: float = -math.inf) -> tuple[float, ...]:
        """A list of finite numbers, so many where that is told."""
        value = self.raw.get(field)
        if not isinstance(value, list) or (count is not None and len(value) != count):
            raise self.error(field, f"is not a list of {'numbers' if count is None else f'{count} numbers'}")
        return tuple(self._number(field, one, low, math.inf) for one in value)

    def whole(self, field: str, low: int, high: int, default: int | None = None) -> int:
        """A whole number within bounds."""
        value = self.raw.get(field, default)
        if isinstance(value, bool) or not isinstance(value, int) or not low <= value <= high:
            raise self.error(field, f"is not a whole number from {low} to {high}")
        return value

    def flag(self, field: str) -> bool:
        """True or false; false where it is left out."""
        value = self.raw.get(field, False)
        if not isinstance(value, bool):
            raise self.error(field, "is neither true nor false")
        return value

    def one(self, field: str, allowed: type[E]) -> E:
        """A word of the vocabulary."""
        return allowed(self.word(field, ids(allowed)))

    def word(self, field: str, allowed: Collection[str]) -> str:
        """One of some words."""
        value = self.text(field)
        if value not in allowed:
            raise self.error(field, f"{value!r} is not one of {', '.join(allowed)}")
        return value

    def texts(self, field: str) -> tuple[str, ...]:
        """A list of texts; none where it is left out."""
        value = self.raw.get(field, [])
        if not isinstance(value, list) or not all(isinstance(item, str) and item.strip() for item in value):
            raise self.error(field, "is not a list of texts")
        return tuple(value)

    def some(self, field: str, allowed: type[E]) -> tuple[E, ...]:
        """A list of words of the vocabulary; none where it is left out."""
        return tuple(allowed(value) for value in self.among(field, self.texts(field), ids(allowed)))

    def words(self, field: str, value: Any, allowed: Iterable[str]) -> frozenset[str]:
        """A word or a list of words, given with the name of its field, all of them allowed."""
        listed = [value] if isinstance(value, str) else value
        if not isinstance(listed, list) or not listed:
            raise self.error(field, "is not a word or a list of words")
        return frozenset(self.among(field, listed, tuple(allowed)))

    def among(self, field: str, told: Iterable[str], allowed: Collection[str]) -> Iterable[str]:
        """Some words as they are told, where all of them are allowed."""
        listed = tuple(told)
        for word in listed:
            if word not in allowed:
                raise self.error(field, f"{word!r} is not one of {', '.join(allowed)}")
        return listed

    def list(self, field: str, count: int | None = None) -> list[Any]:
        """A list of anything that is not empty; of so many, where that is told."""
        value = self.raw.get(field)
        if not isinstance(value, list) or not value or (count is not None and len(value) != count):
            raise self.error(field, f"is not a list{'' if count is None else f' of {count}'}")
        return value

    def table(self, field: str) -> Mapping[str, Any]:
        """A table; an empty one where it is left out."""
        value = self.raw.get(field, {})
        if not isinstance(value, Mapping):
            raise self.error(field, "is not a table")
        return value

    def weights(self, field: str, allowed: Collection[str], whole: bool = False) -> dict[str, float]:
        """A table of numbers from 0 by words that are all allowed; with `whole`, one for each of them."""
        told = self.table(field)
        self.among(field, told, allowed)
        if whole and set(told) != set(allowed):
            raise self.error(field, f"lacks {', '.join(sorted(set(allowed) - set(told)))}")
        low = -math.inf if whole else 0.0
        return {word: self._number(f"{field}.{word}", number, low, math.inf) for word, number in told.items()}

    def within(self, field: str) -> Entry:
        """A table of the entry, as an entry of the same name."""
        return Entry(self.table(field), self.file, self.name)

    def _number(self, field: str, value: Any, low: float, high: float) -> float:
        if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
            raise self.error(field, f"{value!r} is not a number")
        if not low <= value <= high:
            raise self.error(field, f"{value} is not from {low:g} to {high:g}")
        return float(value)
