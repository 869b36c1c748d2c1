"""One entry of a data file, read field by field: every reader of data reads through it, and every error names the file,
the entry and the field."""

from __future__ import annotations

import math
import re
from collections.abc import Collection, Iterable, Mapping
from enum import StrEnum
from typing import Any, Final, TypeVar

from tackle.base.errors import DataError, InvalidInput
from tackle.base.typed import ANYTHING, FLAG, Id, ListOf, Number, OptionalKind, Table, Text, ValueKind, Whole, Word

__all__ = ["ID", "Entry"]

ID: Final = re.compile(r"[a-z0-9]+(-[a-z0-9]+)*")

E = TypeVar("E", bound=StrEnum)
T = TypeVar("T")


def _listed(kind: ValueKind[T], count: int | None) -> ListOf[T]:
    return ListOf(kind) if count is None else ListOf(kind, count, count)


class Entry:
    """A table of a data file. Every method raises DataError where its field is missing or is not what it has to be.

    `name`: what the entry is called in errors; empty: by its own id, or `kind` where it has none. `fields`: those there
    may be; empty: any.
    """

    def __init__(self, raw: Any, file: str, name: str = "", fields: Collection[str] = (), kind: str = "entry") -> None:
        given_id = raw.get("id") if isinstance(raw, Mapping) else None
        known = given_id if isinstance(given_id, str) and given_id else f"a {kind} with no id"
        self.file, self.name = file, name or known
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
        return self.of(field, Text(most, pattern=pattern))

    def number(self, field: str, low: float = -math.inf, high: float = math.inf) -> float:
        """A finite number within bounds."""
        return self.of(field, Number(low, high))

    def numbers(self, field: str, count: int | None = None, low: float = -math.inf) -> tuple[float, ...]:
        """A list of finite numbers, so many where that is told."""
        listed = self.of(field, _listed(Number(low), count))
        return tuple(listed)

    def whole(self, field: str, low: int, high: int, default: int | None = None) -> int:
        """A whole number within bounds."""
        return self.of(field, OptionalKind(Whole(low, high), default) if default is not None else Whole(low, high))

    def flag(self, field: str) -> bool:
        """True or false; false where it is left out."""
        return self.of(field, OptionalKind(FLAG, False))

    def one(self, field: str, allowed: type[E]) -> E:
        """A word of the vocabulary."""
        return self.of(field, Id(allowed))

    def word(self, field: str, allowed: Collection[str]) -> str:
        """One of some words."""
        return self.of(field, Word(allowed))

    def texts(self, field: str) -> tuple[str, ...]:
        """A list of texts; none where it is left out."""
        listed = self.of(field, OptionalKind(ListOf(Text()), []))
        return tuple(listed)

    def some(self, field: str, allowed: type[E]) -> tuple[E, ...]:
        """A list of words of the vocabulary; none where it is left out."""
        listed = self.of(field, OptionalKind(ListOf(Id(allowed)), []))
        return tuple(listed)

    def words(self, field: str, value: Any, allowed: Iterable[str]) -> frozenset[str]:
        """A word or a list of words, given with the name of its field, all of them allowed."""
        listed = [value] if isinstance(value, str) else value
        known = self.read(field, listed, ListOf(Word(tuple(allowed)), least=1))
        return frozenset(known)

    def among(self, field: str, named: Iterable[str], allowed: Collection[str]) -> Iterable[str]:
        """Some words as they are named, where all of them are allowed."""
        listed = self.read(field, tuple(named), ListOf(Word(allowed)))
        return listed

    def list(self, field: str, count: int | None = None) -> list[Any]:
        """A list of anything that is not empty; of so many, where that is told."""
        return self.of(field, ListOf(ANYTHING, least=1) if count is None else _listed(ANYTHING, count))

    def table(self, field: str) -> Mapping[str, Any]:
        """A table; an empty one where it is left out."""
        return self.of(field, OptionalKind(Table(ANYTHING, ANYTHING), {}))

    def weights(self, field: str, allowed: Collection[str], whole: bool = False) -> dict[str, float]:
        """A table of numbers from 0 by words that are all allowed; with `whole`, one for each of them."""
        found = self.of(field, OptionalKind(Table(Word(allowed), Number(-math.inf if whole else 0.0)), {}))
        if whole and set(found) != set(allowed):
            raise self.error(field, f"lacks {', '.join(sorted(set(allowed) - set(found)))}")
        return found

    def of(self, field: str, kind: ValueKind[T]) -> T:
        """A field's value, of its kind."""
        return self.read(field, self.raw.get(field), kind)

    def read(self, field: str, value: Any, kind: ValueKind[T]) -> T:
        """A value that stands for a field, of its kind."""
        try:
            return kind.read(value, field)
        except InvalidInput as refused:
            # A word and a list of one are the same to whoever writes the file.
            place = re.sub(r"\[\d+\]$", "", refused.field)
            raise self.error(place, f"{refused.wrong}; allowed: {refused.allowed}") from refused

    def within(self, field: str) -> Entry:
        """A table of the entry, as an entry of the same name."""
        return Entry(self.table(field), self.file, self.name)
