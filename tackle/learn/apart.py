"""Which of two colours is the better, as far as is believed."""

from __future__ import annotations

import math
from itertools import combinations

from tackle.learn.model import Belief

__all__ = ["told_apart"]


def told_apart(belief: Belief) -> list[tuple[str, str, float, float]]:
    """All pairs, the likelier better first, with how likely that is, and how many times the other's bites it has."""
    pairs = []
    for one, other in combinations(range(len(belief.colours)), 2):
        better = belief.better(one, other)
        first, second = (one, other) if better >= 0.5 else (other, one)
        times = math.exp(abs(belief.mean(one) - belief.mean(other)))
        pairs.append((belief.colours[first], belief.colours[second], max(better, 1 - better), times))
    return pairs
