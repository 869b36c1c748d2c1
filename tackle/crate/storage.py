"""What should not lie together in one tray: soft plastics bleed their dye, and melt paint and other stuff."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from tackle.base.vocabulary import CATEGORIES, Accent, Group
from tackle.colours.colour import Colour
from tackle.colours.likeness import lab
from tackle.crate.lure import Lure
from tackle.data import reason

__all__ = ["StorageCaution", "find_homes", "storage_cautions"]

_PALE_FROM = 62.0  # CIE L* of the side: a pale bait shows every stain
_STRONG_CHROMA = 45.0
_DARK_BELOW = 28.0


@dataclass(frozen=True, slots=True)
class StorageCaution:
    """What may harm what in one tray."""

    harms: tuple[Lure, ...]
    harmed: tuple[Lure, ...]
    words: str


def storage_cautions(lures: Sequence[Lure]) -> list[StorageCaution]:
    """The cautions for the lures of one tray."""
    soft = [lure for lure in lures if CATEGORIES[lure.category].group is Group.SOFT]
    painted = [lure for lure in lures if CATEGORIES[lure.category].group in (Group.HARD, Group.WIRE)]
    bleeding = [lure for lure in soft if _bleeds(lure.card)]
    pale = [lure for lure in soft if lab(lure.card.side)[0] >= _PALE_FROM and lure not in bleeding]
    found = []
    if bleeding and pale:
        found.append(StorageCaution(tuple(bleeding), tuple(pale), reason("bleeds")))
    if soft and painted:
        found.append(StorageCaution(tuple(soft), tuple(painted), reason("softens")))
    return found


def _bleeds(card: Colour) -> bool:
    light, a, b = lab(card.side)
    dyed = {Accent.CHARTREUSE_TAIL, Accent.ORANGE_TIPS} & set(card.accents)
    return bool(dyed) or light <= _DARK_BELOW or (a * a + b * b) ** 0.5 >= _STRONG_CHROMA


def find_homes(held: Iterable[tuple[str, str, int]]) -> dict[str, str]:
    """Where each category lives, from (place, category, count) of what lies there: the place that holds most of it, the
    earliest of several."""
    counts: dict[str, dict[str, int]] = {}
    for place, category, count in held:
        there = counts.setdefault(category, {})
        there[place] = there.get(place, 0) + count
    return {category: max(there, key=lambda place: there[place]) for category, there in counts.items()}
