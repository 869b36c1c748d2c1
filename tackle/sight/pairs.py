"""Who is nearly one to the fish over an angler's own days, and what one of two that are would be missed for."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Any, Final, TypeVar

from tackle.colours.colour import Colour
from tackle.colours.family import on_top
from tackle.colours.likeness import difference, never_one
from tackle.colours.palette import house_palette
from tackle.sight.alike import days_alike, sight_views
from tackle.sight.look import View
from tackle.sight.parted import call_pairs
from tackle.situations.expected_rows import Expected

__all__ = ["HardlyApart", "alike_there", "better_dropped", "find_pairs"]

Reached = TypeVar("Reached", bound=Any)  # ordered, and what one reaches more than another is told by `-`

_MOSTLY: Final = 0.8  # of the days: from here on two are nearly one in the angler's water
_PARTED: Final = 0.5  # of the days on which two that look alike in the hand part
_IN_HAND: Final = 12.0  # the CIE 1976 difference up to which two look alike in the hand


@dataclass(frozen=True, slots=True)
class HardlyApart:
    """Two colours of a category, the days on which they are one to the fish, of how many, and those on which that is in
    doubt. What is fished on top is seen from below; `beside`: the days on which they are one from the side too."""

    category: str
    first: Colour
    second: Colour
    days: float
    of: float
    doubt: float = 0.0
    beside: float | None = None

    @property
    def share(self) -> float:
        return self.days / self.of if self.of else 0.0

    @property
    def nearly_one(self) -> bool:
        """Whether they are one to the fish on most days."""
        return self.share >= _MOSTLY

    @property
    def real(self) -> bool:
        """Whether an angler never takes them for one, whatever the eye says."""
        return never_one(self.first, self.second)

    @property
    def parted_below(self) -> bool:
        """Whether they look alike in the hand, and part in the water."""
        near = difference(self.first, self.second) <= _IN_HAND
        two = self.of - self.days - self.doubt
        return two >= _PARTED * self.of and near and self.first.tone is self.second.tone


def find_pairs(category: str, cards: Sequence[Colour], days: Iterable[Expected]) -> tuple[HardlyApart, ...]:
    """All pairs of some colours over those days on whose waters their category is thrown."""
    views = sight_views([day for day in days if day.water.throws(category)])
    total = sum(views.values())
    if len(cards) < 2 or not total:
        return ()
    beside = days_alike(cards, views)
    seen = days_alike(cards, views, below=True) if on_top(category) else beside

    def told(one: int, other: int) -> HardlyApart:
        days, doubt = (round(float(table[one, other]), 1) for table in (seen.one, seen.doubt))
        side = round(float(beside.one[one, other]), 1) if seen is not beside else None
        return HardlyApart(category, cards[one], cards[other], days, round(total, 1), doubt, side)

    return tuple(told(one, other) for one, other in combinations(range(len(cards)), 2))


def alike_there(pieces: Iterable[tuple[str, Colour]], view: View) -> tuple[tuple[str, Colour, Colour], ...]:
    """Of some colours by their category each two of one category that are one to the fish there; on top, from below.
    Where it can tell nothing, black from white neither, there is nothing to say."""
    if call_pairs([house_palette().known(one) for one in ("black-plain", "white-flat")], view).one.all():
        return ()
    by_category: dict[str, list[Colour]] = {}
    for category, card in pieces:
        by_category.setdefault(category, []).append(card)
    found = []
    for category, cards in by_category.items():
        one = call_pairs(cards, view, on_top(category)).one
        found += [(category, cards[i], cards[j]) for i, j in combinations(range(len(cards)), 2) if one[i, j]]
    return tuple(found)


def better_dropped(
    pair: HardlyApart, cards: Iterable[Colour], reached: Callable[[Iterable[Colour]], Reached]
) -> tuple[Colour, Colour, Reached]:
    """Of a pair among some cards the one to drop, the one to keep, and what the others reach less without it."""
    every = frozenset(cards)
    whole = reached(every)
    cost = {card: whole - reached(every - {card}) for card in (pair.first, pair.second)}
    drop = min(cost, key=lambda card: (cost[card], card is pair.second))
    return drop, pair.second if drop is pair.first else pair.first, cost[drop]
