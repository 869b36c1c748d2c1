"""A step from one colour to another, and when a loud one may be thrown.

A bite that was nearly one asks for the nearest step in finish, opacity or belly. Loud colours that no school asks for
are thrown only in clear, warm water, as fast as can be.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from tackle.base.vocabulary import Accent, Pace
from tackle.colours.colour import Colour
from tackle.colours.likeness import difference, unlike_traits
from tackle.colours.role import find_role
from tackle.situations.situation import Situation

__all__ = ["LOUD_FROM_F", "LOUD_FROM_IN", "belly_accents", "loud_turn", "nearest_step", "step_away"]

LOUD_FROM_IN, LOUD_FROM_F = 60.0, 60.0  # clear and warm, as the guide has it
_BELLIES: Final = frozenset((Accent.ORANGE_BELLY, Accent.PALE_BELLY, Accent.YELLOW_BELLY, Accent.CHARTREUSE_BELLY))


def loud_turn(situation: Situation) -> bool:
    """Whether a loud turn may be offered: clear, warm water, and a lure at full pace."""
    warm = situation.likely_temp_f
    fast = situation.pace is None or situation.pace is Pace.FAST
    return situation.visibility_in >= LOUD_FROM_IN and warm is not None and warm >= LOUD_FROM_F and fast


def nearest_step(card: Colour, cards: Sequence[Colour]) -> Colour | None:
    """Of some cards the one a step away: of the same role, with as little as can be changed of finish, opacity or
    belly. None where nothing of that role is there."""
    same = [one for one in cards if one.id != card.id and find_role(one) is find_role(card)]
    return min(same, key=lambda one: step_away(card, one), default=None)


def step_away(card: Colour, one: Colour) -> tuple[bool, int, bool, float]:
    """How far a colour is from another of its role; less is nearer."""
    changed = (
        (one.finish is not card.finish)
        + (one.opacity is not card.opacity)
        + (belly_accents(one) != belly_accents(card))
    )
    other = set(unlike_traits(card, one)) - {"finish", "opacity", "accents"}
    # One thing changed is a step; nothing changed but the shade comes after that.
    return one.tone is not card.tone, abs(changed - 1), bool(other), difference(card, one)


def belly_accents(card: Colour) -> frozenset[Accent]:
    """The accents of a card's belly."""
    return frozenset(card.accents) & _BELLIES
