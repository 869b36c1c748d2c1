"""How far two lures are apart for a fish that needs no more than one part of one moment to tell them.

The largest distance over back, side, belly and the dipped tips; and for mirrors the flash, which is in the picture for
a share of moments: over moments its mean is that share of its brightness in just noticeable differences.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.base.vocabulary import Brightness, Finish, Flake, Opacity, Tone
from tackle.colours.colour import Colour
from tackle.sight.below import points_below, sky_above
from tackle.sight.flash import find_flashes
from tackle.sight.look import View, apart, points
from tackle.sight.lure import PARTS
from tackle.sight.spectra import Assumptions, assumptions

__all__ = ["IN_DOUBT", "Called", "call_pairs", "how_far", "stands_out"]

Curve = NDArray[np.float64]
IN_DOUBT: Final = "in doubt"
_SIDE = PARTS.index("side")
_NEARER = 2  # times: a fish that follows comes so much nearer than where it first looks from


@dataclass(frozen=True, slots=True, eq=False)
class Called:
    """How far each two of some colours are apart, in just noticeable differences, from where a fish looks and from half
    as far, (n, n); which are one to it, even from half as far; and which are two. What is neither is in doubt."""

    far: Curve
    near: Curve
    one: NDArray[np.bool_]
    two: NDArray[np.bool_]

    def said(self, first: int, second: int) -> str:
        """What is said of two of them: `one`, `two` or `in doubt`."""
        return "one" if self.one[first, second] else "two" if self.two[first, second] else IN_DOUBT


def call_pairs(cards: Sequence[Colour], view: View, below: bool = False) -> Called:
    """What the eye says of each two of some colours."""
    data = assumptions()
    far = how_far(cards, view, below)
    near = how_far(cards, replace(view, range_ft=view.distance_ft / _NEARER), below)
    return Called(far, near, near < data.number("limit", "one_below"), far > data.number("limit", "two_above"))


def how_far(cards: Sequence[Colour], view: View, below: bool = False, assumed: Assumptions | None = None) -> Curve:
    """How far each two are apart by the part that tells most, in just noticeable differences: (n, n). From below that
    is the underside alone, against the sky."""
    data = assumed or assumptions()
    if below:
        return apart(points_below(cards, view, sky_above(view.light), data))
    seen = _all_parts(cards, view, data)
    most = np.zeros((len(cards), len(cards)))
    for part in seen.transpose(1, 0, 2):
        np.maximum(most, np.hypot(*(part[:, None] - part[None]).transpose(2, 0, 1)), out=most)
    flash = _flash_steps(cards, view, data)
    return np.asarray(most + np.abs(flash[:, None] - flash[None]))


def stands_out(cards: Sequence[Colour], view: View, assumed: Assumptions | None = None) -> Curve:
    """How far each is from the water behind it: the mean over its parts, and its flash: (n,)."""
    data = assumed or assumptions()
    parts = np.linalg.norm(points(cards, view, data), axis=-1)
    return np.asarray(parts.mean(axis=-1) + _flash_steps(cards, view, data))


def _all_parts(cards: Sequence[Colour], view: View, data: Assumptions) -> Curve:
    """Back, side, belly and tips: (n, 4, 2). What has no tips is there as its side is."""
    places = points(cards, view, data)
    tips = places[:, _SIDE].copy()
    painted = [(index, tip) for index, card in enumerate(cards) if (tip := _tip(card, data))]
    if painted:
        dipped = points([tip for _, tip in painted], view, data)
        tips[[index for index, _ in painted]] = dipped[:, _SIDE]
    return np.concatenate((places, tips[:, None]), axis=1)


def _tip(card: Colour, data: Assumptions) -> Colour | None:
    """A lure that is all of the dye in which this one's tips were dipped."""
    for accent, (tone, paint) in data.told["lure"]["tips"].items():
        if accent in card.accents:
            return replace(
                card, id=f"{card.id}/{accent}", tone=Tone(tone), opacity=Opacity.OPAQUE, finish=Finish.MATTE,
                flake=Flake.NONE, flake_hues=(), flake_srgb=(), brightness=Brightness.BRIGHT, back=paint, side=paint,
                belly=paint, accents=(), solid=None, fluorescent=None,
            )  # fmt: skip
    return None


def _flash_steps(cards: Sequence[Colour], view: View, data: Assumptions) -> Curve:
    flashes = find_flashes(cards, view, data)
    return np.array([one.share * np.log1p(one.bright) / data.number("weber") for one in flashes], dtype=np.float64)
