"""How many rows and columns a tray has: its walls stand at equal distances, and run all the way across."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from tackle.picture.rectify import Point, perspective

__all__ = ["find_walls"]

_SIDE: Final = 720  # pixels of the tray laid straight
_MOST: Final = 12
_COARSE: Final = 180  # pixels of it after shrinking: grain goes, and a wall that leans stays within one
_NEAR: Final = 3  # of these, that a wall may lie off
_LEAN: Final = 2  # of these, that it may drift on its way
_LEAST: Final = 4.0  # deviations that a wall stands out by; below it there is none
_ACROSS: Final = 40  # per cent of the way across that may hide it


def find_walls(image: Image.Image, corners: Sequence[Point]) -> tuple[int, int]:
    """The rows and columns of the tray with these corners, in pixels, from the top left clockwise; 1 where no wall is
    seen."""
    flat = [(0.0, 0.0), (float(_SIDE), 0.0), (float(_SIDE), float(_SIDE)), (0.0, float(_SIDE))]
    straight = image.convert("L").transform(
        (_SIDE, _SIDE), Image.Transform.PERSPECTIVE, perspective(flat, corners), Image.Resampling.BILINEAR
    )
    shrunk = straight.resize((_COARSE, _COARSE), Image.Resampling.BOX)
    grey = np.asarray(shrunk, dtype=np.float64)
    return _parts(_edges(grey.T)), _parts(_edges(grey))


def _edges(grey: NDArray[np.float64]) -> NDArray[np.float64]:
    """How strongly the light changes at each place from left to right, along most of the way down."""
    steep = np.abs(grey[:, 2:] - 2 * grey[:, 1:-1] + grey[:, :-2])  # a thin line is a change there and back
    wide = np.pad(steep, ((0, 0), (_LEAN, _LEAN)), mode="edge")
    drifting = np.max([wide[:, at : at + steep.shape[1]] for at in range(2 * _LEAN + 1)], axis=0)
    return np.asarray(np.percentile(drifting, _ACROSS, axis=0), dtype=np.float64)


def _parts(edges: NDArray[np.float64]) -> int:
    """Into how many equal parts the strongest edges divide the whole: most walls that all stand out win."""
    out = (edges - np.median(edges)) / (np.median(np.abs(edges - np.median(edges))) + 0.5)
    best, most = 1, _LEAST
    for parts in range(2, _MOST + 1):
        at = [round(len(out) * one / parts) for one in range(1, parts)]
        seen = [float(out[max(0, place - _NEAR) : place + _NEAR].max()) for place in at]
        worth = float(np.percentile(seen, 25)) * (parts - 1) ** 0.25
        if worth > most:
            best, most = parts, worth
    return best
