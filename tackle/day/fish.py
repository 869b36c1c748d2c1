"""The fish, read with memory: what the turns of a day say, and what to throw now.

Conditions belong to minutes. A turn has parts, each with its light and visibility, and bites, each with its minute. It
counts *in these conditions* by its parts in this light and this or a neighbouring band of clarity, and by those of the
last 20 minutes, whatever their light. A turn is *blank* after five minutes or more without a bite.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property
from typing import Final

from tackle.base.vocabulary import HookUp, Light, Opacity, Tone
from tackle.colours.colour import Colour
from tackle.colours.family import family
from tackle.colours.role import Role, find_role
from tackle.day.rotation import LOUD_FROM_F, LOUD_FROM_IN, belly_accents, loud_turn, nearest_step
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.depth import on_top
from tackle.situations.situation import Situation

__all__ = ["FAST", "Bite", "FishRead", "FishTurn", "Part", "is_step", "read_fish"]

BLANK_AFTER: Final = 5.0  # minutes
RECENT: Final = timedelta(minutes=20)
TOLD_TO_BOTH: Final = timedelta(minutes=30)
MOST_BLANKS: Final = 2  # since a bite: then it is over
FAST: Final = frozenset((
    "shallow-crankbait", "deep-crankbait", "lipless-crankbait", "spinnerbait", "bladed-jig", "inline-spinner",
    "swim-jig",
))  # fmt: skip
_MIDDAY: Final = range(11, 15)
_PALE: Final = frozenset((Tone.WHITE, Tone.BONE))
_SUN: Final = frozenset((Light.BRIGHT, Light.BROKEN))
_SHADE: Final = frozenset((Light.OVERCAST, Light.LOW))
_SEEN_TOO_WELL: Final = frozenset((HookUp.MISSED, HookUp.FOLLOW))


@dataclass(frozen=True, slots=True)
class Part:
    """Some minutes of a turn in one light and clarity (inches); None where untold."""

    at: datetime
    minutes: float
    light: Light | None = None
    visibility_in: float | None = None

    @property
    def until(self) -> datetime:
        return self.at + timedelta(minutes=self.minutes)


@dataclass(frozen=True, slots=True)
class Bite:
    """What came, and when: caught whole, hooked outside, come off, missed, or a follow."""

    at: datetime
    how: HookUp
    light: Light | None = None

    @property
    def whole(self) -> bool:
        return self.how is HookUp.WHOLE


@dataclass(frozen=True, slots=True)
class FishTurn:
    """One turn: what was thrown, its parts in their order, one at least, what came; by oneself or by a partner."""

    category: str
    card: Colour
    parts: tuple[Part, ...]
    bites: tuple[Bite, ...] = ()
    partner: bool = False

    @property
    def at(self) -> datetime:
        return self.parts[0].at

    @property
    def blank(self) -> bool:
        return not self.bites and sum(part.minutes for part in self.parts) >= BLANK_AFTER


@dataclass(frozen=True, slots=True)
class FishRead:
    """What the fish say of one kind: what to `do` (begin, stay, turn, near, back, loud, place) and with which card; the
    order of what is left, and of each card how often it was thrown and blank in these conditions. `shared`: two came on
    it, whoever threw it."""

    do: str
    card: Colour | None
    order: tuple[Colour, ...]
    tried: dict[str, int]
    failed: dict[str, int]
    shared: bool = False


def counts_now(turn: FishTurn, now: Situation, at: datetime) -> bool:
    """Whether a turn counts in these conditions; what was not told does not bind."""
    here = BANDS.index(HOUSE_LADDER.band_at(now.visibility_in))

    def is_alike(part: Part) -> bool:
        if part.at.date() != at.date() or (part.light or now.light) is not now.light:
            return False
        seen = part.visibility_in
        return seen is None or abs(BANDS.index(HOUSE_LADDER.band_at(seen)) - here) <= 1

    return any(part.at <= at and (part.until > at - RECENT or is_alike(part)) for part in turn.parts)


def standing(order: Sequence[Colour], turns: Sequence[FishTurn], at: datetime) -> tuple[Colour, ...]:
    """The first word's order, but what was blank within the hour comes after, and what was blank twice last."""
    blank = Counter(turn.card.id for turn in turns if turn.blank)
    late = {turn.card.id for turn in turns if turn.blank and at - turn.at <= timedelta(hours=1)}
    return tuple(sorted(order, key=lambda card: (blank[card.id] >= 2, card.id in late)))


def read_fish(
    order: Sequence[Colour], accepted: Sequence[Colour], turns: Sequence[FishTurn], now: Situation, at: datetime,
    partner: Colour | None = None,
) -> FishRead:  # fmt: skip
    """What to throw of one kind: `order`, what is in the tray from the first word on; which of it a followed rulebook
    accepts now; `turns` of that kind, of any date and water, one's own and a partner's, and what the partner throws of
    it. The first of the guide's rules that applies."""
    every = sorted((turn for turn in turns if turn.at <= at), key=lambda turn: turn.at)
    counted = [turn for turn in every if counts_now(turn, now, at)]
    left = standing(order, counted, at)
    evidence = _Evidence(left, accepted, every, counted, now, at, partner)
    tried = dict(Counter(turn.card.id for turn in counted))
    failed = dict(Counter(turn.card.id for turn in counted if turn.blank))
    for do, propose in _RULES:
        if card := propose(evidence):
            shared = propose in (_stay_shared, _turn_shared)
            return FishRead(do, card, (card, *(one for one in left if one is not card)), tried, failed, shared)
    return FishRead("place", None, left, tried, failed)


class _Evidence:
    """What the turns of one kind come to: `every` turn so far, those `counted` in these conditions."""

    def __init__(
        self, left: Sequence[Colour], accepted: Sequence[Colour], every: Sequence[FishTurn],
        counted: Sequence[FishTurn], now: Situation, at: datetime, partner: Colour | None,
    ) -> None:  # fmt: skip
        self.left, self.every, self.counted, self.now, self.at = left, every, counted, now, at
        self.accepted = list(accepted)
        self.partner_role = find_role(partner) if partner else None
        self.mine = [turn for turn in counted if not turn.partner]
        self.on = self.mine[-1].card if self.mine else None

    def family(self, card: Colour) -> Hashable:
        return family(card, self.now.category)

    @cached_property
    def thrown(self) -> set[Hashable]:
        """The families that were thrown in these conditions."""
        return {self.family(turn.card) for turn in self.counted}

    @cached_property
    def blank(self) -> set[Hashable]:
        """The families that had a blank turn in these conditions."""
        return {self.family(turn.card) for turn in self.counted if turn.blank}

    @cached_property
    def able(self) -> list[Colour]:
        """What may be proposed for a turn: what a rulebook accepts, or all where none accepts anything."""
        return [card for card in self.left if card in self.accepted] or list(self.left)

    @cached_property
    def new(self) -> list[Colour]:
        """Of that, what was not thrown in these conditions."""
        return [card for card in self.able if self.family(card) not in self.thrown]

    def bites(self, within: timedelta, of: Sequence[FishTurn]) -> list[tuple[Colour, Bite]]:
        """What came lately on some turns, in its order."""
        came = [(turn.card, bite) for turn in of for bite in turn.bites if self.at - within <= bite.at <= self.at]
        return sorted(came, key=lambda each: each[1].at)

    def blanks_since(self, kin: Hashable, bite: Bite) -> int:
        """Blank turns with a family that began after a bite."""
        return sum(turn.blank and turn.at >= bite.at for turn in self.counted if self.family(turn.card) == kin)

    def failed_roles(self) -> set[Role]:
        """The roles of which every family that is left was blank in these conditions."""
        roles = {find_role(card) for card in self.left}
        return {role for role in roles if all(self.family(card) in self.blank for card in self.of_role(role))}

    def of_role(self, role: Role) -> list[Colour]:
        return [card for card in self.left if find_role(card) is role]


def _begin(told: _Evidence) -> Colour | None:
    if told.mine or not told.left:
        return None
    return told.left[0] if told.partner_role is None else _apart(told, told.able)


def _apart(told: _Evidence, cards: Sequence[Colour]) -> Colour | None:
    """The first of some cards that is of another role than the partner's, else the first."""
    return next((card for card in cards if find_role(card) is not told.partner_role), next(iter(cards), None))


def _see_through(told: _Evidence) -> Colour | None:
    """Missed or followed in the sun what was taken, or thrown, under cloud or in low light."""
    if told.now.light not in _SUN:
        return None
    for card, bite in reversed(told.bites(RECENT, told.mine)):
        if bite.how in _SEEN_TOO_WELL and (bite.light or told.now.light) in _SUN and _was_in_shade(told, card, bite):
            clear = [one for one in told.left if one.opacity is Opacity.TRANSLUCENT and one is not card]
            thrown = {turn.card for turn in told.mine if turn.at >= bite.at}
            return None if thrown & {*clear} else next(iter(clear), None)
    return None


def _was_in_shade(told: _Evidence, card: Colour, bite: Bite) -> bool:
    parts = [part for turn in told.every if turn.card is card for part in turn.parts]
    return any(part.light in _SHADE and part.at.date() == bite.at.date() and part.at <= bite.at for part in parts)


def _stay_shared(told: _Evidence) -> Colour | None:
    """Two came on what is on within half an hour, whoever threw it."""
    kins = _bitten_twice(told)
    return told.on if told.on in told.left and told.on and told.family(told.on) in kins else None


def _turn_shared(told: _Evidence) -> Colour | None:
    kins = _bitten_twice(told)
    return next((card for kin in kins for card in told.left if told.family(card) == kin), None)


def _bitten_twice(told: _Evidence) -> list[Hashable]:
    """With a partner: the families on which two came within half an hour, the most bitten first."""
    if not any(turn.partner for turn in told.every):
        return []
    came: dict[Hashable, list[Bite]] = {}
    for card, bite in told.bites(TOLD_TO_BOTH, told.every):
        came.setdefault(told.family(card), []).append(bite)
    twice = {kin: some for kin, some in came.items() if len(some) >= 2}
    alive = [kin for kin, some in twice.items() if told.blanks_since(kin, some[-1]) < MOST_BLANKS]
    return sorted(alive, key=lambda kin: -len(twice[kin]))


def _step(told: _Evidence) -> Colour | None:
    """Two or more that were all nearly ones ask for the nearest step."""
    came = _recent_on(told)
    if told.on is None or len(came) < 2 or any(bite.whole for bite in came):
        return None
    steps = [card for card in told.new if is_step(told.on, card, told.now.category)]
    return nearest_step(told.on, steps)


def _recent_on(told: _Evidence) -> list[Bite]:
    """What came lately on what is on, unless two turns of it were blank since."""
    came = [bite for card, bite in told.bites(RECENT, told.mine) if card is told.on]
    if not came or told.on is None or told.blanks_since(told.family(told.on), came[-1]) >= MOST_BLANKS:
        return []
    return came


def _stay(told: _Evidence) -> Colour | None:
    return told.on if _recent_on(told) and told.on in told.left else None


def _near(told: _Evidence) -> Colour | None:
    """The next of the same role, each for its turn."""
    if told.on is None:
        return None
    return next((card for card in told.new if find_role(card) is find_role(told.on)), None)


def _loud(told: _Evidence) -> Colour | None:
    now, warm = told.now, told.now.likely_temp_f
    clear = now.visibility_in > LOUD_FROM_IN and warm is not None and warm > LOUD_FROM_F
    midday = told.at.hour in _MIDDAY
    if not (midday and clear and now.category in FAST and loud_turn(now) and len(told.failed_roles()) >= 2):
        return None
    return next((card for card in told.of_role(Role.LOUD) if told.family(card) not in told.blank), None)


def _turn(told: _Evidence) -> Colour | None:
    return _apart(told, told.new)


def _back(told: _Evidence) -> Colour | None:
    """What caught in these conditions and was not blank twice since, the last first."""
    whole = [(turn.card, bite) for turn in told.counted for bite in turn.bites if bite.whole]
    for card, bite in sorted(whole, key=lambda each: each[1].at, reverse=True):
        if card in told.left and told.blanks_since(told.family(card), bite) < MOST_BLANKS:
            return card
    return None


def _finish(told: _Evidence) -> Colour | None:
    """What had no whole turn yet."""
    return next((card for card in told.able if told.family(card) not in told.blank), None)


_RULES: Final[tuple[tuple[str, Callable[[_Evidence], Colour | None]], ...]] = (
    ("near", _see_through), ("stay", _stay_shared), ("turn", _turn_shared), ("begin", _begin), ("near", _step),
    ("stay", _stay), ("near", _near), ("loud", _loud), ("turn", _turn), ("back", _back), ("turn", _finish),
)  # fmt: skip


def is_step(card: Colour, other: Colour, category: str) -> bool:
    """Whether another colour is a step in finish, opacity or belly; on the surface white and bone are one."""
    if card.finish is not other.finish or card.opacity is not other.opacity:
        return True
    pale = on_top(category) and {card.tone, other.tone} <= _PALE
    return not pale and belly_accents(card) != belly_accents(other)
