"""Fields that several commands read."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from fractions import Fraction
from typing import Any

from tackle.errors import Refused
from tackle.schools.rulebook import Rulebook, house_rulebooks

__all__ = ["flag", "known_fields", "list_of", "number", "schools_of", "share", "words"]


def known_fields(raw: Mapping[str, Any], fields: Iterable[str]) -> None:
    """Raises Refused where a request has a field that its command does not know."""
    known = tuple(fields)
    for field in raw:
        if field not in known:
            raise Refused(field, "is not a known field", known)


def words(raw: Mapping[str, Any], field: str, allowed: Iterable[str]) -> list[str]:
    """A list of known words, each once; empty where there is none."""
    known = tuple(allowed)
    for word in (value := list_of(raw, field)):
        if not isinstance(word, str) or word not in known:
            raise Refused(field, f"{str(word)[:60]!r} is not known", known)
    return list(dict.fromkeys(value))


def list_of(raw: Mapping[str, Any], field: str, before: str = "") -> list[Any]:
    """A list; empty where there is none."""
    value = raw.get(field, [])
    if not isinstance(value, list):
        raise Refused(f"{before}{field}", "is not a list", "a list")
    return value


def number(raw: Mapping[str, Any], name: str, otherwise: Any, most: float, field: str = "") -> Any:
    """A number from 0; `otherwise` where there is none."""
    value = raw.get(name)
    if value is None:
        return otherwise
    real = isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value)
    if not real or not 0 <= value <= most:
        where = f"{field}.{name}" if field else name
        raise Refused(where, f"{str(value)[:60]!r} is not allowed", f"a number from 0 to {most:g}")
    return float(value)


def flag(raw: Mapping[str, Any], name: str) -> bool:
    """True or false; false where there is none."""
    value = raw.get(name, False)
    if not isinstance(value, bool):
        raise Refused(name, f"{str(value)[:60]!r} is not allowed", "true or false")
    return value


def share(raw: Mapping[str, Any], name: str) -> Fraction:
    """A share from 0 to 1, exactly as its decimal says; 0 where there is none."""
    number(raw, name, 0.0, 1)
    value = raw.get(name)
    return Fraction(0) if value is None else Fraction(str(value))


def schools_of(raw: Mapping[str, Any], otherwise: Iterable[str] = ()) -> tuple[Rulebook, ...]:
    """The schools that a request names, or those it stands for where it names none. Raises Refused for none at all."""
    books = house_rulebooks()
    named = words(raw, "schools", books) or list(otherwise)
    if not named:
        raise Refused("schools", "names no school", books)
    return tuple(books[school] for school in named)
