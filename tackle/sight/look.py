"""A look at lures in some water: what reaches the eye, where each stands for the fish, how far apart two are.

Daylight goes through the surface and down by Kd; a lure's face gives back some of it sideways; on the way to the eye it
fades by c into the water's own light. Two cones make of each face one point: hue across, light and dark up, both in
just noticeable differences from the water behind. All distances are plain ones between points.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tackle.base.units import M_PER_FT
from tackle.colours.colour import Colour
from tackle.sight.eye import cone_curves
from tackle.sight.lure import Faces, make_faces
from tackle.sight.spectra import Assumptions, assumptions, spectra
from tackle.sight.water import attenuation, fitted

__all__ = [
    "View",
    "apart",
    "light_down",
    "light_left",
    "nearest_first",
    "own_light_left",
    "points",
    "screen",
    "to_srgb",
]

_ROWS = 8
Curve = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class View:
    """Who looks, through what, how deep, under what sky, from how far; feet and inches. No range: the default."""

    eye: str
    visibility_in: float
    stain: str
    depth_ft: float
    light: str
    range_ft: float | None = None

    @property
    def distance_ft(self) -> float:
        """From how far."""
        return _default_range_ft(self.visibility_in) if self.range_ft is None else self.range_ft


def _default_range_ft(visibility_in: float) -> float:
    """From how far a lure is looked at where nothing else is said: a share of the visibility, up to a most."""
    data = assumptions()
    return min(data.number("range_share") * visibility_in / 12, data.number("range_most_ft"))


def points(cards: Sequence[Colour], view: View, assumed: Assumptions | None = None) -> Curve:
    """Where each part of each card stands: (n, 3, 2), hue and brightness in just noticeable differences."""
    data = assumed or assumptions()
    return _points(make_faces(tuple(cards), data), view, data)


def apart(places: Curve) -> Curve:
    """How far each two are apart: the mean distance over back, side and belly, (n, n).

    >>> from tackle.colours.palette import house_palette
    >>> cards = [house_palette().by_id[one] for one in ("white-flat", "bone", "black-plain")]
    >>> white, bone, black = apart(points(cards, View("bass", 24.0, "tannic", 4.0, "bright")))
    >>> bool(white[1] < 1 < white[2])  # white and bone are nearly one to the fish, white and black are not
    True
    """
    count, parts = places.shape[:2]
    across = np.ascontiguousarray(places.transpose(1, 2, 0))
    table = np.zeros((count, count))
    for start in range(0, count, _ROWS):  # so many rows at a time stay in the cache
        rows = slice(start, start + _ROWS)
        for hue, bright in across:
            step, other = hue[rows, None] - hue, bright[rows, None] - bright
            step *= step
            other *= other
            step += other
            table[rows] += np.sqrt(step, out=step)
    return np.asarray(table / parts, dtype=np.float64)


def light_left(view: View, assumed: Assumptions | None = None) -> float:
    """Of the visible light just under the surface, the share that reaches the lure."""
    data = assumed or assumptions()
    down = attenuation(fitted(view.visibility_in, view.stain), data.number("light", view.light, "cosine"))
    daylight = spectra().daylight
    return float((daylight * np.exp(-down * view.depth_ft * M_PER_FT)).sum() / daylight.sum())


def own_light_left(cards: Sequence[Colour], view: View, assumed: Assumptions | None = None) -> Curve:
    """Of the light that each card would give back just under the surface, close by, the share that the eye's cones
    get of it there, over back, side and belly: (n,)."""
    data = assumed or assumptions()
    body, cones = fitted(view.visibility_in, view.stain), cone_curves(view.eye, data)
    fades = np.exp(-body.beam * view.distance_ft * M_PER_FT)
    faces = make_faces(tuple(cards), data)
    there = (faces.shines(light_down(view, data)) @ (cones * fades).T).sum(axis=(1, 2))
    above = (faces.shines(light_down(replace(view, depth_ft=0.0), data)) @ cones.T).sum(axis=(1, 2))
    return np.asarray(there / above, dtype=np.float64)


def _points(faces: Faces, view: View, data: Assumptions) -> Curve:
    cones = cone_curves(view.eye, data)
    lures, behind = _taken_up(faces, view, data, cones)
    # Dark noise is told of a white under the surface in bright sun.
    noise = data.number("dark") * data.number("surface") * data.number("side_light") * (cones @ spectra().daylight)
    steps = np.log((lures + noise) / (behind + noise)) / data.number("weber")
    # Hue takes both cones: where one is left in the dark, the other alone tells light from dark and no more.
    both = np.prod(behind / (behind + noise))
    hue = both * (steps[..., 1] - steps[..., 0]) / np.sqrt(2)
    bright = (steps[..., 1] + steps[..., 0]) / np.sqrt(2)
    return np.stack((hue, bright), axis=-1)


def _taken_up(faces: Faces, view: View, data: Assumptions, sensors: Curve) -> tuple[Curve, Curve]:
    """What some sensors, (k, 33), take up of each face at the eye, (n, 3, k), and of the water behind, (k,).

    Radiances are in the unit of daylight. All of it is linear, so that the sensors come before the faces.
    """
    body, light = fitted(view.visibility_in, view.stain), light_down(view, data)
    water = data.number("background") * body.scatters / body.beam * light
    sideways = data.number("side_light") * light
    fades = np.exp(-body.beam * view.distance_ft * M_PER_FT)
    paint = faces.shines(sideways) @ (sensors * fades).T
    # A mirror shows what is around in its own tint: gold is no silver.
    tint = faces.reflects / faces.reflects.max(axis=-1, keepdims=True)
    around = tint @ (sensors * (0.7 * water + 0.3 * sideways) * fades).T
    behind = sensors @ (water * fades)
    mirror, through = faces.mirror[:, None, None], faces.through[:, :, None]
    face = (paint * (1 - mirror) + around * mirror) * (1 - through) + behind * through
    return face + sensors @ (water * (1 - fades)), sensors @ water


def light_down(view: View, data: Assumptions) -> Curve:
    """The light that comes down to the lure, (33,)."""
    sky = data.told["light"][view.light]
    down = attenuation(fitted(view.visibility_in, view.stain), float(sky["cosine"]))
    strength = data.number("surface") * float(sky["strength"])
    return np.asarray(strength * spectra().daylight * np.exp(-down * view.depth_ft * M_PER_FT), dtype=np.float64)


def screen(cards: Sequence[Colour], view: View, assumed: Assumptions | None = None) -> tuple[Curve, Curve]:
    """What a camera would show there: linear sRGB of each part, (n, 3, 3), and of the water behind, (3,)."""
    data = assumed or assumptions()
    faces, water = _taken_up(make_faces(tuple(cards), data), view, data, spectra().observer)
    # A white card there, and one under the surface in bright sun; the camera adapts part of the way from one to other.
    lights = np.array([light_down(view, data), _sun(data)])
    lit = data.number("side_light") * _XYZ_TO_SRGB @ (spectra().observer @ lights.T)
    here, bright = np.maximum(lit.T, 1e-12)
    grey, full = float(here @ _LUMA), float(bright @ _LUMA)
    adapts, balances = data.number("camera", "adapts"), data.number("camera", "balances")
    exposure = data.number("camera", "white") / (grey**adapts * full ** (1 - adapts)) * (grey / here) ** balances
    shown = (faces @ _XYZ_TO_SRGB.T * exposure, water @ _XYZ_TO_SRGB.T * exposure)
    return np.clip(shown[0], 0, 1), np.clip(shown[1], 0, 1)


def to_srgb(light: Curve) -> Curve:
    """Linear sRGB, (..., 3), of spectra, (..., 33)."""
    return np.asarray(light @ spectra().observer.T @ _XYZ_TO_SRGB.T, dtype=np.float64)


def _sun(data: Assumptions) -> Curve:
    """The light just under the surface in bright sun, (33,)."""
    return np.asarray(data.number("surface") * spectra().daylight, dtype=np.float64)


# Linear sRGB from CIE XYZ (IEC 61966-2-1).
_XYZ_TO_SRGB = np.array([[3.2406, -1.5372, -0.4986], [-0.9689, 1.8758, 0.0415], [0.0557, -0.2040, 1.0570]])


def nearest_first(places: Curve) -> list[tuple[int, int, float]]:
    """All pairs by their places, least apart first."""
    table = apart(places)
    rows, columns = np.triu_indices(len(places), 1)
    order = np.argsort(table[rows, columns], kind="stable")
    return [(int(rows[i]), int(columns[i]), float(table[rows[i], columns[i]])) for i in order]


_LUMA = np.array([0.2126, 0.7152, 0.0722])  # of linear sRGB, how light it looks
