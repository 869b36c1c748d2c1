"""The fish, read with memory: what the turns of a day say, and what to throw now.

A turn is *failed* after five minutes or more without any touch. Last turn, tried, failed and roles are those of one
kind of lure, of one date, in *these conditions*: the same light, the same or a neighbouring band of clarity.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Final

from tackle.base.vocabulary import Light, Tone
from tackle.colours.colour import Colour
from tackle.colours.role import Role, find_role
from tackle.day.rotation import LOUD_FROM_F, LOUD_FROM_IN, belly_accents, loud_turn, nearest_step
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.depth import on_top
from tackle.situations.situation import Situation

__all__ = ["FAST", "FishTurn", "FishRead", "is_step", "read_fish", "standing"]

_FAILED_AFTER: Final = 5.0  # minutes
FAST: Final = frozenset((
    "shallow-crankbait", "deep-crankbait", "lipless-crankbait", "spinnerbait", "bladed-jig", "inline-spinner",
    "swim-jig",
))  # fmt: skip
_MIDDAY: Final = range(11, 15)
_PALE: Final = frozenset((Tone.WHITE, Tone.BONE))


@dataclass(frozen=True, slots=True)
class FishTurn:
    """One turn: when it began, its minutes, what was thrown, and what came: caught whole, hooked outside, come off,
    missed; light and visibility (inches) as they were, None where untold."""

    at: datetime
    minutes: float
    category: str
    card: Colour
    whole: int = 0
    outside: int = 0
    lost: int = 0
    missed: int = 0
    light: Light | None = None
    visibility_in: float | None = None

    @property
    def nearly(self) -> bool:
        return bool(self.outside or self.lost or self.missed)

    @property
    def blank(self) -> bool:
        return not self.whole and not self.nearly

    @property
    def failed(self) -> bool:
        return self.blank and self.minutes >= _FAILED_AFTER


@dataclass(frozen=True, slots=True)
class FishRead:
    """What the fish say of one kind: what to `do` (begin, stay, turn, near, back, loud, place) and with which card; the
    order of what is left, and of each card how often it was tried and failed in these conditions."""

    do: str
    card: Colour | None
    order: tuple[Colour, ...]
    tried: dict[str, int]
    failed: dict[str, int]


def in_these_conditions(turn: FishTurn, now: Situation, at: datetime) -> bool:
    """Whether a turn was of this date and in these conditions; what was not told does not bind."""
    if turn.at.date() != at.date() or turn.at > at or (turn.light or now.light) is not now.light:
        return False
    if turn.visibility_in is None:
        return True
    there, here = (BANDS.index(HOUSE_LADDER.band_at(inches)) for inches in (turn.visibility_in, now.visibility_in))
    return abs(there - here) <= 1


def standing(order: Sequence[Colour], turns: Sequence[FishTurn], at: datetime) -> tuple[Colour, ...]:
    """The first word's order, but what failed within the hour comes after, and what failed twice last."""
    failed = _counts([turn for turn in turns if turn.failed])
    late = {turn.card.id for turn in turns if turn.failed and at - turn.at <= timedelta(hours=1)}
    return tuple(sorted(order, key=lambda card: (failed.get(card.id, 0) >= 2, card.id in late)))


def read_fish(order: Sequence[Colour], turns: Sequence[FishTurn], now: Situation, at: datetime) -> FishRead:
    """What to throw of one kind: `order`, what is in the tray from the first word on; `turns` of that kind, of any date
    and water. The first of the guide's rules that applies."""
    mine = sorted((turn for turn in turns if in_these_conditions(turn, now, at)), key=lambda turn: turn.at)
    left = standing(order, mine, at)
    data = _Told(left, mine, now, at)
    for do, propose in _RULES:
        if card := propose(data):
            rest = tuple(one for one in left if one is not card)
            return FishRead(do, card, (card, *rest), _counts(mine), data.failed)
    return FishRead("place", None, left, _counts(mine), data.failed)


class _Told:
    """What the turns of one kind come to."""

    def __init__(self, left: Sequence[Colour], turns: Sequence[FishTurn], now: Situation, at: datetime) -> None:
        self.left, self.turns, self.now, self.at = left, turns, now, at
        self.failed = _counts([turn for turn in turns if turn.failed])
        self.last = turns[-1] if turns else None
        self.caught = list(dict.fromkeys(turn.card for turn in turns if turn.whole))
        self.roles_tried = {find_role(turn.card) for turn in turns}
        self.roles_failed = {find_role(turn.card) for turn in turns if turn.failed}
        twice = [card for card in left if self.failed.get(card.id, 0) >= 2]
        # What failed twice is not proposed at all while anything else is left.
        self.able = [card for card in left if card not in twice] or list(left)

    def others(self, card: Colour) -> int:
        """How many other colours had a turn."""
        return len({turn.card for turn in self.turns} - {card})


def _begin(data: _Told) -> Colour | None:
    return data.able[0] if not data.turns and data.able else None


def _stay(data: _Told) -> Colour | None:
    if data.last is None or data.last.card not in data.caught or data.last.card not in data.left:
        return None
    card = data.last.card
    mine = [turn for turn in data.turns if turn.card is card]
    fish = max(index for index, turn in enumerate(mine) if turn.whole)
    blank = sum(turn.blank for turn in mine[fish + 1 :])
    return card if blank < 2 and data.others(card) >= 2 else None


def _turn_after_fish(data: _Told) -> Colour | None:
    if not data.caught or data.others(data.caught[-1]) >= 2:
        return None
    return next((card for card in data.able if find_role(card) not in data.roles_tried), None)


def _near(data: _Told) -> Colour | None:
    if data.last is None or not data.last.nearly:
        return None
    card, tried = data.last.card, {turn.card for turn in data.turns}
    untried = [one for one in data.able if one not in tried and is_step(card, one, data.now.category)]
    return nearest_step(card, untried)


def _back(data: _Told) -> Colour | None:
    able = [card for card in data.left if data.failed.get(card.id, 0) < 2]
    nearly = list(dict.fromkeys(turn.card for turn in data.turns if turn.nearly))
    return next((card for card in (*reversed(data.caught), *reversed(nearly)) if card in able), None)


def _loud(data: _Told) -> Colour | None:
    now, warm = data.now, data.now.likely_temp_f
    clear = now.visibility_in > LOUD_FROM_IN and warm is not None and warm > LOUD_FROM_F
    midday = data.at.hour in _MIDDAY
    if not (midday and clear and now.category in FAST and loud_turn(now) and len(data.roles_failed) >= 2):
        return None
    return next((card for card in data.able if find_role(card) is Role.LOUD), None)


def _turn(data: _Told) -> Colour | None:
    return next((card for card in data.able if find_role(card) not in data.roles_failed), None)


_RULES: Final[tuple[tuple[str, Callable[[_Told], Colour | None]], ...]] = (
    ("begin", _begin), ("stay", _stay), ("turn", _turn_after_fish), ("near", _near), ("back", _back), ("loud", _loud),
    ("turn", _turn),
)  # fmt: skip


def is_step(card: Colour, other: Colour, category: str) -> bool:
    """Whether another colour is a step in finish, opacity or belly; on the surface white and bone are one."""
    if card.finish is not other.finish or card.opacity is not other.opacity:
        return True
    pale = on_top(category) and {card.tone, other.tone} <= _PALE
    return not pale and belly_accents(card) != belly_accents(other)


def _counts(turns: Sequence[FishTurn]) -> dict[str, int]:
    found: dict[str, int] = {}
    for turn in turns:
        found[turn.card.id] = found.get(turn.card.id, 0) + 1
    return found
