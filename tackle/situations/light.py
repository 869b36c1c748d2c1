"""Light at the lure: what sky, wind and depth take away, told as a murkier visibility."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.situations.clarity import Ladder
from tackle.vocabulary import Light, Wind, ids

__all__ = ["DARK_DEPTH_RATIO", "DIM_DEPTH_FT", "sight_in"]

DIM_DEPTH_FT: Final = 15.0  # deeper than this is a step dimmer at any clarity
DARK_DEPTH_RATIO: Final = 2.0  # at twice the visibility there is no light left to speak of

_DIM_LIGHT: Final = [ids(Light).index(value) for value in (Light.OVERCAST, Light.LOW)]
_NIGHT: Final = ids(Light).index(Light.NIGHT)
_ROUGH_WIND: Final = [ids(Wind).index(value) for value in (Wind.RIPPLE, Wind.CHOP)]


def sight_in(
    ladder: Ladder,
    visibility_in: NDArray[np.float64],
    light: NDArray[np.int8],
    wind: NDArray[np.int8],
    depth_ft: NDArray[np.float64],
) -> NDArray[np.float64]:
    """How far the fish see at the lure, in inches, told as the visibility that would be like it under sun.

    Shapes: all (n,). Light and wind are places in the vocabulary (-1: unknown); an unknown depth is nan.
    Each of a dim sky, a rough surface, and a lure deeper than the visibility or than DIM_DEPTH_FT is one
    step down the ladder; at night, or from DARK_DEPTH_RATIO times the visibility down, it is 0: silhouette.
    """
    with np.errstate(invalid="ignore"):
        deep = (depth_ft * 12 > visibility_in) | (depth_ft > DIM_DEPTH_FT)
        dark = (light == _NIGHT) | (depth_ft * 12 >= DARK_DEPTH_RATIO * visibility_in)
    steps = np.isin(light, _DIM_LIGHT).astype(np.int64) + np.isin(wind, _ROUGH_WIND) + deep
    return np.asarray(np.where(dark, 0.0, ladder.step_down(visibility_in, steps)), dtype=np.float64)
