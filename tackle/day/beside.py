"""What belongs to a day's tray and is not in it: the rods that lie by, and what to bring from home."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from tackle.base.vocabulary import TRAILER
from tackle.colours.colour import Colour
from tackle.day.tray import DayTray, Have, Hour, TrayPiece

__all__ = ["Sleeved", "left_aboard", "second_from_home", "sleeved"]


@dataclass(frozen=True, slots=True)
class Sleeved:
    """A lure on a rod that lies by, and the hour and light that call for it; empty where nothing of the day does."""

    category: str
    card: Colour
    at: str
    light: str


def second_from_home(tray: DayTray, aboard: Sequence[Have], home: Sequence[Have]) -> Iterator[TrayPiece]:
    """The second piece of what carries most hours, where one is aboard and more lie at home: one is none."""
    most = max(tray.pieces, key=lambda piece: piece.hours, default=None)
    if most is None or not most.hours:
        return
    where = most.category, most.card
    here, there = (sum(one.count for one in some if (one.category, one.card) == where) for some in (aboard, home))
    if here == 1 and there:
        yield replace(most, count=1)


def left_aboard(aboard: Sequence[Have], packed: Mapping[tuple[str, Colour], int]) -> list[Have]:
    """What a tray leaves aboard, for another angler's."""
    left = [replace(one, count=one.count - packed.get((one.category, one.card), 0)) for one in aboard]
    return [one for one in left if one.count > 0]


def sleeved(tray: DayTray, hours: Sequence[Hour], most: int) -> Iterator[Sleeved]:
    """What of the tray is on no rod at hand, what is called for soonest first; each with the hour that calls for it."""
    tied = {(rod.category, rod.card) for rod in tray.rods}
    rest = [piece for piece in tray.pieces if piece.category != TRAILER and (piece.category, piece.card) not in tied]
    called = [(_called(tray, one.category, one.card), one) for one in rest]
    for at, one in sorted(called, key=lambda each: each[0])[:most]:
        when = (hours[at].at, hours[at].situation.light) if at < len(hours) else ("", "")
        yield Sleeved(one.category, one.card, *when)


def _called(tray: DayTray, category: str, card: Colour) -> int:
    """The first hour that begins with a colour, by its place; past the last where none does."""
    rows = (row.get(category) for row in tray.drawn)
    return next((at for at, begin in enumerate(rows) if begin and begin.card is card), len(tray.drawn))
