"""Light at the lure: what sky, wind and depth take away, told as a murkier visibility."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.base.vocabulary import Light, Wind, ids
from tackle.situations.clarity import Ladder

__all__ = ["DIM_DEPTH_FT", "TIPS", "sight_in"]

DIM_DEPTH_FT: Final = 15.0  # from here down even clean water is a step dimmer; above, the visibility says it all
TIPS: Final = 0.34  # of a step: what one of cloud, low sun and chop does alone, tipping a near call and no more

_OVERCAST, _LOW, _NIGHT = (ids(Light).index(value) for value in (Light.OVERCAST, Light.LOW, Light.NIGHT))
_CHOP: Final = ids(Wind).index(Wind.CHOP)


def sight_in(
    ladder: Ladder,
    visibility_in: NDArray[np.float64],
    light: NDArray[np.int8],
    wind: NDArray[np.int8],
    depth_ft: NDArray[np.float64],
) -> NDArray[np.float64]:
    """How far the fish see at the lure, in inches, told as the visibility that would be like it under sun.

    Shapes: all (n,). Light and wind are places in the vocabulary (-1: unknown); an unknown depth is nan. Cloud or low
    sun together with chop is one step down the ladder, and no more; each alone tips a near call. A lure deeper than
    DIM_DEPTH_FT is one step more: two at most. A ripple is the ordinary day. At night it is 0: silhouette.
    """
    with np.errstate(invalid="ignore"):
        deep = depth_ft > DIM_DEPTH_FT
    dim, rough = (light == _OVERCAST) | (light == _LOW), wind == _CHOP
    sky = np.where(dim & rough, 1.0, np.where(dim | rough, TIPS, 0.0))
    return np.asarray(np.where(light == _NIGHT, 0.0, ladder.step_down(visibility_in, sky + deep)), dtype=np.float64)
