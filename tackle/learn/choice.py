"""Which colour next, by book and log together: drawn by how likely each is the best.

Top-two Thompson sampling (Russo 2016): effects are drawn from what is believed, the best of the draw is thrown, or in
half of all turns the best of another draw, so that the runner-up is thrown often enough to be known.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from itertools import combinations

import numpy as np

from tackle.learn.model import Belief

__all__ = ["book_here", "order_drawn", "told_apart"]

_TRIES = 50


def order_drawn(belief: Belief, rng: np.random.Generator, moved: Mapping[str, float] | None = None) -> tuple[str, ...]:
    """All colours of a belief in the order to throw them; the same for the same generator.

    `moved`: by colour how far its effect here is from the one believed, as `book_here` tells.
    """
    if not belief.colours:
        return ()
    shift = np.array([(moved or {}).get(colour, 0.0) for colour in belief.colours])
    first = belief.drawn(rng) + shift
    leader, order = int(first.argmax()), first
    if rng.random() < 0.5:
        for _ in range(_TRIES):
            other = belief.drawn(rng) + shift
            if int(other.argmax()) != leader:
                order = other
                break
    return tuple(belief.colours[place] for place in np.argsort(-order, kind="stable"))


def book_here(belief: Belief, said: Mapping[str, float], here: Mapping[str, float], spread: float) -> dict[str, float]:
    """By colour how far an effect moves where the book says other than it `said` for the belief: by as much as the book
    still counts, which is what is left of the `spread` that was assumed before the log."""
    left = (belief.shares[:, None] * np.array([np.diag(one) for one in belief.spreads])).sum(axis=0)
    return {
        colour: float(min(variance / spread**2, 1.0)) * (here[colour] - said[colour])
        for colour, variance in zip(belief.colours, left, strict=True)
    }


def told_apart(belief: Belief) -> list[tuple[str, str, float, float]]:
    """All pairs, the likelier better first, with how likely that is, and how many times the other's bites it has."""
    pairs = []
    for one, other in combinations(range(len(belief.colours)), 2):
        better = belief.better(one, other)
        first, second = (one, other) if better >= 0.5 else (other, one)
        times = math.exp(abs(belief.middle(one) - belief.middle(other)))
        pairs.append((belief.colours[first], belief.colours[second], max(better, 1 - better), times))
    return pairs
