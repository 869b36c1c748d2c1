"""What a school says: every card of a category in many situations at once, and one situation's ranking."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.colours.card import Card
from tackle.schools.call import Call, Range
from tackle.schools.rulebook import Rulebook
from tackle.situations.columns import CHOICES, Columns, tabulate
from tackle.situations.situation import Situation
from tackle.vocabulary import Forage, Grade

__all__ = ["Verdict", "evaluate", "holds", "rank"]

_RANK: Final = (Grade.GO_TO, Grade.WORKS, Grade.AVOID)
_EXACT_FOOD_FROM_IN: Final = 30.0  # from fair water on, fish see enough that a closer likeness counts first


@dataclass(frozen=True, slots=True)
class Verdict:
    """What a school says of one card in one situation, and the call that decided."""

    card: Card
    grade: Grade
    call: Call


def evaluate(book: Rulebook, category: str, cards: Sequence[Card], columns: Columns) -> NDArray[np.int16]:
    """The deciding call for every card and situation.

    Shape (len(cards), columns.count): the place in book.calls, or -1 where the school is silent. All the
    situations are taken to be of `category`. Of the calls that apply, the most specific decides, then the
    grade, then the earlier in the file.
    """
    decided = np.full((len(cards), columns.count), -1, dtype=np.int16)
    places = [place for place, call in enumerate(book.calls) if category in call.categories]
    # Lowest precedence first, each overwriting what went before it.
    for place in sorted(places, key=lambda p: (book.calls[p].precedence, -p)):
        call = book.calls[place]
        wanted = [row for row, card in enumerate(cards) if call.wants(card)]
        if wanted:
            where = holds(call, columns)
            for row in wanted:
                np.copyto(decided[row], place, where=where)
    return decided


def holds(call: Call, columns: Columns) -> NDArray[np.bool_]:
    """Whether a call's conditions hold in each situation; shape (columns.count,)."""
    mask = np.ones(columns.count, dtype=np.bool_)
    for name, span in call.ranges:
        mask &= _inside(span, columns.numbers[name])
    for name, values in call.among:
        if name == "forage":
            mask &= (columns.forage & _bits(values)) != 0
        else:
            allowed = np.zeros(len(CHOICES[name]) + 1, dtype=np.bool_)  # the last place is -1: unknown
            allowed[[CHOICES[name].index(value) if value in CHOICES[name] else -1 for value in values]] = True
            mask &= allowed[columns.choices[name]]
    return mask


def rank(book: Rulebook, cards: Sequence[Card], situation: Situation) -> list[Verdict]:
    """The cards a school speaks of in one situation, best first, those to avoid last.

    Inside a grade: how many of the deciding call's traits match, then how exactly the food is imitated
    (first of all in water of a fair sight or more), then the order in which the cards were given.
    """
    decided = evaluate(book, situation.category, cards, tabulate([situation]))[:, 0]
    verdicts = [
        Verdict(card, book.calls[place].grade, book.calls[place])
        for card, place in zip(cards, decided, strict=True)
        if place >= 0
    ]

    def standing(verdict: Verdict) -> tuple[int, float, float]:
        matched = float(verdict.call.matched(verdict.card))
        alike = food_likeness(verdict.card, situation.forage)
        first, second = (matched + alike, alike) if situation.visibility_in >= _EXACT_FOOD_FROM_IN else (matched, alike)
        return _RANK.index(verdict.grade), -first, -second

    return sorted(verdicts, key=standing)


def food_likeness(card: Card, forage: Sequence[Forage]) -> float:
    """How exactly a card imitates what is eaten: 0 not at all, 1 that and nothing else."""
    hit = len(set(card.imitates) & set(forage))
    return hit / len(card.imitates) if hit else 0.0


def _inside(span: Range, values: NDArray[np.float64]) -> NDArray[np.bool_]:
    if span.low >= span.below:  # a range of months that goes round the turn of the year
        return (values >= span.low) | (values < span.below)
    return (values >= span.low) & (values < span.below)


def _bits(values: frozenset[str]) -> int:
    return sum(1 << CHOICES["forage"].index(value) for value in values)
