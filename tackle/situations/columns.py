"""Many situations as columns of numbers, so that a call is tried on all of them at once."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tackle.situations.clarity import HOUSE_LADDER, Ladder
from tackle.situations.conditions import CHOICES, CONDITIONS, NUMBERS
from tackle.situations.light import sight_in
from tackle.situations.situation import Situation

__all__ = ["Columns", "Tabulated", "tabulate"]


@dataclass(frozen=True, slots=True)
class Columns:
    """n situations: `numbers[name]` float64 (n,), nan where it is not known; `choices[name]` int8 (n,), -1 where it is
    not; `forage` int64 bit sets (n,)."""

    count: int
    numbers: dict[str, NDArray[np.float64]]
    choices: dict[str, NDArray[np.int8]]
    forage: NDArray[np.int64]

    def at(self, places: NDArray[np.intp]) -> Columns:
        """Some of the situations."""
        return Columns(
            count=len(places),
            numbers={name: values[places] for name, values in self.numbers.items()},
            choices={name: values[places] for name, values in self.choices.items()},
            forage=self.forage[places],
        )


class Tabulated(ABC):
    """Situations that are held as columns."""

    __slots__ = ()

    @abstractmethod
    def columns(self, ladder: Ladder) -> Columns:
        """As `tabulate` gives them."""


def tabulate(situations: Sequence[Situation], ladder: Ladder = HOUSE_LADDER) -> Columns:
    """The columns of some situations, with what follows from them: sight at the lure and the ratios."""
    if isinstance(situations, Tabulated):
        return situations.columns(ladder)

    def told(name: str) -> list[Any]:
        row = CONDITIONS[name]
        return [getattr(situation, row.column or row.field) for situation in situations]

    def number(name: str) -> NDArray[np.float64]:
        return np.array([np.nan if value is None else value for value in told(name)], dtype=np.float64)

    def place(known: tuple[str, ...], values: list[StrEnum | None]) -> NDArray[np.int8]:
        places = {value: index for index, value in enumerate(known)}
        return np.array([-1 if value is None else places[value] for value in values], dtype=np.int8)

    choices = {name: place(known, told(name)) for name, known in CHOICES.items() if not CONDITIONS[name].several}
    numbers = {name: number(name) for name in NUMBERS if name in CONDITIONS}
    visibility, depth = numbers["visibility_in"], numbers["depth_ft"]
    numbers |= {
        "sight_in": sight_in(ladder, visibility, choices["light"], choices["wind"], depth),
        "depth_ratio": depth * 12 / visibility,
        "norm_ratio": visibility / number("norm_in"),
    }
    bit = {value: 1 << index for index, value in enumerate(CHOICES["forage"])}
    forage = np.array([sum(bit[food] for food in situation.forage) for situation in situations], dtype=np.int64)
    return Columns(len(situations), numbers, choices, forage)
