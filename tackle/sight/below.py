"""A lure from below: an outline in Snell's window, against the sky.

Light from the whole sky comes down within 48.6 degrees of the zenith, so that the window is n² as bright as the sky
spread over a half-space (the n² law; Mobley 1994, ch. 4). The underside is lit by what the water scatters back up,
R = 0.33 bb / a (Morel & Prieur 1977); bb is 0.0183 of particles' scattering (Petzold 1972) and half of the molecules'.
What lets light through shows the sky. The contrast of either fades upward by c - Kd (Duntley 1963). By night rods alone
see, in light and dark.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from math import asin, tan
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.base.units import M_PER_FT
from tackle.colours.colour import Colour
from tackle.sight.eye import cone_curves, rod_curve
from tackle.sight.look import View, light_down, to_srgb
from tackle.sight.lure import PARTS, make_faces
from tackle.sight.spectra import Assumptions, assumptions, spectra
from tackle.sight.water import Body, attenuation, fitted

__all__ = ["SKIES", "outlines", "points_below", "screen_below", "sky_above", "window_width_ft"]

SKIES: Final = ("bright", "overcast", "night")
WATER_INDEX: Final = 1.33
_BACKWARD, _MOST_BACK = 0.0183, 0.3
_SHOWN: Final = {"bright": 0.9, "overcast": 0.7, "night": 0.08}  # how light the sky is on the screen
_SIDE, _BELLY = PARTS.index("side"), PARTS.index("belly")
Curve = NDArray[np.float64]


def sky_above(light: str) -> str:
    """The sky that a lure is seen against in some light."""
    return "night" if light == "night" else "bright" if light == "bright" else "overcast"


def window_width_ft(depth_ft: float) -> float:
    """How wide the round is through which an eye at a depth sees the sky (Snell's law), in feet."""
    return 2 * depth_ft * tan(asin(1 / WATER_INDEX))


def outlines(cards: Sequence[Colour], view: View, sky: str, assumed: Assumptions | None = None) -> Curve:
    """Of the sky's light behind each lure the share that is missing at the eye, or added: (n,), 0 to 1."""
    data = assumed or assumptions()
    lures, behind, noise = _taken_up(cards, view, sky, data)
    lures, behind = lures.sum(axis=-1), behind.sum()
    return np.asarray(np.clip(np.abs(lures - behind) / (behind + noise), 0.0, 1.0))


def points_below(cards: Sequence[Colour], view: View, sky: str, assumed: Assumptions | None = None) -> Curve:
    """Where the underside of each card stands to an eye that is used to the sky: (n, 1, 2), hue and brightness in just
    noticeable differences. By night there is no hue."""
    data = assumed or assumptions()
    lures, behind, noise = _taken_up(cards, view, sky, data)
    steps = np.log((lures + noise) / (behind + noise)) / data.number("weber")
    if steps.shape[-1] == 1:
        return np.asarray(np.stack((np.zeros(len(cards)), steps[:, 0]), axis=-1)[:, None, :])
    hue, bright = (steps[:, 1] - steps[:, 0]) / np.sqrt(2), (steps[:, 1] + steps[:, 0]) / np.sqrt(2)
    return np.asarray(np.stack((hue, bright), axis=-1)[:, None, :])


def screen_below(cards: Sequence[Colour], view: View, sky: str) -> tuple[Curve, Curve]:
    """What a camera set for the sky would show: linear sRGB of each underside, (n, 1, 3), and of the sky, (3,)."""
    lures, window = _radiances(cards, view, sky, assumptions())
    behind = to_srgb(window)
    exposure = _SHOWN[sky] / max(float(behind.max()), 1e-30)
    return np.clip(to_srgb(lures) * exposure, 0, 1)[:, None, :], np.clip(behind * exposure, 0, 1)


def _taken_up(cards: Sequence[Colour], view: View, sky: str, data: Assumptions) -> tuple[Curve, Curve, float]:
    """What the eye's receptors take up of each lure, (n, k), and of the sky behind, (k,); and their dark noise."""
    lures, window = _radiances(cards, view, sky, data)
    night = sky == "night"
    receptors = rod_curve(view.eye, data)[None, :] if night else cone_curves(view.eye, data)
    dark = data.number("below", "rod_dark") if night else data.number("dark")
    noise = dark * data.number("surface") * float((receptors.mean(axis=0) * spectra().daylight).sum())
    return lures @ receptors.T, receptors @ window, noise


def _radiances(cards: Sequence[Colour], view: View, sky: str, data: Assumptions) -> tuple[Curve, Curve]:
    """The light of each lure at the eye, (n, 33), and of the sky behind it, (33,)."""
    there = replace(view, light=sky)
    body, light = fitted(view.visibility_in, view.stain), light_down(there, data)
    window = WATER_INDEX**2 * light
    faces = make_faces(tuple(cards), data)
    underside = faces.shines(light * _sent_up(body))[:, _BELLY, :]
    through = (faces.through[:, _SIDE] * faces.through[:, _BELLY]) ** 0.5  # all of it is light's way through
    plain = underside * (1 - through[:, None]) + window * through[:, None]
    fades = np.exp(-np.maximum(_fading(body, data, sky), 0.0) * view.distance_ft * M_PER_FT)
    return window + (plain - window) * fades, window


def _sent_up(body: Body) -> Curve:
    """Of the light that comes down, the share that comes up from below."""
    molecules = 0.00222 * (spectra().waves / 500) ** -4.32
    back = 0.5 * molecules + _BACKWARD * np.maximum(body.scatters - molecules, 0.0)
    return np.asarray(np.minimum(0.33 * back / body.absorbs, _MOST_BACK))


def _fading(body: Body, data: Assumptions, sky: str) -> Curve:
    """How fast contrast fades on the way down to the eye, per metre."""
    return np.asarray(body.beam - attenuation(body, data.number("light", sky, "cosine")))
