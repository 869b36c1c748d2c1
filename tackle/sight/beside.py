"""Two lures side by side, at every depth and visibility of a table: what a camera shows, and how far they are apart."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tackle.colours.colour import Colour
from tackle.colours.light import encoded
from tackle.sight.below import points_below, screen_below, sky_above
from tackle.sight.look import View, points, screen
from tackle.sight.parted import call_pairs

__all__ = ["Beside", "look_beside"]


@dataclass(frozen=True, slots=True, eq=False)
class Beside:
    """By depth and visibility, (d, v, ...): `lures` (.., 2, parts, 3) and `behind` (.., 3) in 8-bit sRGB; `apart`
    (.., 3): in light and dark, in hue, and on the whole, in just noticeable differences; `near`: from half as far."""

    lures: NDArray[np.uint8]
    behind: NDArray[np.uint8]
    apart: NDArray[np.float64]
    near: NDArray[np.float64]


def look_beside(
    pair: tuple[Colour, Colour], view: View, depths_ft: Sequence[float], visibilities_in: Sequence[float],
    below: bool = False,
) -> Beside:  # fmt: skip
    """The table of two colours; the view tells eye, stain and light, and the range where one was told."""
    sky = sky_above(view.light)
    lures, behind, apart, near = [], [], [], []
    for depth in depths_ft:
        for inches in visibilities_in:
            there = replace(view, depth_ft=depth, visibility_in=inches)
            close = replace(there, range_ft=there.distance_ft / 2)
            shown, water = screen_below(pair, close, sky) if below else screen(pair, close)
            places = points_below(pair, there, sky) if below else points(pair, there)
            steps = np.abs(places[0] - places[1])
            hue, bright = steps[np.argmax(np.linalg.norm(steps, axis=1))]
            called = call_pairs(pair, there, below)
            lures.append(encoded(shown))
            behind.append(encoded(water))
            apart.append((bright, hue, called.far[0, 1]))
            near.append(called.near[0, 1])
    grid = (len(depths_ft), len(visibilities_in))
    return Beside(
        np.array(lures).reshape(*grid, 2, -1, 3), np.array(behind).reshape(*grid, 3),
        np.array(apart, dtype=np.float64).reshape(*grid, 3).round(2),
        np.array(near, dtype=np.float64).reshape(grid).round(2),
    )  # fmt: skip
