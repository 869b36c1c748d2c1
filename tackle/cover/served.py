"""How the days of a plan are answered: thousands of situations, in few ways."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tackle.base.vocabulary import Grade
from tackle.colours.colour import Colour
from tackle.schools.rule import Rule
from tackle.schools.rulebook import Rulebook
from tackle.situations.rows import MILLION

__all__ = ["Served", "ServedDays", "Way"]


@dataclass(frozen=True, slots=True)
class Way:
    """How a situation is answered: by one card, or a jig and its trailer; of the `asked` schools that have a first
    choice then, `hit` have one of theirs in the set; `is_first`: the set holds something as good as the first
    word.

    `grade`, `book` and `calls`: what is said of it, by whom, and the call on each of its cards; of a pair the lesser
    grade.
    """

    cards: tuple[Colour, ...]
    hit: int
    asked: int
    is_first: bool = False
    grade: Grade | None = None
    book: Rulebook | None = None
    calls: tuple[Rule, ...] = ()

    @property
    def call(self) -> Rule | None:
        """What is said of the card, or of the jig."""
        return self.calls[0] if self.calls else None


@dataclass(frozen=True, slots=True)
class Served:
    """A situation that is answered, by its place, with its days."""

    index: int
    days: float
    way: Way


class ServedDays(Iterable[Served]):
    """The situations that are answered, in their order; each is made as it is asked for.

    `way` (n,): for each situation the place in `ways` of how it is answered, -1 where it is not; `millionths` (n,):
    their days. Two are equal where they hold the same, in whatever order their ways stand.
    """

    __slots__ = ("_millionths", "_way", "_ways")

    def __init__(self, way: NDArray[np.integer], millionths: NDArray[np.int64], ways: Iterable[Way]) -> None:
        self._way, self._millionths, self._ways = way.astype(np.int16), millionths, tuple(ways)

    @classmethod
    def none(cls) -> ServedDays:
        """Nothing is known to be answered."""
        return cls(np.zeros(0, dtype=np.int16), np.zeros(0, dtype=np.int64), ())

    def __len__(self) -> int:
        return int((self._way >= 0).sum())

    def __iter__(self) -> Iterator[Served]:
        for index, (way, millionths) in enumerate(zip(self._way.tolist(), self._millionths.tolist(), strict=True)):
            if way >= 0:
                yield Served(index, millionths / MILLION, self._ways[way])

    def __eq__(self, other: object) -> bool:
        return isinstance(other, ServedDays) and list(self) == list(other)

    def __hash__(self) -> int:
        return hash((self._way >= 0).tobytes())

    def group_ways(self) -> tuple[NDArray[np.int16], tuple[Way, ...]]:
        """How each situation is answered: its place, (n,), among some ways; -1: it is not."""
        return self._way, self._ways

    def ways(self) -> list[Way | None]:
        """How each situation is answered; None: it is not."""
        return [None if way < 0 else self._ways[way] for way in self._way.tolist()]

    def by_way(self) -> list[tuple[Way, int]]:
        """The millionths of days that each way answers."""
        done = self._way >= 0
        total = np.zeros(len(self._ways), dtype=np.int64)
        np.add.at(total, self._way[done], self._millionths[done])
        return list(zip(self._ways, total.tolist(), strict=True))
