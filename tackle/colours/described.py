"""A colour described by what one sees of it: tone, how far one sees into it, flake, belly."""

from __future__ import annotations

from dataclasses import replace
from types import MappingProxyType
from typing import Final

from tackle.base.vocabulary import CATEGORIES, Accent, Flake, FlakeHue, Opacity, Tone
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette

__all__ = ["BELLIES", "FLAKE_SRGB", "describe_colour"]

FLAKE_SRGB: Final = MappingProxyType({
    FlakeHue.BLACK: "#14140f", FlakeHue.SILVER: "#dfe5ea", FlakeHue.GOLD: "#d8ac3c", FlakeHue.COPPER: "#b8672f",
    FlakeHue.RED: "#c02a1c", FlakeHue.PURPLE: "#7a3fa0", FlakeHue.BLUE: "#2b4fd0", FlakeHue.GREEN: "#2f9a4e",
    FlakeHue.ORANGE: "#f07f1e",
})  # fmt: skip
BELLIES: Final = MappingProxyType({
    Accent.PALE_BELLY: "#efeadd", Accent.YELLOW_BELLY: "#e6c94a", Accent.ORANGE_BELLY: "#e07a2a",
    Accent.CHARTREUSE_BELLY: "#c6d83a",
})  # fmt: skip


def describe_colour(
    palette: Palette, category: str, name: str, tone: str, opacity: str, flake: str, belly: str
) -> Colour:
    """A colour like the first one of that tone, in one category, with what is told of it; an empty `flake` or `belly`
    is none. Raises ValueError where a word is none of ours."""
    if category not in CATEGORIES:
        raise ValueError(category)
    hues = (FlakeHue(flake),) if flake else ()
    painted = Accent(belly) if belly else None
    if painted not in (None, *BELLIES):
        raise ValueError(belly)
    like = next(card for card in (*palette.sold_in(category), *palette.cards) if card.tone == Tone(tone))
    accents = tuple(one for one in like.accents if one not in BELLIES)
    as_fine = like.flake if like.flake is not Flake.NONE else Flake.FINE
    return replace(
        like, name=name, opacity=Opacity(opacity), sold_in=(category,),
        flake=as_fine if hues else Flake.NONE, flake_hues=hues, flake_srgb=tuple(FLAKE_SRGB[hue] for hue in hues),
        accents=(*accents, painted) if painted else accents, belly=BELLIES[painted] if painted else like.side,
    )  # fmt: skip
