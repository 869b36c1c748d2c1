"""How deep it still shows: a white lure sinking in a picture of water, and how far off one reads.

Seen from above the contrast of a white thing falls by exp(-(c + Kd) z), and is gone to the eye at the depth that gives
the water its number (Preisendorfer 1986); the picture falls as steadily, and is gone there to a screen of 256 steps.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log, sqrt
from statistics import fmean, stdev
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.base.vocabulary import Stain
from tackle.colours.colour import Colour
from tackle.colours.light import encoded
from tackle.sight.look import View, screen

__all__ = ["BETWEEN", "BEYOND", "STEPS", "Bias", "Fade", "bias", "fading"]

STEPS: Final = 48
BEYOND: Final = 1.6  # how far down the picture goes, in visibilities
_LEFT: Final = 1 / 140  # of the contrast on top, at the depth that gives the number: one step of a screen
_DARKER: Final = 0.45  # a camera would brighten what lies deep; one who looks down sees it darken
_EYE: Final = "bass"
ENOUGH: Final = 4
# How clear such water may be where one learns to read it, in inches.
BETWEEN: Final = {Stain.NONE: (40, 160), Stain.SILT: (6, 40), Stain.ALGAE: (14, 60), Stain.TANNIC: (16, 60)}


@dataclass(frozen=True, slots=True)
class Fade:
    """One depth, as a share of the picture's: the water's own colour there, and the lure's."""

    down: float
    water: str
    lure: str


def fading(card: Colour, visibility_in: float, stain: str, light: str) -> tuple[Fade, ...]:
    """The picture from the surface to beyond where the lure is gone."""
    deepest = BEYOND * visibility_in
    found = []
    (shown,), _ = screen([card], View(_EYE, visibility_in, stain, 0.0, light, 0.1))
    white = encoded(shown[1]).astype(np.float64)
    for step in range(STEPS + 1):
        down = step / STEPS
        _, light_there = screen([card], View(_EYE, visibility_in, stain, down * deepest / 12, light, 0.1))
        water = encoded(light_there).astype(np.float64) * (1 - _DARKER * down)
        lure = water + (white - water) * exp(log(_LEFT) * down * BEYOND)
        found.append(Fade(round(down, 4), _hex(water), _hex(lure)))
    return tuple(found)


def _hex(steps: NDArray[np.float64]) -> str:
    return "#" + "".join(f"{round(step):02x}" for step in steps)


@dataclass(frozen=True, slots=True)
class Bias:
    """How one reads: `off_in` too deep on average (too shallow where it is below 0), what to take a reading times to
    put that right, and from how many."""

    off_in: float
    times: float
    count: int

    def right(self, reading_in: float) -> float:
        """A reading put right, in inches."""
        return round(reading_in * self.times, 1)


def bias(guesses: Sequence[tuple[float, float]]) -> Bias | None:
    """From (true, read) in inches: how far off, where it is more than chance; None where it is not, or too few tell."""
    if len(guesses) < ENOUGH:
        return None
    off = [log(read / true) for true, read in guesses if read > 0 and true > 0]
    if len(off) < ENOUGH or abs(fmean(off)) < 2 * stdev(off) / sqrt(len(off)) or abs(fmean(off)) < log(1.05):
        return None
    return Bias(fmean(read - true for true, read in guesses), exp(-fmean(off)), len(guesses))
