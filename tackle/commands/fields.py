"""Kinds of value that several commands read."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from fractions import Fraction
from typing import Any, Final

from tackle.base.errors import InvalidInput
from tackle.base.typed import ANYTHING, ListOf, Number, OptionalKind, Text, ValueKind, Word
from tackle.base.vocabulary import CATEGORIES, Grade
from tackle.schools.rulebook import Rulebook, house_rulebooks

__all__ = ["ACCEPT", "AGREE", "CATEGORY", "SCHOOLS", "SHARE", "rows", "read_schools", "words"]


def words(allowed: Iterable[str]) -> ValueKind[list[str]]:
    """A list of known words; none where it is left out."""
    return OptionalKind(ListOf(Word(tuple(allowed)), once=True), [])


def rows(most: int = 1_000_000) -> ValueKind[list[Any]]:
    """A list of what has a reader of its own; none where it is left out."""
    return OptionalKind(ListOf(ANYTHING, most), [])


class _Share(ValueKind[Fraction]):
    """A share from 0 to 1, exactly as its decimal says."""

    allowed = Number(0, 1).allowed

    def read(self, value: object, field: str) -> Fraction:
        Number(0, 1).read(value, field)
        return Fraction(str(value))


CATEGORY: Final = Word(CATEGORIES)
SCHOOLS: Final = OptionalKind(ListOf(Text(), once=True), [])  # known ones: see read_schools
AGREE: Final = OptionalKind(Word(("any", "all")), "any")
ACCEPT: Final = OptionalKind(Word((Grade.GO_TO, Grade.WORKS)), Grade.WORKS)
SHARE: Final = OptionalKind(_Share(), Fraction(0))


def read_schools(named: Sequence[str], otherwise: Iterable[str] = ()) -> tuple[Rulebook, ...]:
    """The schools that a request names, each once, or those it stands for where it names none. Raises InvalidInput for
    none at all."""
    books = house_rulebooks()
    listed = words(books).read(named, "schools") or list(otherwise)
    if not listed:
        raise InvalidInput("schools", "names no rulebook", books)
    return tuple(books[school] for school in listed)
