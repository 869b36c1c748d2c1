"""A rulebook looked over: calls that can never decide, calls that contradict, and how much it has answers for."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import product

import numpy as np
from numpy.typing import NDArray

from tackle.base.vocabulary import CATEGORIES, Forage, Grade, Light, Salinity, Season, Stain, Wind
from tackle.colours.palette import Palette
from tackle.schools.evaluation import evaluate
from tackle.schools.rule import Conditions, Range, Rule
from tackle.schools.rulebook import Rulebook
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.columns import Columns
from tackle.situations.situation import Situation, make_situation

__all__ = ["LatticeShare", "contradictions", "ensured", "lattice", "never_win", "lattice_share"]


@dataclass(frozen=True, slots=True)
class LatticeShare:
    """Of the situations of a lattice, which share has a go-to, at best a works, or nothing; and how many go-tos.

    `answered` (n,) tells which have one or the other.
    """

    go_to: float
    works: float
    nothing: float
    mean_go_to: float
    answered: NDArray[np.bool_]


def lattice(category: str) -> list[Situation]:
    """Every clarity band, light, season, stain, wind and food that a category can meet."""
    waters = CATEGORIES[category].waters
    foods = [
        food
        for food in Forage
        if food is Forage.UNKNOWN or waters is Salinity.BOTH or food.in_salt == (waters is Salinity.SALT)
    ]
    return [
        make_situation(
            category,
            visibility_in=HOUSE_LADDER.typical_in(band),
            light=light,
            stain=stain,
            wind=wind,
            season=season,
            forage=(food,),
        )
        for band, light, season, stain, wind, food in product(BANDS, Light, Season, Stain, (None, *Wind), foods)
    ]


def lattice_share(book: Rulebook, category: str, palette: Palette, columns: Columns) -> LatticeShare:
    """How much of a category's lattice one school answers."""
    grades = [call.grade for call in book.calls]
    deciding_rules = evaluate(book, category, palette.sold_in(category), columns)
    is_go_to = np.array([grade is Grade.GO_TO for grade in grades] + [False])[deciding_rules]
    is_works = np.array([grade is Grade.WORKS for grade in grades] + [False])[deciding_rules]
    some_go_to = is_go_to.any(axis=0)
    some = np.asarray(some_go_to | is_works.any(axis=0), dtype=np.bool_)
    return LatticeShare(
        go_to=float(some_go_to.mean()),
        works=float((some & ~some_go_to).mean()),
        nothing=float((~some).mean()),
        mean_go_to=float(is_go_to.mean()),
        answered=some,
    )


def never_win(book: Rulebook, palette: Palette) -> Iterator[tuple[Rule, str]]:
    """The calls that can never decide, and why."""
    for index, call in enumerate(book.calls):
        pairs = [(c, card) for c in call.categories for card in palette.sold_in(c) if call.wants(card.traits())]
        if not pairs:
            yield call, "no colour of its categories has the wanted traits"
            continue
        above = [
            other
            for spot, other in enumerate(book.calls)
            if (other.precedence, -spot) > (call.precedence, -index) and ensured(other.conditions, call)
        ]
        if all(any(c in other.categories and other.wants(card.traits()) for other in above) for c, card in pairs):
            yield call, "always outdone by " + ", ".join(other.id for other in above)


def contradictions(book: Rulebook, palette: Palette) -> Iterator[tuple[Rule, Rule]]:
    """Pairs of an `avoid` and a recommendation, equally specific, that can speak of one card at once."""
    warnings = [call for call in book.calls if call.grade is Grade.AVOID]
    praises = [call for call in book.calls if call.grade is not Grade.AVOID]
    for warning, praise in product(warnings, praises):
        if warning.specificity == praise.specificity and _can_both_hold(warning, praise):
            shared = warning.categories & praise.categories
            if any(
                warning.wants(card.traits()) and praise.wants(card.traits())
                for c in shared
                for card in palette.sold_in(c)
            ):
                yield warning, praise


def ensured(conditions: Conditions, call: Rule) -> bool:
    """Whether some conditions hold wherever a call's do."""
    ranges, among = dict(call.ranges), dict(call.among)
    return all(name in ranges and _within(ranges[name], span) for name, span in conditions[0]) and all(
        name in among and among[name] <= values for name, values in conditions[1]
    )


def _can_both_hold(one: Rule, other: Rule) -> bool:
    ranges, among = dict(one.ranges), dict(one.among)
    # A situation may name several foods, so two different ones do not exclude each other.
    return all(_overlap(ranges.get(name, Range()), span) for name, span in other.ranges) and all(
        name == "forage" or name not in among or not among[name].isdisjoint(values) for name, values in other.among
    )


def _arcs(span: Range) -> Sequence[tuple[float, float]]:
    if span.low >= span.below:  # months that go round the turn of the year
        return ((span.low, math.inf), (-math.inf, span.below))
    return ((span.low, span.below),)


def _within(inner: Range, outer: Range) -> bool:
    return all(any(a <= low and below <= b for a, b in _arcs(outer)) for low, below in _arcs(inner))


def _overlap(one: Range, other: Range) -> bool:
    return any(max(a, c) < min(b, d) for a, b in _arcs(one) for c, d in _arcs(other))
