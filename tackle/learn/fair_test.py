"""A fair test between two colours that may be looked at after every bite.

Thrown in turns, each bite goes to the first with some share. The evidence against an even share is the likelihood of
what came, mixed over a Beta distribution of shares, over that of an even one (a mixture sequential test; Robbins 1970).
Under no difference it passes 1 in `odds` at any time whatever with at most that chance (Ville 1939).
"""

from __future__ import annotations

import math

import numpy as np

from tackle.base.store import kept
from tackle.learn.assumed import Assumed, assumed

__all__ = ["bites_needed", "ends_at", "evidence"]


def evidence(first: float, second: float, data: Assumed | None = None) -> float:
    """The evidence that one of two gets more than an even share, after so many bites on each; 1 before any."""
    shape = (data or assumed()).shape
    mixed = _log_beta(shape + first, shape + second) - _log_beta(shape, shape)
    return math.exp(min(mixed + (first + second) * math.log(2), 700))


def ends_at(most: int) -> list[int | None]:
    """For each number of bites up to so many, how many of them on one of the two end the test; None: none do yet."""
    limit = assumed().odds
    return [
        next((first for first in range((bites + 1) // 2, bites + 1) if evidence(first, bites - first) >= limit), None)
        for bites in range(most + 1)
    ]


@kept("bites needed")
def bites_needed(factor: float, share: float = 0.5) -> int | None:
    """After how many bites the test has ended in so many of all cases, where one gets `factor` times the other's.

    None where it takes more than one would wait for.
    """
    data = assumed()
    most = data.most_bites
    chance = factor / (1 + factor)
    counts = np.arange(most + 2)
    logs = np.array([math.lgamma(data.shape + count) for count in counts])
    going = np.zeros(most + 2)
    going[0], ended, limit = 1.0, 0.0, math.log(data.odds)
    base = -2 * math.lgamma(data.shape) + math.lgamma(2 * data.shape)
    for bites in range(1, most + 1):
        going[1 : bites + 1] = going[1 : bites + 1] * (1 - chance) + going[:bites] * chance
        going[0] *= 1 - chance
        total = math.lgamma(2 * data.shape + bites)
        log_evidence = logs[: bites + 1] + logs[bites::-1] - total + base + bites * math.log(2)
        over = log_evidence >= limit
        ended += float(going[: bites + 1][over].sum())
        going[: bites + 1][over] = 0.0
        if ended >= share:
            return bites
    return None


def _log_beta(one: float, other: float) -> float:
    return math.lgamma(one) + math.lgamma(other) - math.lgamma(one + other)
