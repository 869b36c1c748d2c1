"""Many situations as columns of numbers, so that a call is tried on all of them at once."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from tackle.situations.clarity import HOUSE_LADDER, Ladder
from tackle.situations.light import sight_in
from tackle.situations.situation import Situation
from tackle.vocabulary import (
    Cover,
    Current,
    Density,
    Forage,
    Light,
    Mood,
    Pace,
    Season,
    Stain,
    Target,
    Tone,
    Wind,
    ids,
)  # fmt: skip

__all__ = ["CHOICES", "NUMBERS", "Columns", "Tabulated", "tabulate"]

# Conditions that a call may name. Numbers: an unknown one is nan. Choices: an unknown one is -1.
NUMBERS: Final = (
    "visibility_in", "sight_in", "water_temp_f", "month", "depth_ft", "depth_ratio", "norm_ratio",
)  # fmt: skip
CHOICES: Final = MappingProxyType({
    "stain": ids(Stain), "light": ids(Light), "wind": ids(Wind), "season": ids(Season), "cover": ids(Cover),
    "pace": ids(Pace), "density": ids(Density), "current": ids(Current), "target": ids(Target), "mood": ids(Mood),
    "forage": ids(Forage), "with": ids(Tone),
})  # fmt: skip


@dataclass(frozen=True, slots=True)
class Columns:
    """n situations: `numbers[name]` float64 (n,), `choices[name]` int8 (n,), `forage` int64 bit sets (n,)."""

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

    def number(values: list[Any]) -> NDArray[np.float64]:
        return np.array([np.nan if value is None else value for value in values], dtype=np.float64)

    def place(known: tuple[str, ...], values: list[StrEnum | None]) -> NDArray[np.int8]:
        places = {value: index for index, value in enumerate(known)}
        return np.array([-1 if value is None else places[value] for value in values], dtype=np.int8)

    visibility = number([s.visibility_in for s in situations])
    depth = number([s.depth_ft for s in situations])
    choices = {
        "stain": place(CHOICES["stain"], [s.stain for s in situations]),
        "light": place(CHOICES["light"], [s.light for s in situations]),
        "wind": place(CHOICES["wind"], [s.wind for s in situations]),
        "season": place(CHOICES["season"], [s.phase for s in situations]),
        "cover": place(CHOICES["cover"], [s.cover for s in situations]),
        "pace": place(CHOICES["pace"], [s.pace for s in situations]),
        "density": place(CHOICES["density"], [s.density for s in situations]),
        "current": place(CHOICES["current"], [s.current for s in situations]),
        "target": place(CHOICES["target"], [s.target for s in situations]),
        "mood": place(CHOICES["mood"], [s.mood for s in situations]),
        "with": place(CHOICES["with"], [s.with_tone for s in situations]),
    }
    bit = {value: 1 << index for index, value in enumerate(CHOICES["forage"])}
    return Columns(
        count=len(situations),
        numbers={
            "visibility_in": visibility,
            "sight_in": sight_in(ladder, visibility, choices["light"], choices["wind"], depth),
            "water_temp_f": number([s.likely_temp_f for s in situations]),
            "month": number([s.month for s in situations]),
            "depth_ft": depth,
            "depth_ratio": depth * 12 / visibility,
            "norm_ratio": visibility / number([s.norm_in for s in situations]),
        },
        choices=choices,
        forage=np.array([sum(bit[food] for food in s.forage) for s in situations], dtype=np.int64),
    )
