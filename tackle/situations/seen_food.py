"""What is eaten in a month, as said and as seen together."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from tackle.base.vocabulary import Forage

__all__ = ["food_with_seen"]

SAID_COUNTS: Final = 4.0  # sightings that the word for a month is worth, all its foods together
NEAR_MONTH: Final = 0.5  # of a sighting, for the month before and after its own


def food_with_seen(
    said: Mapping[Forage, float], seen: Mapping[int, Mapping[Forage, int]], month: int
) -> Mapping[Forage, float]:
    """The weights of a month's foods: those said, and what was seen by month, 1 to 12, each sighting counting one and
    half as much in the months beside it. What is said is worth so many sightings (a Dirichlet prior); unchanged where
    nothing was seen.

    >>> food_with_seen({Forage.SHAD: 3.0, Forage.CRAWFISH: 1.0}, {5: {Forage.MINNOW: 2}}, 5)
    {<Forage.SHAD: 'shad'>: 3.0, <Forage.CRAWFISH: 'crawfish'>: 1.0, <Forage.MINNOW: 'minnow'>: 2.0}
    """
    near = {month: 1.0, month % 12 + 1: NEAR_MONTH, (month - 2) % 12 + 1: NEAR_MONTH}
    added: dict[Forage, float] = {}
    for one, share in near.items():
        for food, count in seen.get(one, {}).items():
            added[food] = added.get(food, 0.0) + share * count
    if not added:
        return said
    data = dict(said) or {Forage.UNKNOWN: 1.0}
    total = sum(data.values())
    weights = {food: SAID_COUNTS * weight / total for food, weight in data.items()}
    for food, more in added.items():
        weights[food] = weights.get(food, 0.0) + more
    return weights
