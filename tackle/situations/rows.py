"""Long sequences whose entries are made as they are asked for, out of what is held much more closely."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from hashlib import blake2b
from typing import Final, TypeVar, overload

import numpy as np
from numpy.typing import NDArray

__all__ = ["MILLION", "DayCounts", "Rows", "to_millionths"]

T_co = TypeVar("T_co", covariant=True)

MILLION: Final = 1_000_000  # days are counted in whole millionths, so that they add up exactly


class Rows(Sequence[T_co], ABC):
    """A sequence that makes its entries. Two are equal where their marks are."""

    __slots__ = ()

    @property
    @abstractmethod
    def mark(self) -> str:
        """Short, and stands for the content: the same in every process."""

    @abstractmethod
    def _made(self, place: int) -> T_co:
        """The entry at a place that there is."""

    @overload
    def __getitem__(self, place: int) -> T_co: ...
    @overload
    def __getitem__(self, place: slice) -> Sequence[T_co]: ...
    def __getitem__(self, place: int | slice) -> T_co | Sequence[T_co]:
        places = range(len(self))[place]
        return self._made(places) if isinstance(places, int) else tuple(map(self._made, places))

    def __eq__(self, other: object) -> bool:
        return type(self) is type(other) and self.mark == other.mark

    def __hash__(self) -> int:
        return hash(self.mark)


class DayCounts(Rows[float]):
    """The days of many situations, held as whole `millionths` (n,)."""

    __slots__ = ("_mark", "millionths")

    def __init__(self, millionths: NDArray[np.int64]) -> None:
        self.millionths, self._mark = millionths, blake2b(millionths.tobytes(), digest_size=16).hexdigest()

    @property
    def mark(self) -> str:
        return self._mark

    def __len__(self) -> int:
        return len(self.millionths)

    def _made(self, place: int) -> float:
        return int(self.millionths[place]) / MILLION


def to_millionths(days: Sequence[float]) -> NDArray[np.int64]:
    """Days in whole millionths, the nearest; shape (len(days),)."""
    if isinstance(days, DayCounts):
        return days.millionths
    return np.array([round(day * MILLION) for day in days], dtype=np.int64)
