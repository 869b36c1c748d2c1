"""The four roles that a set of colours fills."""

from __future__ import annotations

from enum import StrEnum
from typing import Final

from tackle.base.vocabulary import Brightness, Tone
from tackle.colours.colour import Colour

__all__ = ["Role", "find_role"]


class Role(StrEnum):
    PALE = "pale"
    NATURAL = "natural"
    DARK = "dark"
    LOUD = "loud"


_PALE: Final = frozenset((
    Tone.WHITE, Tone.BONE, Tone.PEARL, Tone.SILVER, Tone.CLEAR, Tone.SMOKE, Tone.SHAD, Tone.MINNOW,
))  # fmt: skip
_DARK: Final = frozenset((Tone.BLACK, Tone.BLACK_BLUE, Tone.BLACK_GOLD, Tone.DARK_PURPLE, Tone.RED_BUG))


def find_role(card: Colour) -> Role:
    """The role of a colour; whatever is bright is loud."""
    if card.brightness is Brightness.BRIGHT:
        return Role.LOUD
    return Role.PALE if card.tone in _PALE else Role.DARK if card.tone in _DARK else Role.NATURAL
