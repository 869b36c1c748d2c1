"""How the days of a plan are answered: thousands of situations, in few ways."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from tackle.colours.card import Card
from tackle.cover.instance import DAY
from tackle.schools.call import Call
from tackle.schools.rulebook import Rulebook
from tackle.vocabulary import Grade

__all__ = ["Served", "ServedDays", "Way"]


@dataclass(frozen=True, slots=True)
class Way:
    """How a situation is answered: by one card, or a jig and its trailer; of the `asked` schools that have a first
    choice then, `hit` have one of theirs in the set.

    `grade`, `book` and `call`: what is said of the one card, and by whom; None for a pair.
    """

    weighs: ClassVar[int] = 150  # see tackle.kept

    cards: tuple[Card, ...]
    hit: int
    asked: int
    grade: Grade | None = None
    book: Rulebook | None = None
    call: Call | None = None

    @property
    def is_right(self) -> bool:
        """Whether every school that has a first choice then has one of its own."""
        return self.hit == self.asked

    @property
    def share(self) -> float:
        """The share of right in it; where no school has a first choice, whatever answers is right."""
        return self.hit / self.asked if self.asked else 1.0


@dataclass(frozen=True, slots=True)
class Served:
    """A situation that is answered, by its place, with its days."""

    index: int
    days: float
    way: Way


class ServedDays(Iterable[Served]):
    """The situations that are answered, in their order; held as columns, and each made as it is asked for.

    `index` (n,), ascending: their places; `millionths` (n,): their days; `way` (n,): the place of each in `ways`, which
    stand in the order in which they come first.
    """

    __slots__ = ("_index", "_millionths", "_way", "_ways")

    def __init__(
        self, index: NDArray[np.integer], millionths: NDArray[np.integer], way: NDArray[np.integer], ways: Iterable[Way]
    ) -> None:
        self._index, self._millionths = index.astype(np.int32), millionths.astype(np.int64)
        self._way, self._ways = way.astype(np.int32), tuple(ways)

    @classmethod
    def of(cls, rows: Iterable[tuple[int, int, Way]]) -> ServedDays:
        """Those of rows of place, millionths of days, and way."""
        ways: dict[Way, int] = {}
        told = [(index, millionths, ways.setdefault(way, len(ways))) for index, millionths, way in rows]
        index, millionths, way = np.array(told, dtype=np.int64).reshape(-1, 3).T
        return cls(index, millionths, way, ways)

    @property
    def weighs(self) -> int:
        """See tackle.kept."""
        return 400 + 16 * len(self._index) + sum(way.weighs for way in self._ways)

    def __len__(self) -> int:
        return len(self._index)

    def __iter__(self) -> Iterator[Served]:
        for index, millionths, way in self._rows():
            yield Served(index, millionths / DAY, self._ways[way])

    def __eq__(self, other: object) -> bool:
        return isinstance(other, ServedDays) and list(self) == list(other)

    def __hash__(self) -> int:
        return hash((self._index.tobytes(), self._millionths.tobytes()))

    def ways(self, count: int) -> list[Way | None]:
        """How each of so many situations is answered, by its place; None: it is not."""
        found: list[Way | None] = [None] * count
        for index, _, way in self._rows():
            found[index] = self._ways[way]
        return found

    def by_way(self) -> list[tuple[Way, int]]:
        """The millionths of days that each way answers."""
        total = np.zeros(len(self._ways), dtype=np.int64)
        np.add.at(total, self._way, self._millionths)
        return list(zip(self._ways, total.tolist(), strict=True))

    def _rows(self) -> list[tuple[int, int, int]]:
        return list(zip(self._index.tolist(), self._millionths.tolist(), self._way.tolist(), strict=True))
