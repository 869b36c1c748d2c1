"""The flash of a lure: an upright mirror shows the water beside it, which is as bright as the water behind it (Denton
1970), and is seen when it rolls so far that it turns the sun to the eye.

Refraction draws the sun to within 48.6 degrees of the zenith, so the mirror's face has to tilt by half of how high the
sun then stands above the horizon: by 20.7 degrees at least. The roll is taken for normal, the sun for spread by waves.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import acos, cos, degrees, exp, pi, radians
from statistics import NormalDist
from typing import Final, NamedTuple

import numpy as np

from tackle.base.units import M_PER_FT
from tackle.colours.colour import Colour
from tackle.sight.look import View
from tackle.sight.lure import make_faces
from tackle.sight.spectra import Assumptions, assumptions, spectra
from tackle.sight.water import fitted

__all__ = ["Flash", "find_flashes"]

_MIRROR_REFLECTS: Final = 0.9
_BEYOND: Final = 0.3  # of what particles scatter, what goes beyond the blur of the waves (Petzold 1972, turbid harbour)


class Flash(NamedTuple):
    """In which share of moments a lure flashes, and how many times as bright as the water behind it then is."""

    share: float
    bright: float


def find_flashes(cards: Sequence[Colour], view: View, assumed: Assumptions | None = None) -> list[Flash]:
    """How each card flashes; what has neither a metal finish nor flake never does, and nothing does without sun."""
    data = assumed or assumptions()
    sun, sky = data.number("flash", "direct", view.light), data.number("light", view.light, "cosine")
    tilt, blur = (90 - degrees(acos(sky))) / 2, data.number("flash", "blur_deg")
    roll = NormalDist(0.0, data.number("flash", "roll_deg"))
    share = roll.cdf(tilt + blur / 2) - roll.cdf(tilt - blur / 2)
    body = fitted(view.visibility_in, view.stain)
    scatters = float(np.average(body.scatters, weights=spectra().observer[1]))
    # The sun's own light by the solid angle that waves spread it over, beside the water's light from the side.
    disc = 2 * pi * (1 - cos(radians(blur)))
    left = sun * exp(-_BEYOND * scatters * view.depth_ft * M_PER_FT)
    water = data.number("background") * float(np.average(body.scatters / body.beam, weights=spectra().observer[1]))
    bright = _MIRROR_REFLECTS * left * pi / disc / max(water, 1e-9)
    mirrors = make_faces(tuple(cards), data).mirror
    return [Flash(share if mirror and sun else 0.0, bright * float(mirror)) for mirror in mirrors]
