"""A lure's faces as reflectances, from the sRGB of its card and what is known of its make."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tackle.base.store import kept
from tackle.base.vocabulary import Brightness, Finish
from tackle.colours.colour import Colour
from tackle.colours.light import to_linear
from tackle.sight.spectra import Assumptions, spectra

__all__ = ["PARTS", "Faces", "make_faces"]

PARTS = ("back", "side", "belly")
Curve = NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class Faces:
    """Some lures: `reflects` (n, 3, 33) of back, side and belly; `through` and `mirror` (n,), shares of a face that
    show what is behind, and what is around."""

    reflects: Curve
    through: Curve
    mirror: Curve


@kept("faces of lures")
def make_faces(cards: tuple[Colour, ...], assumed: Assumptions) -> Faces:
    """The faces of some cards: flake mixed in by its share, fluorescence as a guess."""
    data = assumed.told["lure"]
    paint = to_linear([getattr(card, part) for card in cards for part in PARTS]).reshape(-1, 3, 3)
    for index, card in enumerate(cards):
        if card.flake_srgb:
            flake = to_linear(card.flake_srgb).mean(axis=0)
            share = data["flake"][card.flake]
            paint[index] = paint[index] * (1 - share) + flake * share
    # Mallett & Yuksel 2019, between what paint reflects at least and at most.
    reflects = 0.03 + 0.87 * np.clip(np.clip(paint, 0, 1) @ spectra().basis, 0, 1)
    glow = assumed.told["fluorescence"]
    bright = np.array([card.brightness is Brightness.BRIGHT and card.tone in glow["tones"] for card in cards], bool)
    long = spectra().waves >= 510
    reflects *= np.where(bright[:, None, None] & long, glow["factor"], 1.0)
    return Faces(
        reflects,
        np.array([data["see_through"][card.opacity] for card in cards], dtype=np.float64),
        np.array([data["mirror"] if card.finish is Finish.METALLIC else 0.0 for card in cards], dtype=np.float64),
    )
