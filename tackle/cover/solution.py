"""The best set for an instance."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from tackle.cover.curve import best_of_size, most_of_size
from tackle.cover.instance import Instance, bits, reduced
from tackle.cover.right_search import best_right, fewest_right
from tackle.cover.search import smallest_cover

__all__ = ["Solution", "Step", "solve", "stand_ins", "right_target"]


@dataclass(frozen=True, slots=True)
class Solution:
    """The best set as a bit set, the size that none can go below, and whether all of that was proved."""

    chosen: int
    at_least: int
    proved: bool


def right_target(instance: Instance, share: Fraction) -> int:
    """The fewest right days that are at least a share of the most there can be, in the unit of the weights."""
    return -(-sum(instance.weights) * share.numerator // share.denominator)


def solve(instance: Instance, at_most: int | None = None, share: Fraction = Fraction(0)) -> Solution:
    """The best set: most days, fewest colours, fewest not owned, greatest days x suitability, smallest places.

    With a `share` above 0: most days, fewest colours that are right on that share of the most right days there can be,
    fewest not owned, most right days, then as before. Without a binding `at_most` the set answers every situation;
    where it binds: most days, with a share most right days, then fewest colours. The locked colours are in every set.
    """
    if not len(instance.days) and not (share and instance.firsts):
        return Solution(instance.locked, instance.locked.bit_count(), True)
    small, kept = reduced(instance)
    if share:
        chosen, at_least, proved = fewest_right(small, right_target(small, share))
    else:
        found = smallest_cover(small)
        chosen, at_least, proved = found.chosen, found.at_least, found.proved
    if at_most is not None and at_most < chosen.bit_count():
        chosen, proved = _within(small, at_most, bool(share))
        at_least = chosen.bit_count()
    return Solution(sum(1 << kept[place] for place in bits(chosen)), at_least, proved)


def _within(small: Instance, at_most: int, asks_right: bool) -> tuple[int, bool]:
    """The best set of at most so many colours, and whether that was proved."""
    if asks_right:
        cover = smallest_cover(small)
        most = best_right(small, at_most) if cover.chosen.bit_count() <= at_most else None
        if most and most.right is not None:
            chosen, _, proved = fewest_right(small, most.right)
            return chosen, proved and most.proved
    most_there = most_of_size(small, at_most)
    proved = most_there.proved
    for size in range(small.locked.bit_count(), at_most + 1):
        here = most_of_size(small, size)
        proved &= here.proved
        if (here.days, here.right) == (most_there.days, most_there.right):
            chosen, sure = best_of_size(small, size)
            return chosen, proved and sure
    raise AssertionError("unreachable: so many colours are as good as themselves")


@dataclass(frozen=True, slots=True)
class Step:
    """One piece of the buying order, with the days (millionths), the right days (in weights) and the first-choice days
    (millionths) that it adds."""

    place: int
    adds: int
    adds_right: int
    adds_first: int


def stand_ins(instance: Instance, chosen: int, place: int, target: int = 0) -> int:
    """The colours outside a set that could take one's place: no day goes unanswered, and it is right on as many days
    as `target` asks."""
    rest = chosen & ~(1 << place)
    able = ((1 << instance.colours) - 1) & ~chosen
    for needs, done in zip(instance.needs, instance.answered(chosen), strict=True):
        for need in needs:
            if done and not need & rest:
                able &= need
    if not target:
        return able
    short = target - instance.right(rest)
    gains = [0] * instance.colours
    for first, weight in zip(instance.firsts, instance.weights, strict=True):
        if not first & rest:
            for colour in bits(first & able):
                gains[colour] += weight
    return sum(1 << colour for colour in bits(able) if gains[colour] >= short)
