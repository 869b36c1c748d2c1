"""On how many days two colours are nearly one to the fish: nearer to each other than two that somebody names.

Distances as such mean little, their order does. So a day's own yardstick is the distance of a named pair in the same
water, at a depth of its own.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tackle.colours.colour import Colour
from tackle.sight.look import View, apart, own_light_left, points
from tackle.situations.expected_rows import Expected

__all__ = ["Yardstick", "days_alike", "remaining_light", "sight_views"]

_SALT_EYE, _FRESH_EYE = "drum", "bass"


@dataclass(frozen=True, slots=True)
class Yardstick:
    """As alike as these two are at this depth, in feet."""

    first: Colour
    second: Colour
    depth_ft: float


def sight_views(days: Sequence[Expected]) -> dict[View, float]:
    """How the fish look on some days, each with its days: at the depth that lures run at on that water."""
    found: dict[View, float] = {}
    for day in days:
        eye = _SALT_EYE if day.water.salinity == "salt" else _FRESH_EYE
        view = View(eye, round(day.visibility_in, 1), day.stain.value, day.water.depth_ft or 4.0, day.light.value)
        found[view] = found.get(view, 0.0) + day.days
    return found


def days_alike(cards: Sequence[Colour], views: dict[View, float], yardstick: Yardstick) -> NDArray[np.float64]:
    """For each two of some cards the days on which they are nearer to each other than the yardstick: (n, n)."""
    total = np.zeros((len(cards), len(cards)))
    pair = (yardstick.first, yardstick.second)
    for view, days in views.items():
        limit = apart(points(pair, replace(view, depth_ft=yardstick.depth_ft)))[0, 1]
        total += days * (apart(points(cards, view)) < limit)
    np.fill_diagonal(total, sum(views.values()))
    return total


def remaining_light(
    card: Colour, visibilities_in: Sequence[float], depths_ft: Sequence[float], stain: str, light: str, eye: str
) -> NDArray[np.float64]:
    """How much of a colour's own light is left for the fish, by depth and visibility: (depths, visibilities)."""
    return np.array([
        [float(own_light_left([card], View(eye, inches, stain, depth, light))[0]) for inches in visibilities_in]
        for depth in depths_ft
    ])  # fmt: skip
