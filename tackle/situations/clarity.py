"""Clarity: a measured visibility, the bands an angler names, and one step toward murkier water."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

__all__ = ["BANDS", "HOUSE_LADDER", "MAX_VISIBILITY_IN", "Ladder"]

BANDS: Final = ("mud", "dirty", "stained", "fair", "clear", "gin")  # murkiest first
MAX_VISIBILITY_IN: Final = 1200.0  # 100 ft: past the clearest fresh and inshore water


@dataclass(frozen=True, slots=True)
class Ladder:
    """Five rising edges, in inches, between the six bands of BANDS.

    A visibility equal to an edge is in the clearer band.
    """

    edges_in: tuple[float, float, float, float, float] = (8.0, 15.0, 30.0, 60.0, 144.0)

    def __post_init__(self) -> None:
        if not all(a < b for a, b in zip((0.0, *self.edges_in), self.edges_in, strict=False)):
            raise ValueError(f"a ladder's edges rise from above 0: {self.edges_in}")

    @property
    def _rungs_in(self) -> tuple[float, ...]:
        # The outermost bands are given the width of an octave, so that a place inside them can be told.
        return (self.edges_in[0] / 2, *self.edges_in, self.edges_in[-1] * 2)

    def band_at(self, visibility_in: float) -> str:
        """The band that a visibility, in inches, lies in."""
        return BANDS[sum(visibility_in >= edge for edge in self.edges_in)]

    def band_range(self, band: str) -> tuple[float, float | None]:
        """The visibilities of a band, in inches: from, and below (None where it is open)."""
        place = BANDS.index(band)
        return ((0.0, *self.edges_in)[place], (*self.edges_in, None)[place])

    def typical_in(self, band: str) -> float:
        """One visibility, in inches, that stands for a band: the geometric middle of its rungs."""
        low, high = self._rungs_in[BANDS.index(band) : BANDS.index(band) + 2]
        return float(np.sqrt(low * high))

    def step_down(self, visibility_in: NDArray[np.float64], steps: NDArray[np.float64]) -> NDArray[np.float64]:
        """The visibilities, in inches, that lie `steps` bands, or parts of one, murkier, at the same place inside.

        Shapes: both (n,), as is the result. Places are measured on a log scale between the rungs, where
        each band is about one doubling; below the lowest rung the scale goes on in doublings.
        """
        rungs = np.log2(np.array(self._rungs_in))
        log_visibility = np.log2(np.maximum(visibility_in, 1e-3))
        place = np.interp(log_visibility, rungs, np.arange(len(rungs)))
        place = np.where(log_visibility > rungs[-1], len(rungs) - 1 + log_visibility - rungs[-1], place)
        place = np.where(log_visibility < rungs[0], log_visibility - rungs[0], place) - steps
        moved = np.interp(place, np.arange(len(rungs)), rungs)
        moved = np.where(place > len(rungs) - 1, rungs[-1] + place - (len(rungs) - 1), moved)
        moved = np.where(place < 0, rungs[0] + place, moved)
        return np.asarray(np.where(steps > 0, np.exp2(moved), visibility_in), dtype=np.float64)


HOUSE_LADDER: Final = Ladder()
