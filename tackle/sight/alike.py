"""On how many days two colours are one to the fish, and on how many that is in doubt.

Distances as such mean little, their order does: so a limit is told as a band, and what lies in it as in doubt.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.colours.colour import Colour
from tackle.sight.look import View, own_light_left
from tackle.sight.parted import call_pairs
from tackle.sight.species import water_eye
from tackle.situations.expected_rows import Expected

__all__ = ["USUAL_DEPTH_FT", "DaysAlike", "days_alike", "remaining_light", "sight_views"]


USUAL_DEPTH_FT: Final = 4.0  # where nothing tells how deep lures run


@dataclass(frozen=True, slots=True, eq=False)
class DaysAlike:
    """For each two of some cards the days on which they are one to the fish, and those in doubt: (n, n)."""

    one: NDArray[np.float64]
    doubt: NDArray[np.float64]


def sight_views(days: Sequence[Expected]) -> dict[View, float]:
    """How the fish look on some days, each with its days: at the depth that lures run at on that water."""
    found: dict[View, float] = {}
    for day in days:
        view = View(
            water_eye(day.water), round(day.visibility_in, 1), day.stain.value, day.water.depth_ft or USUAL_DEPTH_FT,
            day.light.value,
        )  # fmt: skip
        found[view] = found.get(view, 0.0) + day.days
    return found


def days_alike(cards: Sequence[Colour], views: dict[View, float], below: bool = False) -> DaysAlike:
    """The days on which each two of some cards are one, from the side or from below."""
    one, doubt = np.zeros((len(cards), len(cards))), np.zeros((len(cards), len(cards)))
    for view, days in views.items():
        called = call_pairs(cards, view, below)
        one += days * called.one
        doubt += days * ~(called.one | called.two)
    return DaysAlike(one, doubt)


def remaining_light(
    card: Colour, visibilities_in: Sequence[float], depths_ft: Sequence[float], stain: str, light: str, eye: str
) -> NDArray[np.float64]:
    """How much of a colour's own light is left for the fish, by depth and visibility: (depths, visibilities)."""
    return np.array([
        [float(own_light_left([card], View(eye, inches, stain, depth, light))[0]) for inches in visibilities_in]
        for depth in depths_ft
    ])  # fmt: skip
