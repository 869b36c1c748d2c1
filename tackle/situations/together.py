"""Clarity, sky and surface of the same days: counted together where both are known, else taken as independent."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np
from numpy.typing import NDArray

__all__ = ["INDEPENDENT_COUNTS_AS", "shares_together"]

INDEPENDENT_COUNTS_AS: Final = 20.0  # days seen together that independence is worth
_ROUNDS: Final = 40


def shares_together(
    bands: NDArray[np.float64], sky: NDArray[np.float64], wind: NDArray[np.float64], seen: Sequence[int] = ()
) -> NDArray[np.float64]:
    """The share of days of each band under each sky and surface; shapes (b,), (s,) and (w,), each adding up to 1, make
    (b, s, w), adding up to 1.

    `seen`: days on which all three were known, b x s x w of them in that order; none: all are independent. The counts
    are drawn toward independence, then fitted to the three shares again, which are known from far more days (iterative
    proportional fitting; Deming and Stephan 1940).
    """
    alone = np.einsum("b,s,w->bsw", bands, sky, wind)
    if not any(seen):
        return np.asarray(alone)
    together = alone * INDEPENDENT_COUNTS_AS + np.reshape(seen, alone.shape) * (alone > 0)
    for _ in range(_ROUNDS):
        for axis, wanted in enumerate((bands, sky, wind)):
            others = tuple(one for one in range(3) if one != axis)
            have = together.sum(axis=others, keepdims=True)
            shape = tuple(-1 if one == axis else 1 for one in range(3))
            together = together * np.divide(np.reshape(wanted, shape), have, out=np.zeros_like(have), where=have > 0)
    return np.asarray(together / together.sum())
