"""The whole answer to an instance: the set, the curve of days against colours, and the order to buy in."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tackle.cover.curve import best_of_size, most_days
from tackle.cover.instance import Instance, bits, by_needs, reduced
from tackle.cover.search import smallest_cover

__all__ = ["Solution", "buying_order", "solve", "stand_ins"]


@dataclass(frozen=True, slots=True)
class Solution:
    """The best set as a bit set, the size none can go below, whether that was proved, and (size, days) points.

    The curve's days are in millionths and run up to the size that answers everything.
    """

    chosen: int
    at_least: int
    proved: bool
    curve: tuple[tuple[int, int], ...]


def solve(instance: Instance, at_most: int | None = None) -> Solution:
    """The best set: most days, fewest colours, fewest not owned, greatest days x suitability, smallest places.

    Without a binding `at_most` the set answers every situation. The locked colours are in every set.
    """
    if not len(instance.days):
        return Solution(instance.locked, instance.locked.bit_count(), True, ())
    small, kept = reduced(instance)
    full = smallest_cover(small)
    needed = by_needs(small)
    most = {size: most_days(needed, size) for size in range(small.locked.bit_count(), full.chosen.bit_count())}
    most[full.chosen.bit_count()] = int(small.days.sum())
    curve = tuple((size, days) for size, days in most.items() if size)
    chosen, at_least, proved = full.chosen, full.at_least, full.proved
    if at_most is not None and at_most < full.chosen.bit_count():
        at_least = min(size for size, days in most.items() if days == most[at_most])
        chosen, proved = best_of_size(small, at_least)
    return Solution(sum(1 << kept[place] for place in bits(chosen)), at_least, proved, curve)


def buying_order(instance: Instance, chosen: int) -> list[tuple[int, int]]:
    """The set in the order to buy it, with the days (millionths) each adds: always the one that adds most."""

    def reach(colours: int) -> int:
        return int(instance.days[np.array(instance.answered(colours), dtype=np.bool_)].sum())

    bought, left, order = 0, list(bits(chosen)), []
    while left:
        best = max(left, key=lambda place: (reach(bought | 1 << place), -place))
        order.append((best, reach(bought | 1 << best) - reach(bought)))
        bought |= 1 << best
        left.remove(best)
    return order


def stand_ins(instance: Instance, chosen: int, place: int) -> int:
    """The colours outside a set that meet every need which only one of it meets."""
    rest = chosen & ~(1 << place)
    able = ((1 << instance.colours) - 1) & ~chosen
    for needs, done in zip(instance.needs, instance.answered(chosen), strict=True):
        for need in needs:
            if done and not need & rest:
                able &= need
    return able
