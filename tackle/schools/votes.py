"""The votes of cards and of their families on many kinds of day at once: as `first_word` counts them in one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tackle.colours.colour import Colour
from tackle.colours.family import family
from tackle.schools.evaluation import DayKinds, first_choices, ranked
from tackle.schools.top_choice import counts_at, weight
from tackle.situations.rows import MILLION
from tackle.situations.situation import Situation

__all__ = ["Votes", "count_votes", "family_indices", "quotients"]


@dataclass(frozen=True, slots=True, eq=False)
class Votes:
    """Of n cards of a category on m kinds of day, in millionths. `kin` (n,): the place of each card's family; `own`,
    `family` (m, n): the votes of each card, and of its family; `most` (m,): those of the family with most. `voice`
    (m, n): the place of the school whose weight for a card is largest, -1 where it is nobody's first choice."""

    kin: NDArray[np.intp]
    own: NDArray[np.int64]
    family: NDArray[np.int64]
    most: NDArray[np.int64]
    voice: NDArray[np.int8]


def count_votes(
    kinds: DayKinds, cards: Sequence[Colour], deciding_rules: NDArray[np.int16], there: Sequence[Situation]
) -> Votes:
    """The votes on each kind of day. `deciding_rules` (schools, n, m) as `evaluate` gives it of each school; `there`: a
    situation of each kind."""
    kin = family_indices(cards, kinds.category)
    own = np.zeros((len(there), len(cards)), dtype=np.int64)
    families = np.zeros((len(there), int(kin.max(initial=-1)) + 1), dtype=np.int64)
    loudest, voice = np.zeros_like(own), np.full(own.shape, -1, dtype=np.int8)
    for school, book in enumerate(kinds.books):
        firsts = first_choices(book, deciding_rules[school])
        listed = np.where(firsts, deciding_rules[school], -1).T
        orders: dict[tuple[bytes, object], list[tuple[int, int]]] = {}
        of_school = np.zeros((len(there), len(cards)), dtype=np.int64)
        for kind in np.flatnonzero(firsts.any(axis=0)).tolist():
            situation, row = there[kind], listed[kind]
            key = row.tobytes(), situation.forage
            if key not in orders:
                mine = np.flatnonzero(row >= 0).tolist()
                said = ranked(book, [cards[place] for place in mine], row[mine], situation)
                at = {cards[place]: place for place in mine}
                orders[key] = [(at[verdict.card], index) for index, verdict in enumerate(said)]
            weighs: dict[int, int] = {}
            for card, place in orders[key]:
                call = int(row[card])
                if call not in weighs:
                    weighs[call] = weight(book, book.calls[call], situation)
                of_school[kind, card] = counts_at(weighs[call], place)
        own += of_school
        voice[of_school > loudest] = school
        np.maximum(loudest, of_school, out=loudest)
        best = np.zeros_like(families)
        for card, place in enumerate(kin.tolist()):
            np.maximum(best[:, place], of_school[:, card], out=best[:, place])
        families += best
    most = families.max(axis=1, initial=0)
    return Votes(kin, own, families[:, kin], most, voice)


def family_indices(cards: Sequence[Colour], category: str) -> NDArray[np.intp]:
    """For each card the place of its family among those of the cards; shape (n,)."""
    places: dict[object, int] = {}
    return np.array([places.setdefault(family(card, category), len(places)) for card in cards], dtype=np.intp)


def quotients(votes: NDArray[np.int64], most: NDArray[np.int64]) -> NDArray[np.int64]:
    """Votes as a share of the most, rounded to whole millionths; 0 where nobody votes."""
    whole = np.maximum(most, 1)
    return np.asarray((2 * MILLION * votes + whole) // (2 * whole), dtype=np.int64)
