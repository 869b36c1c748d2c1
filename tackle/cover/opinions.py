"""What the schools of a plan say of every card of a category on every kind of day, worked out once."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import reduce
from operator import or_

import numpy as np
from numpy.typing import NDArray

from tackle.base.store import kept
from tackle.base.vocabulary import Grade
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.cover.instance import bits, row_masks
from tackle.cover.plan import Open
from tackle.schools.evaluation import DayKinds, evaluate_kinds, first_choices, group_days, suitability
from tackle.schools.rule import Rule
from tackle.schools.rulebook import Rulebook
from tackle.schools.top_choice import weight
from tackle.schools.votes import Votes, count_votes
from tackle.situations.columns import tabulate
from tackle.situations.situation import Situation

__all__ = ["Opinions", "to_mask", "gather_opinions"]


def to_mask(cards: Sequence[Colour], ids: frozenset[str]) -> int:
    """The bit set of the places of some ids among cards."""
    return sum(1 << index for index, card in enumerate(cards) if card.id in ids)


@dataclass(frozen=True, slots=True, eq=False)
class Opinions:
    """What the schools say on some situations, by the m kinds of day that these are.

    `deciding_rules`: (schools, cards, m) indices of a book's calls, -1 for silence. `suits`: (schools, m, cards)
    hundredths.
    `needs[k]`: the bit sets of cards, of each of which one is needed to answer days of kind k; an empty set, or none
    at all, cannot be met. `best`: (m, cards), the suitability by the school that thinks most of each card.
    """

    category: str
    books: tuple[Rulebook, ...]
    cards: tuple[Colour, ...]
    agree_all: bool
    accept: Grade
    day_kinds: DayKinds
    deciding_rules: NDArray[np.int16]
    suits: NDArray[np.int8]
    best: NDArray[np.int8]
    needs: tuple[tuple[int, ...], ...]
    # Each school's first choices, with what is of their families and accepted, as bit sets: the different ones.
    choices: tuple[tuple[int, ...], ...]
    choice_of: NDArray[np.intp]  # (m,) the place of each kind's among those
    there: tuple[Situation, ...]  # (m,) a situation of each kind
    votes: Votes
    shares: int  # into how many whole shares a day can be divided by any number of the schools that there are

    @property
    def kinds(self) -> int:
        """m, how many kinds of day there are."""
        return len(self.day_kinds.patterns)

    @property
    def kind_indices(self) -> NDArray[np.integer]:
        """The kind of each situation; shape (n,)."""
        return self.day_kinds.kind_indices

    def by_kind(self, millionths: NDArray[np.int64]) -> NDArray[np.int64]:
        """What there is of each kind, shape (m,), from what there is of each situation, (n,)."""
        found = np.zeros(self.kinds, dtype=np.int64)
        np.add.at(found, self.kind_indices, millionths)
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
        allowed = [index for index in range(len(self.cards)) if not banned >> index & 1]
        if not allowed:
            return Open.ALL_DROPPED, ()
        said = [index for index in range(len(self.books)) if not self.agree_all or self._speaks(index, kind)]
        silent = [place for place in said if not self.suits[place, kind, allowed].any()]
        if not silent:
            return Open.SILENT, ()
        if banned and all(self.suits[place, kind].any() for place in silent):
            return Open.DROPPED, ()
        why = Open.NO_GO_TO if self.accept is Grade.GO_TO else Open.NO_COLOUR
        return why, tuple(self.books[place] for place in silent)

    def _speaks(self, place: int, kind: int) -> bool:
        return bool((self.deciding_rules[place, :, kind] >= 0).any())

    def advice_for(self, kind: int, card: int) -> tuple[Rulebook, Rule]:
        """The school that speaks first of an accepted card on a kind of day, and its call; as `first_word` has it."""
        loudest = int(self.votes.voice[kind, card])
        said = [
            (book, book.calls[place])
            for book, place in zip(self.books, self.deciding_rules[:, card, kind], strict=True)
        ]
        if loudest >= 0:
            return said[loudest]
        able = [at for at, suit in enumerate(self.suits[:, kind, card]) if suit]
        return max(
            (said[at] for at in able),
            key=lambda one: (one[1].grade is Grade.GO_TO, weight(one[0], one[1], self.there[kind])),
        )

    def leader(self, kind: int, places: Sequence[int]) -> int | None:
        """What leads of some cards, by their places, on a kind of day; None where no school accepts one of them."""
        votes = self.votes

        def standing(place: int) -> tuple[int, int, int]:
            return int(votes.family[kind, place]), int(votes.own[kind, place]), int(self.best[kind, place])

        return max((place for place in places if self.best[kind, place]), key=standing, default=None)

    def met_by(self, mask: int) -> NDArray[np.bool_]:
        """Which kinds of day some cards answer; shape (m,)."""
        return np.array([bool(needs) and all(need & mask for need in needs) for needs in self.needs], dtype=np.bool_)

    def schools_for(self, mask: int) -> list[list[Rulebook]]:
        """For each kind of day the schools that accept any of some cards."""
        met = np.any(self.suits[:, :, list(bits(mask))], axis=2)
        return [[book for index, book in enumerate(self.books) if met[index, kind]] for kind in range(self.kinds)]


@kept("opinions")
def gather_opinions(
    category: str,
    books: tuple[Rulebook, ...],
    situations: Sequence[Situation],
    agree_all: bool,
    accept: Grade,
    palette: Palette,
) -> Opinions:
    """The opinions on all cards of a category. With `agree_all` every school that is not silent must be met."""
    kinds, cards = group_days(books, category, tabulate(situations)), palette.sold_in(category)
    shape = len(books), len(cards), len(kinds.patterns)
    said = [evaluate_kinds(kinds, school, cards) for school in range(len(books))]
    deciding_rules = np.array(said, dtype=np.int16).reshape(shape)
    suits = np.array([suitability(book, of_it, accept) for book, of_it in zip(books, said, strict=True)], dtype=np.int8)
    suits = suits.reshape(shape).transpose(0, 2, 1)
    there = tuple(situations[place] for place in kinds.first.tolist())
    votes = count_votes(kinds, cards, deciding_rules, there)
    accepted = list(zip(*(row_masks(of_it > 0) for of_it in suits), strict=True))
    firsts = zip(*(row_masks(first_choices(book, one).T) for book, one in zip(books, said, strict=True)), strict=True)
    families = [row_masks(votes.kin[None, :] == kin)[0] for kin in range(int(votes.kin.max(initial=-1)) + 1)]
    choices: dict[tuple[int, ...], int] = {}
    choice_of = []
    for masks, by_school in zip(firsts, accepted, strict=True):
        able = reduce(or_, by_school)
        wide = tuple(mask | reduce(or_, (kin & able for kin in families if kin & mask), 0) for mask in masks)
        choice_of.append(choices.setdefault(wide, len(choices)))
    if agree_all:
        speaks = np.any(deciding_rules >= 0, axis=1).T.tolist()
        needs = [
            tuple(mask for mask, one in zip(masks, spoken, strict=True) if one)
            for masks, spoken in zip(accepted, speaks, strict=True)
        ]
    else:
        needs = [(reduce(or_, masks),) for masks in accepted]
    return Opinions(
        category, books, cards, agree_all, accept, kinds, deciding_rules, suits, suits.max(axis=0), tuple(needs),
        tuple(choices), np.array(choice_of, dtype=np.intp), there, votes, math.lcm(*range(1, len(books) + 1)),
    )  # fmt: skip
