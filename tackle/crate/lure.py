"""One kind of lure in the crate, and how many of it are wanted."""

from __future__ import annotations

from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

from tackle.colours.card import Card
from tackle.vocabulary import CATEGORIES, Brightness, Group

__all__ = ["Lure", "par_of"]

# How many of one colour to own: a fish or a snag takes one, and one is none. Soft baits count in packs.
_PAR: Final = MappingProxyType({Group.HARD: 3, Group.WIRE: 3, Group.SKIRTED: 2, Group.SOFT: 2})


@dataclass(frozen=True, slots=True)
class Lure:
    """A compartment's content: `count` of one colour, in one size (inches, None where it was not noted)."""

    ref: str
    category: str
    card: Card
    name: str
    count: int
    size_in: float | None = None


def par_of(category: str, card: Card) -> int:
    """How many of a colour to own. Of a loud one, one fewer."""
    par = _PAR[CATEGORIES[category].group]
    return par - 1 if card.brightness is Brightness.BRIGHT else par
