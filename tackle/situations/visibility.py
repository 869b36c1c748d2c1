"""A month's visibility as a spread: from three numbers, and pulled toward what was measured.

Low, usual and high are the 10, 50 and 90 per cent points of a spread that is piecewise even on a log scale; each tail
goes on at the slope of its side, so that it ends a quarter of that side's width further out.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.situations.clarity import HOUSE_LADDER, MAX_VISIBILITY_IN, Ladder

__all__ = ["GUESS_COUNTS_AS", "Spread", "pulled"]

GUESS_COUNTS_AS: Final = 8  # readings that a guess is worth against measured ones
_POINTS: Final = (0.1, 0.5, 0.9)
_LEAST_WIDTH: Final = 1e-3  # of a doubling: three equal numbers are still a spread


@dataclass(frozen=True, slots=True)
class Spread:
    """Low, usual and high visibility, in inches, rising."""

    low_in: float
    usual_in: float
    high_in: float

    def __post_init__(self) -> None:
        if not 0 < self.low_in <= self.usual_in <= self.high_in <= MAX_VISIBILITY_IN:
            raise ValueError(f"low, usual and high rise from above 0 to {MAX_VISIBILITY_IN:g} in: {self}")

    def _knots(self) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Log2 inches and the share below them, at the ends, low, usual and high."""
        low, usual, high = np.log2([self.low_in, self.usual_in, self.high_in])
        below, above = max(usual - low, _LEAST_WIDTH), max(high - usual, _LEAST_WIDTH)
        at = np.array([usual - 1.25 * below, usual - below, usual, usual + above, usual + 1.25 * above])
        return at, np.array([0.0, *_POINTS, 1.0])

    def band_shares(self, ladder: Ladder = HOUSE_LADDER) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """The share of days in each band, murkiest first, and the middle visibility (in) of those days.

        Shapes: both (6,). The shares add up to 1; where a share is 0 the middle is the band's own.
        """
        at, share = self._knots()
        edges = np.log2(np.array(ladder.edges_in))
        below = np.concatenate([[0.0], np.interp(edges, at, share, left=0.0, right=1.0), [1.0]])
        middle = np.exp2(np.interp((below[:-1] + below[1:]) / 2, share, at))
        return np.diff(below), middle

    def drawn(self, count: int) -> NDArray[np.float64]:
        """`count` visibilities, in inches, that stand for the spread: its evenly spaced quantiles."""
        at, share = self._knots()
        return np.asarray(np.exp2(np.interp((np.arange(count) + 0.5) / count, share, at)), dtype=np.float64)


def pulled(guess: Spread, readings_in: Sequence[float]) -> Spread:
    """The spread of a guess together with readings, in inches, the guess counting as GUESS_COUNTS_AS readings.

    The three numbers are the 10, 50 and 90 per cent quantiles of both together; without readings, the guess.
    """
    if not len(readings_in):
        return guess
    together = np.concatenate([guess.drawn(GUESS_COUNTS_AS), np.asarray(readings_in, dtype=np.float64)])
    together = np.log2(np.sort(together))
    last = len(together) - 1
    # Linear between the values, as np.quantile has it, which takes ten times as long for so few.
    low, usual, high = np.exp2(np.interp([point * last for point in _POINTS], np.arange(last + 1), together))
    return Spread(float(low), float(usual), float(min(high, MAX_VISIBILITY_IN)))
