"""What the schools of a plan say of every card of a category in every situation, worked out once."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import reduce
from operator import or_

import numpy as np
from numpy.typing import NDArray

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.instance import bits, row_masks
from tackle.cover.plan import Open
from tackle.kept import kept
from tackle.schools.call import Call
from tackle.schools.evaluation import evaluate, first_choices, suitability
from tackle.schools.rulebook import Rulebook
from tackle.situations.columns import tabulate
from tackle.situations.situation import Situation
from tackle.vocabulary import Grade

__all__ = ["Opinions", "mask_of", "opinions_of"]


def mask_of(cards: Sequence[Card], ids: frozenset[str]) -> int:
    """The bit set of the places of some ids among cards."""
    return sum(1 << place for place, card in enumerate(cards) if card.id in ids)


@dataclass(frozen=True, slots=True, eq=False)
class Opinions:
    """`decided`: (schools, cards, m) places in a book's calls, -1 for silence. `suits`: (schools, m, cards) hundredths.

    `needs[i]`: the bit sets of cards, of each of which one is needed to answer situation i; an empty set, or none
    at all, cannot be met. `best`: (m, cards), the suitability by the school that thinks most of each card.
    """

    category: str
    books: tuple[Rulebook, ...]
    cards: tuple[Card, ...]
    agree_all: bool
    accept: Grade
    decided: NDArray[np.int16]
    suits: NDArray[np.int8]
    best: NDArray[np.int8]
    needs: tuple[tuple[int, ...], ...]
    kinds: tuple[tuple[int, ...], ...]  # the different needs there are
    kind_of: NDArray[np.intp]  # (m,) the place of each situation's needs among the kinds
    choices: tuple[tuple[int, ...], ...]  # each school's first choices, as bit sets: the different ones there are
    choice_of: NDArray[np.intp]  # (m,) the place of each situation's among those
    shares: int  # into how many whole shares a day can be divided by any number of the schools that there are

    def firsts(self, index: int) -> list[int]:
        """The first choices in a situation of those schools that have any, as bit sets."""
        return [mask for mask in self.choices[self.choice_of[index]] if mask]

    def days_by_choice(self, millionths: Sequence[int]) -> list[tuple[tuple[int, ...], int]]:
        """Each school's first choices, as bit sets, and the days on which they are these."""
        days = [0] * len(self.choices)
        for kind, one in zip(self.choice_of.tolist(), millionths, strict=True):
            days[kind] += one
        return list(zip(self.choices, days, strict=True))

    def why_none(self, index: int, banned: int) -> tuple[Open, tuple[Rulebook, ...]]:
        """Why no colour at all can answer a situation, with some cards banned; and the schools that it hangs on."""
        allowed = [place for place in range(len(self.cards)) if not banned >> place & 1]
        if not allowed:
            return Open.ALL_DROPPED, ()
        said = [place for place in range(len(self.books)) if not self.agree_all or self._speaks(place, index)]
        silent = [place for place in said if not self.suits[place, index, allowed].any()]
        if not silent:
            return Open.SILENT, ()
        if banned and all(self.suits[place, index].any() for place in silent):
            return Open.DROPPED, ()
        why = Open.NO_GO_TO if self.accept is Grade.GO_TO else Open.NO_COLOUR
        return why, tuple(self.books[place] for place in silent)

    def _speaks(self, place: int, index: int) -> bool:
        return bool((self.decided[place, :, index] >= 0).any())

    def deciding(self, index: int, card: int) -> tuple[Rulebook, Call]:
        """The school that thinks most of a card in a situation, and its call."""
        place = int(np.argmax(self.suits[:, index, card]))
        book = self.books[place]
        return book, book.calls[self.decided[place, card, index]]

    def met_by(self, mask: int) -> NDArray[np.bool_]:
        """For each situation, whether some cards answer it."""
        met = [bool(masks) and all(need & mask for need in masks) for masks in self.kinds]
        return np.array(met, dtype=np.bool_)[self.kind_of]

    def schools_for(self, index: int, mask: int) -> list[Rulebook]:
        """The schools that accept any of some cards in a situation."""
        picked = list(bits(mask))
        return [book for place, book in enumerate(self.books) if self.suits[place, index, picked].any()]


@kept(megabytes=12)
def opinions_of(
    category: str,
    books: tuple[Rulebook, ...],
    situations: tuple[Situation, ...],
    agree_all: bool,
    accept: Grade,
    palette: Palette,
) -> Opinions:
    """The opinions on all cards of a category. With `agree_all` every school that is not silent must be met."""
    cards = palette.sold_in(category)
    columns = tabulate(situations)
    decided = np.zeros((len(books), len(cards), len(situations)), dtype=np.int16)
    suits = np.zeros((len(books), len(situations), len(cards)), dtype=np.int8)
    for place, book in enumerate(books):
        decided[place] = evaluate(book, category, cards, columns)
        suits[place] = suitability(book, decided[place], accept).T
    by_school = [row_masks(suits[place] > 0) for place in range(len(books))]
    chosen_first = [row_masks(first_choices(book, decided[place]).T) for place, book in enumerate(books)]
    by_situation = list(zip(*chosen_first, strict=True)) or [()] * len(situations)
    choices = {masks: place for place, masks in enumerate(dict.fromkeys(by_situation))}
    choice_of = np.array([choices[masks] for masks in by_situation], dtype=np.intp)
    shares = math.lcm(*range(1, len(books) + 1))
    needs: list[tuple[int, ...]]
    if agree_all:
        speaks = np.any(decided >= 0, axis=1)
        needs = [
            tuple(by_school[place][index] for place in range(len(books)) if speaks[place, index])
            for index in range(len(situations))
        ]
    else:
        needs = [(reduce(or_, masks),) for masks in zip(*by_school, strict=True)]
    best = suits.max(axis=0)
    kinds = {masks: place for place, masks in enumerate(dict.fromkeys(needs))}
    kind_of = np.array([kinds[masks] for masks in needs], dtype=np.intp)
    return Opinions(
        category, books, cards, agree_all, accept, decided, suits, best, tuple(needs), tuple(kinds), kind_of,
        tuple(choices), choice_of, shares,
    )  # fmt: skip
