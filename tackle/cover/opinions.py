"""What the schools of a plan say of every card of a category on every kind of day, worked out once."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import reduce
from operator import or_
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.instance import bits, row_masks
from tackle.cover.plan import Open
from tackle.kept import Held
from tackle.schools.call import Call
from tackle.schools.evaluation import alike, evaluate, first_choices, suitability
from tackle.schools.rulebook import Rulebook
from tackle.situations.columns import Columns, tabulate
from tackle.situations.rows import mark_of_rows
from tackle.situations.situation import Situation
from tackle.vocabulary import Grade

__all__ = ["Opinions", "mask_of", "opinions_of"]


def mask_of(cards: Sequence[Card], ids: frozenset[str]) -> int:
    """The bit set of the places of some ids among cards."""
    return sum(1 << place for place, card in enumerate(cards) if card.id in ids)


@dataclass(frozen=True, slots=True, eq=False)
class Opinions:
    """What the schools say on some situations. Those in which the same calls hold are one kind of day, of which there
    are m, in the order in which they come first: `kind_of` (n,) is each situation's.

    `decided`: (schools, cards, m) places in a book's calls, -1 for silence. `suits`: (schools, m, cards) hundredths.
    `needs[k]`: the bit sets of cards, of each of which one is needed to answer days of kind k; an empty set, or none
    at all, cannot be met. `best`: (m, cards), the suitability by the school that thinks most of each card.
    """

    category: str
    books: tuple[Rulebook, ...]
    cards: tuple[Card, ...]
    agree_all: bool
    accept: Grade
    columns: Columns  # (m,) a situation of each kind
    kind_of: NDArray[np.int32]
    decided: NDArray[np.int16]
    suits: NDArray[np.int8]
    best: NDArray[np.int8]
    needs: tuple[tuple[int, ...], ...]
    choices: tuple[tuple[int, ...], ...]  # each school's first choices, as bit sets: the different ones there are
    choice_of: NDArray[np.intp]  # (m,) the place of each kind's among those
    shares: int  # into how many whole shares a day can be divided by any number of the schools that there are

    @property
    def kinds(self) -> int:
        """m, how many kinds of day there are."""
        return len(self.needs)

    def by_kind(self, millionths: NDArray[np.int64]) -> NDArray[np.int64]:
        """What there is of each kind, shape (m,), from what there is of each situation, (n,)."""
        found = np.zeros(self.kinds, dtype=np.int64)
        np.add.at(found, self.kind_of, millionths)
        return found

    def firsts(self, kind: int) -> list[int]:
        """The first choices on a kind of day of those schools that have any, as bit sets."""
        return [mask for mask in self.choices[self.choice_of[kind]] if mask]

    def days_by_choice(self, days: NDArray[np.int64]) -> list[tuple[tuple[int, ...], int]]:
        """Each school's first choices, as bit sets, and the days, of those of each kind, on which they are these."""
        found = np.zeros(len(self.choices), dtype=np.int64)
        np.add.at(found, self.choice_of, days)
        return list(zip(self.choices, found.tolist(), strict=True))

    def why_none(self, kind: int, banned: int) -> tuple[Open, tuple[Rulebook, ...]]:
        """Why no colour at all can answer a kind of day, with some cards banned; and the schools that it hangs on."""
        allowed = [place for place in range(len(self.cards)) if not banned >> place & 1]
        if not allowed:
            return Open.ALL_DROPPED, ()
        said = [place for place in range(len(self.books)) if not self.agree_all or self._speaks(place, kind)]
        silent = [place for place in said if not self.suits[place, kind, allowed].any()]
        if not silent:
            return Open.SILENT, ()
        if banned and all(self.suits[place, kind].any() for place in silent):
            return Open.DROPPED, ()
        why = Open.NO_GO_TO if self.accept is Grade.GO_TO else Open.NO_COLOUR
        return why, tuple(self.books[place] for place in silent)

    def _speaks(self, place: int, kind: int) -> bool:
        return bool((self.decided[place, :, kind] >= 0).any())

    def deciding(self, kind: int, card: int) -> tuple[Rulebook, Call]:
        """The school that thinks most of a card on a kind of day, and its call."""
        place = int(np.argmax(self.suits[:, kind, card]))
        book = self.books[place]
        return book, book.calls[self.decided[place, card, kind]]

    def met_by(self, mask: int) -> NDArray[np.bool_]:
        """Which kinds of day some cards answer; shape (m,)."""
        return np.array([bool(needs) and all(need & mask for need in needs) for needs in self.needs], dtype=np.bool_)

    def schools_for(self, mask: int) -> list[list[Rulebook]]:
        """For each kind of day the schools that accept any of some cards."""
        met = np.any(self.suits[:, :, list(bits(mask))], axis=2)
        return [[book for place, book in enumerate(self.books) if met[place, kind]] for kind in range(self.kinds)]


_OPINIONS: Final = Held[Opinions](megabytes=12)


def opinions_of(
    category: str,
    books: tuple[Rulebook, ...],
    situations: Sequence[Situation],
    agree_all: bool,
    accept: Grade,
    palette: Palette,
) -> Opinions:
    """The opinions on all cards of a category. With `agree_all` every school that is not silent must be met."""
    return _OPINIONS.once(
        (category, books, mark_of_rows(situations), agree_all, accept, palette),
        lambda: _opinions(category, books, situations, agree_all, accept, palette),
    )


def _opinions(
    category: str,
    books: tuple[Rulebook, ...],
    situations: Sequence[Situation],
    agree_all: bool,
    accept: Grade,
    palette: Palette,
) -> Opinions:
    cards, every = palette.sold_in(category), tabulate(situations)
    first, kind_of = alike(books, category, every)
    columns, kinds = every.at(first), len(first)
    decided = np.zeros((len(books), len(cards), kinds), dtype=np.int16)
    suits = np.zeros((len(books), kinds, len(cards)), dtype=np.int8)
    for place, book in enumerate(books):
        decided[place] = evaluate(book, category, cards, columns)
        suits[place] = suitability(book, decided[place], accept).T
    by_school = [row_masks(suits[place] > 0) for place in range(len(books))]
    chosen_first = [row_masks(first_choices(book, decided[place]).T) for place, book in enumerate(books)]
    by_kind = list(zip(*chosen_first, strict=True)) or [()] * kinds
    choices = {masks: place for place, masks in enumerate(dict.fromkeys(by_kind))}
    choice_of = np.array([choices[masks] for masks in by_kind], dtype=np.intp)
    shares = math.lcm(*range(1, len(books) + 1))
    needs: list[tuple[int, ...]]
    if agree_all:
        speaks = np.any(decided >= 0, axis=1)
        needs = [
            tuple(by_school[place][kind] for place in range(len(books)) if speaks[place, kind]) for kind in range(kinds)
        ]
    else:
        needs = [(reduce(or_, masks),) for masks in zip(*by_school, strict=True)]
    best = suits.max(axis=0)
    return Opinions(
        category, books, cards, agree_all, accept, columns, kind_of.astype(np.int32), decided, suits, best,
        tuple(needs), tuple(choices), choice_of, shares,
    )  # fmt: skip
