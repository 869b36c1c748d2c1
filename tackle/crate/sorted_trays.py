"""Lures sorted into trays: kind by kind, then by weight and length, soft plastics apart from what they melt."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

from tackle.base.vocabulary import CATEGORIES, Group
from tackle.crate.lure import Lure

__all__ = ["SortedTray", "sort_into_trays"]

_ORDER = {category: index for index, category in enumerate(CATEGORIES)}


@dataclass(slots=True)
class SortedTray:
    """A tray with what goes into it, in the order of its compartments. `owned`: which of the trays there are, by its
    place; None: a new one."""

    owned: int | None
    room: int
    lures: list[Lure]

    @property
    def categories(self) -> list[str]:
        """The kinds in it, as they lie."""
        return list(dict.fromkeys(lure.category for lure in self.lures))

    @property
    def soft(self) -> bool:
        return _is_soft(self.lures[0].category)


def sort_into_trays(lures: Sequence[Lure], rooms: Sequence[int], new_room: int) -> list[SortedTray]:
    """A compartment for each stack: kinds together, by weight and then length within one, in as few trays as hold them
    so. `rooms`: how many compartments each tray has that is there; beyond these, new ones of `new_room`.

    A kind lies in one tray where it fits whole into one; kinds share a tray where there is room, soft plastics never
    with others.
    """
    kinds = [
        sorted(
            listed, key=lambda one: (one.weight_oz or 0.0, one.size_in or 0.0, one.card.tone, one.card.name, one.ref)
        )
        for _, listed in groupby(sorted(lures, key=_kind_first), key=lambda lure: lure.category)
    ]
    trays: list[SortedTray] = []
    free = sorted(range(len(rooms)), key=lambda place: (-rooms[place], place))
    for listed in kinds:
        left = listed
        while left:
            tray = _with_room(trays, left) or _opened(trays, free, rooms, new_room, len(left))
            taken = tray.room - len(tray.lures)
            tray.lures += left[:taken]
            left = left[taken:]
    return sorted(trays, key=lambda tray: _kind_first(tray.lures[0]))


def _kind_first(lure: Lure) -> tuple[bool, int]:
    return _is_soft(lure.category), _ORDER[lure.category]


def _is_soft(category: str) -> bool:
    return CATEGORIES[category].group is Group.SOFT


def _with_room(trays: Sequence[SortedTray], left: Sequence[Lure]) -> SortedTray | None:
    """The tray of the same stuff that the rest of a kind fills best, whole; None where it fits into none."""
    fitting = [
        tray for tray in trays if tray.soft == _is_soft(left[0].category) and tray.room - len(tray.lures) >= len(left)
    ]
    return min(fitting, key=lambda tray: tray.room - len(tray.lures), default=None)


def _opened(trays: list[SortedTray], free: list[int], rooms: Sequence[int], new_room: int, need: int) -> SortedTray:
    """Another tray: of those there are the smallest that holds the rest, else the largest; without one, a new one."""
    able = [place for place in free if rooms[place] >= need]
    if free:
        place = min(able, key=lambda one: (rooms[one], one)) if able else free[0]
        free.remove(place)
        trays.append(SortedTray(place, rooms[place], []))
    else:
        trays.append(SortedTray(None, new_room, []))
    return trays[-1]
