"""Typed values from outside, read strictly: each kind has its bounds, and every refusal names the field, the value and
what is allowed. Data files, commands, exchanges and logs read through these.

>>> Record({"rods": Whole(1, 8), "light": Word(("bright", "low"))}).read({"rods": 9, "light": "low"}, "trip")
Traceback (most recent call last):
tackle.base.errors.InvalidInput: trip.rods: 9 is not allowed; allowed: a whole number from 1 to 8
"""

from __future__ import annotations

import math
import re
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, Final, Generic, TypeVar

from tackle.base.errors import InvalidInput

__all__ = [
    "ANYTHING", "FLAG", "Id", "ValueKind", "OptionalKind", "Number", "Record", "ListOf", "Table", "Text", "Whole",
    "Word",
]  # fmt: skip

T = TypeVar("T")
E = TypeVar("E", bound=StrEnum)
_SHOWN: Final = 60


class ValueKind(Generic[T]):
    """A kind of value. `allowed` says in words what it may be."""

    @property
    def allowed(self) -> str:
        raise NotImplementedError

    def read(self, value: object, field: str) -> T:
        """The value. Raises InvalidInput with the field, what is wrong with the value, and what is allowed."""
        raise NotImplementedError

    def refused(self, value: object, field: str) -> InvalidInput:
        """What is raised for a value of another kind, or out of bounds."""
        shown = repr(value)
        short = shown if len(shown) <= _SHOWN else f"{shown[:_SHOWN]}…"
        return InvalidInput(field, "is missing" if value is None else f"{short} is not allowed", self.allowed)


@dataclass(frozen=True, slots=True)
class Number(ValueKind[float]):
    """A finite number from `low` to `high`, from above `low` with `above`."""

    low: float = -math.inf
    high: float = math.inf
    above: bool = False

    @property
    def allowed(self) -> str:
        if self.low == -math.inf:
            return "a number"
        start = f"a number above {self.low:g}" if self.above else f"a number from {self.low:g}"
        return start if self.high == math.inf else f"{start}{',' if self.above else ''} to {self.high:g}"

    def read(self, value: object, field: str) -> float:
        real = isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value)
        if not real or not self.low <= value <= self.high or (self.above and value == self.low):  # type: ignore[operator]
            raise self.refused(value, field)
        return float(value)  # type: ignore[arg-type]


@dataclass(frozen=True, slots=True)
class Whole(ValueKind[int]):
    """A whole number from `low` to `high`; 2.0 is one, for scripts write no other."""

    low: int
    high: int

    @property
    def allowed(self) -> str:
        return f"a whole number from {self.low} to {self.high}"

    def read(self, value: object, field: str) -> int:
        whole = isinstance(value, int) or (isinstance(value, float) and value.is_integer())
        if not whole or isinstance(value, bool) or not self.low <= value <= self.high:  # type: ignore[operator]
            raise self.refused(value, field)
        return int(value)  # type: ignore[call-overload, no-any-return]


@dataclass(frozen=True, slots=True)
class Text(ValueKind[str]):
    """A text of `least` to `most` characters, blanks around it not counted; of a form, where there is a pattern."""

    most: int = 400
    least: int = 1
    pattern: re.Pattern[str] | None = None
    form: str = ""

    @property
    def allowed(self) -> str:
        if self.pattern:
            return self.form or f"a text of the form {self.pattern.pattern}"
        return f"a text of {self.least} to {self.most} characters"

    def read(self, value: object, field: str) -> str:
        if not isinstance(value, str) or not self.least <= len(value.strip()) or len(value) > self.most:
            raise self.refused(value, field)
        if self.pattern and not self.pattern.fullmatch(value):
            raise self.refused(value, field)
        return value


@dataclass(frozen=True, slots=True)
class Word(ValueKind[str]):
    """One of some words."""

    words: Collection[str]

    @property
    def allowed(self) -> str:
        return f"one of {', '.join(self.words)}"

    def read(self, value: object, field: str) -> str:
        if not isinstance(value, str) or value not in self.words:
            raise self.refused(value, field)
        return value


@dataclass(frozen=True, slots=True)
class Id(ValueKind[E]):
    """A word of the vocabulary."""

    words: type[E]

    @property
    def allowed(self) -> str:
        return f"one of {', '.join(self.words)}"

    def read(self, value: object, field: str) -> E:
        found = self.words._value2member_map_.get(value) if isinstance(value, str) else None
        if found is None:
            raise self.refused(value, field)
        return found  # type: ignore[return-value]


@dataclass(frozen=True, slots=True)
class _Flag(ValueKind[bool]):
    @property
    def allowed(self) -> str:
        return "true or false"

    def read(self, value: object, field: str) -> bool:
        if not isinstance(value, bool):
            raise self.refused(value, field)
        return value


@dataclass(frozen=True, slots=True)
class _Anything(ValueKind[Any]):
    @property
    def allowed(self) -> str:
        return "anything"

    def read(self, value: object, field: str) -> Any:
        return value


FLAG: Final = _Flag()
ANYTHING: Final = _Anything()  # what has a reader of its own


@dataclass(frozen=True, slots=True)
class OptionalKind(ValueKind[T]):
    """A value that may be missing; `otherwise` then."""

    kind: ValueKind[T]
    otherwise: Any = None

    @property
    def allowed(self) -> str:
        return self.kind.allowed

    def read(self, value: object, field: str) -> T:
        return self.otherwise if value is None else self.kind.read(value, field)


@dataclass(frozen=True, slots=True)
class ListOf(ValueKind[list[T]]):
    """A list of `least` to `most` values of one kind; with `once`, what stands twice is read once."""

    kind: ValueKind[T]
    most: int = 1_000_000
    least: int = 0
    once: bool = False

    @property
    def allowed(self) -> str:
        if self.least == self.most:
            return f"a list of {self.least}: {self.kind.allowed}"
        bounds = f"{self.least} to {self.most}" if self.least else f"at most {self.most}"
        return f"a list of {bounds}: {self.kind.allowed}"

    def read(self, value: object, field: str) -> list[T]:
        if not isinstance(value, list | tuple):
            raise self.refused(value, field)
        if not self.least <= len(value) <= self.most:
            raise InvalidInput(field, f"has {len(value)} entries", self.allowed)
        found = [self.kind.read(one, f"{field}[{index}]") for index, one in enumerate(value)]
        return list(dict.fromkeys(found)) if self.once else found


@dataclass(frozen=True, slots=True)
class Table(ValueKind[dict[str, T]]):
    """An object of values of one kind, by keys of one kind."""

    key: ValueKind[str]
    value: ValueKind[T]

    @property
    def allowed(self) -> str:
        return f"an object of {self.key.allowed}"

    def read(self, value: object, field: str) -> dict[str, T]:
        if not isinstance(value, Mapping):
            raise self.refused(value, field)
        return {self.key.read(key, field): self.value.read(one, f"{field}.{key}") for key, one in value.items()}


@dataclass(frozen=True, slots=True)
class Record(ValueKind[dict[str, Any]]):
    """An object with these fields, each of its kind, and no other; with `others`, what else it has is not read."""

    fields: Mapping[str, ValueKind[Any]]
    others: bool = False

    @property
    def allowed(self) -> str:
        return f"an object with {', '.join(self.fields)}"

    def read(self, value: object, field: str = "") -> dict[str, Any]:
        if not isinstance(value, Mapping):
            raise self.refused(value, field)
        if not self.others:
            for name in value:
                if name not in self.fields:
                    raise InvalidInput(_within(field, str(name)[:_SHOWN]), "is not a known field", tuple(self.fields))
        found = {}
        for name, kind in self.fields.items():
            try:
                found[name] = kind.read(value.get(name), name)
            except InvalidInput as refused:
                raise InvalidInput(_within(field, refused.field), refused.wrong, refused.allowed) from refused
        return found


def _within(field: str, name: str) -> str:
    return f"{field}.{name}" if field else name
