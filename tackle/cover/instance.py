"""The problem to solve: situations with their days, and the colours that would answer each."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cache, reduce
from operator import or_

import numpy as np
from numpy.typing import NDArray

__all__ = ["Instance", "bits", "by_needs", "to_matrix", "reduced", "row_masks"]


@dataclass(frozen=True, slots=True)
class Instance:
    """m situations and n colours, these in the order that breaks ties.

    `days`: (m,) whole millionths, all above 0. `needs[i]`: bit sets of colours, of each of which one must be
    in the set for situation i to be answered; none of them empty. `suits`: (m, n) suitability in hundredths,
    0 where the colour does not cover. `owned`, `locked`: bit sets of colours. `prized`: colours to prefer among
    sets that are equal in number and in what is not owned. `costs[c]`: whole cents, empty where none is told; they
    decide only between sets that are equal in all else. `firsts`: bit sets of colours, each the first choices of a
    school on some days, and `weights` (len(firsts),) what meeting it adds to a set's right days, in whole shares of a
    millionth: both empty where it does not matter what is right.
    """

    days: NDArray[np.int64]
    needs: tuple[tuple[int, ...], ...]
    suits: NDArray[np.int64]
    owned: int = 0
    locked: int = 0
    prized: int = 0
    costs: tuple[int, ...] = ()
    firsts: tuple[int, ...] = ()
    weights: tuple[int, ...] = ()

    @property
    def colours(self) -> int:
        """How many colours there are to choose from."""
        return int(self.suits.shape[1])

    def answered(self, chosen: int) -> list[bool]:
        """For each situation, whether a set of colours answers it."""
        return [all(need & chosen for need in needs) for needs in self.needs]

    def value(self, chosen: int) -> int:
        """The days x suitability of a set, each answered situation served by its best colour."""
        picked = list(bits(chosen))
        if not picked:
            return 0
        worth = self.suits[:, picked].max(axis=1) * self.days  # with one need, 0 where it is not met
        if any(len(needs) > 1 for needs in self.needs):
            worth = worth[np.array(self.answered(chosen), dtype=np.bool_)]
        return int(worth.sum())

    def standing(self, chosen: int) -> tuple[int, int, int, tuple[int, ...]]:
        """How good a set is among those of its days, size and new colours; greater is better.

        More prized colours first, then days x suitability, then less money, then the smaller tuple of places.
        """
        picked = tuple(bits(chosen))
        money = sum(self.costs[place] for place in picked) if self.costs else 0
        return (chosen & self.prized).bit_count(), self.value(chosen), -money, tuple(-place for place in picked)

    def right(self, chosen: int) -> int:
        """The right days of a set, in the unit of `weights`."""
        return sum(weight for first, weight in zip(self.firsts, self.weights, strict=True) if first & chosen)

    def new(self, chosen: int) -> int:
        """How many colours of a set are not owned."""
        return (chosen & ~self.owned).bit_count()


def bits(mask: int) -> Iterator[int]:
    """The places of the set bits, lowest first."""
    while mask:
        low = mask & -mask
        yield low.bit_length() - 1
        mask ^= low


def by_needs(instance: Instance) -> Instance:
    """The same needs with their days added up, for what asks only whether a day is answered: it has no suitability."""
    days: dict[tuple[int, ...], int] = {}
    for needs, one in zip(instance.needs, instance.days.tolist(), strict=True):
        days[needs] = days.get(needs, 0) + one
    return Instance(
        days=np.array(list(days.values()), dtype=np.int64),
        needs=tuple(days),
        suits=np.zeros((len(days), instance.colours), dtype=np.int64),
        owned=instance.owned,
        locked=instance.locked,
        firsts=instance.firsts,
        weights=instance.weights,
    )


def reduced(instance: Instance) -> tuple[Instance, list[int]]:
    """The same problem with its repetitions merged, and for each colour left its place in the original.

    Situations with the same needs and suitabilities are merged, adding their days. A colour is dropped
    where an earlier one covers all it covers, is a first choice wherever it is, suits at least as well everywhere, is
    owned and prized if it is, and costs no more: a set with the earlier one in its place is never worse, and comes
    first. Locked colours stay.
    """
    every = [need for needs in instance.needs for need in needs] + list(instance.firsts)
    covers = row_masks(to_matrix(every, instance.colours).T) if every else [0] * instance.colours
    kept: list[int] = []
    for colour in range(instance.colours):
        if instance.locked >> colour & 1 or not any(_stands_in(instance, covers, other, colour) for other in kept):
            kept.append(colour)
    kept = [colour for colour in kept if covers[colour] or instance.locked >> colour & 1]
    left = set(kept)
    dropped = [colour for colour in reversed(range(instance.colours)) if colour not in left]
    squeeze = cache(lambda mask: _squeeze(mask, dropped))
    merged: dict[tuple[object, ...], int] = {}
    needs_of: list[tuple[int, ...]] = []
    suits_of: list[NDArray[np.int64]] = []
    kept_suits = np.ascontiguousarray(instance.suits[:, kept])
    for index, needs in enumerate(instance.needs):
        squeezed = tuple(squeeze(need) for need in needs)
        if len(squeezed) > 1:
            either, squeezed = reduce(or_, squeezed), _least(set(squeezed))
            if len(squeezed) == 1 and either != squeezed[0]:  # some colours suit it that do not answer it: see `value`
                squeezed = (*squeezed, either)
        key = (squeezed, kept_suits[index].tobytes())
        if key not in merged:
            needs_of.append(squeezed)
            suits_of.append(kept_suits[index])
        merged[key] = merged.get(key, 0) + int(instance.days[index])
    firsts: dict[int, int] = {}
    for first, weight in zip(instance.firsts, instance.weights, strict=True):
        if squeezed_first := _squeeze(first, dropped):
            firsts[squeezed_first] = firsts.get(squeezed_first, 0) + weight
    small = Instance(
        days=np.array(list(merged.values()), dtype=np.int64),
        needs=tuple(needs_of),
        suits=np.array(suits_of, dtype=np.int64).reshape(len(needs_of), len(kept)),
        owned=_squeeze(instance.owned, dropped),
        locked=_squeeze(instance.locked, dropped),
        prized=_squeeze(instance.prized, dropped),
        costs=tuple(instance.costs[colour] for colour in kept) if instance.costs else (),
        firsts=tuple(firsts),
        weights=tuple(firsts.values()),
    )
    return small, kept


def _stands_in(instance: Instance, covers: Sequence[int], other: int, colour: int) -> bool:
    return (
        covers[colour] & ~covers[other] == 0
        and (instance.owned >> other & 1) >= (instance.owned >> colour & 1)
        and (instance.prized >> other & 1) >= (instance.prized >> colour & 1)
        and (not instance.costs or instance.costs[other] <= instance.costs[colour])
        and bool((instance.suits[:, other] >= instance.suits[:, colour]).all())
    )


def to_matrix(masks: Sequence[int], width: int) -> NDArray[np.bool_]:
    """Bit sets as the rows of a matrix, shape (len(masks), width)."""
    size = (width + 7) // 8
    packed = np.frombuffer(b"".join(mask.to_bytes(size, "little") for mask in masks), dtype=np.uint8)
    return np.unpackbits(packed.reshape(len(masks), size), axis=1, bitorder="little")[:, :width].astype(np.bool_)


def row_masks(met: NDArray[np.bool_]) -> list[int]:
    """The rows of a matrix as bit sets."""
    packed = np.packbits(met, axis=1, bitorder="little")
    return [int.from_bytes(row.tobytes(), "little") for row in packed]


def _least(needs: set[int]) -> tuple[int, ...]:
    """The needs without those that hold another whole, which are met whenever that is."""
    return tuple(sorted(need for need in needs if not any(other & need == other != need for other in needs)))


def _squeeze(mask: int, dropped: Sequence[int]) -> int:
    """A bit set without the places of some colours, given highest first."""
    for colour in dropped:
        below = (1 << colour) - 1
        mask = mask & below | mask >> colour + 1 << colour
    return mask
