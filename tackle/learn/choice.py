"""Which colour next, by book and log together: drawn by how likely each is the best.

Top-two Thompson sampling (Russo 2016): effects are drawn from what is believed, the best of the draw is thrown, or in
half of all turns the best of another draw, so that the runner-up is thrown often enough to be known.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from tackle.learn.model import Belief

__all__ = ["order_drawn", "still_book", "told_apart"]

_TRIES = 50


def order_drawn(belief: Belief, rng: np.random.Generator, moved: Mapping[str, float] | None = None) -> tuple[str, ...]:
    """All colours of a belief in the order to throw them; the same for the same generator.

    `moved`: how far the book's word here is from the one that the belief was made with, by colour; it counts by as much
    as the book still counts beside the log.
    """
    if not belief.colours:
        return ()
    shift = np.array([(moved or {}).get(colour, 0.0) for colour in belief.colours])
    first = _drawn(belief, rng) + shift
    leader, order = int(first.argmax()), first
    if rng.random() < 0.5:
        for _ in range(_TRIES):
            other = _drawn(belief, rng) + shift
            if int(other.argmax()) != leader:
                order = other
                break
    return tuple(belief.colours[place] for place in np.argsort(-order, kind="stable"))


def _drawn(belief: Belief, rng: np.random.Generator) -> NDArray[np.float64]:
    """Effects drawn once from the belief."""
    part = int(rng.choice(len(belief.shares), p=belief.shares))
    values, vectors = np.linalg.eigh(belief.spreads[part])
    root = vectors * np.sqrt(np.maximum(values, 0))
    return np.asarray(belief.means[part] + root @ rng.standard_normal(len(values)), dtype=np.float64)


def still_book(belief: Belief, spread: float) -> dict[str, float]:
    """By colour how much the book still counts: what is left of the spread that was assumed before the log."""
    left = (belief.shares[:, None] * np.array([np.diag(one) for one in belief.spreads])).sum(axis=0)
    return {colour: float(min(var / spread**2, 1.0)) for colour, var in zip(belief.colours, left, strict=True)}


def told_apart(belief: Belief) -> Sequence[tuple[str, str, float]]:
    """All pairs, the likelier better first, with how likely; the surest first."""
    pairs = []
    for one in range(len(belief.colours)):
        for other in range(one + 1, len(belief.colours)):
            better = belief.better(one, other)
            first, second = (one, other) if better >= 0.5 else (other, one)
            pairs.append((belief.colours[first], belief.colours[second], max(better, 1 - better)))
    return sorted(pairs, key=lambda pair: -pair[2])
