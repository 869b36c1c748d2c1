"""A school read call by call, over the days of the reader's own plan."""

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from math import isfinite
from typing import Any

from tackle.base.units import System, write_exact
from tackle.base.vocabulary import CATEGORIES, Grade
from tackle.colours.colour import Colour
from tackle.schools.reading import calls_on, comes_first, want_apart
from tackle.schools.rule import Range, Rule
from tackle.schools.rulebook import Rulebook
from tackle.situations.rows import MILLION
from web.domain.plans.selectors import Basis, select_situations
from web.pages.rulebooks.wording import describe_want, describe_when

_STICKS = 6


@dataclass(frozen=True, slots=True)
class Read:
    """One call as it is read: `days` on which the school reaches by it first, and of those how many on each water."""

    call: Rule
    when: str
    want: str
    cards: list[Colour]
    more: int
    days: float
    waters: list[tuple[str, float]]
    fields: Mapping[str, Any]

    @property
    def categories(self) -> list[str]:
        """All that the call is for, in the vocabulary's order."""
        return [category for category in CATEGORIES if category in self.call.categories]


@dataclass(frozen=True, slots=True)
class Apart:
    """Two schools that want different colours of a category, and on how many days."""

    one: Rulebook
    other: Rulebook
    category: str
    days: float


def read_school(
    basis: Basis, book: Rulebook, category: str, words: str, units: System, data: Mapping[str, Mapping[str, Any]]
) -> list[Read]:
    """The calls of a school for a category that hold some words, those that decide most days first.

    `told`: by the id of a call, what was entered for it and could not be taken.
    """
    expected, situations = select_situations(basis, category)
    cards = basis.palette.sold_in(category)
    by_call: dict[str, Counter[str]] = {}
    for each, call in zip(expected, comes_first(book, category, cards, situations), strict=True):
        if call is not None:
            by_call.setdefault(call, Counter())[each.water.name] += each.millionths
    found = []
    for calls in calls_on(book, category):
        first = calls[0]
        meant = [card for card in cards if any(call.wants(card.traits()) for call in calls)]
        shares = by_call.get(first.written, Counter()) if first.grade is Grade.GO_TO else Counter()
        read = Read(
            call=first,
            when=describe_when(calls, units),
            want=describe_want(calls),
            cards=meant[:_STICKS],
            more=max(len(meant) - _STICKS, 0),
            days=sum(shares.values()) / MILLION,
            waters=[(name, share / MILLION) for name, share in shares.most_common()],
            fields=data.get(first.written) or _fields(first, units),
        )
        if words.lower() in f"{read.when} {read.want} {first.why} {first.written} {first.grade}".lower():
            found.append(read)
    return sorted(found, key=lambda read: (not read.call.lifted, -read.days))


def _fields(call: Rule, units: System) -> dict[str, Any]:
    sight = dict(call.ranges).get("visibility_in", Range())
    return {
        "grade": call.grade,
        "from": write_exact(sight.low, units) if isfinite(sight.low) else "",
        "below": write_exact(sight.below, units) if isfinite(sight.below) else "",
        "tones": dict(call.want).get("tone", frozenset()),
        "why": call.why,
    }


def apart(basis: Basis, category: str) -> list[Apart]:
    """Where two schools that are followed want different colours of a category, the most days first."""
    expected, situations = select_situations(basis, category)
    cards = basis.palette.sold_in(category)
    found = []
    for index, one in enumerate(basis.books):
        for other in basis.books[index + 1 :]:
            where = want_apart(one, other, category, cards, situations)
            days = sum(each.millionths for each, differs in zip(expected, where, strict=True) if differs) / MILLION
            if days:
                found.append(Apart(one, other, category, days))
    return sorted(found, key=lambda each: -each.days)
