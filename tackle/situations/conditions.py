"""The conditions: what a situation may tell, a row each, for whoever reads, asks, tells or holds them.

To add one: its words in `vocabulary`, a row here, a field of `Situation`, and the calls that use it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from types import MappingProxyType
from typing import Any, Final

from tackle.base.typed import Id, ListOf, Number, ValueKind, Whole
from tackle.base.vocabulary import (
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
    Tide,
    Tone,
    Wind,
    ids,
)  # fmt: skip
from tackle.situations.clarity import MAX_VISIBILITY_IN

__all__ = ["CHOICES", "CONDITIONS", "DERIVED", "NUMBERS", "Condition"]


@dataclass(frozen=True)
class Condition(ValueKind[Any]):
    """One condition, by the id that requests, rules and addresses have for it.

    `words`: those it may be, where it is a word; else it is a number from `low` to `high`, in `unit` (in, ft, F), from
    above `low` where `above`, whole where `whole`. `several`: any number of its words. `attribute`: its field of a
    Situation; `column`: what of a Situation a rule is held against. `unsaid`: what it is where nobody says.
    `asked`: its name in the address of Ask, empty where it is not asked there. `said`: the words before it in speech.
    `edges`: where the field's calls turn, so that a rule made from one situation holds from one to the next.
    """

    id: str
    words: type[StrEnum] | None = None
    low: float = 0.0
    high: float = 0.0
    unit: str = ""
    above: bool = False
    whole: bool = False
    several: bool = False
    needed: bool = False
    attribute: str = ""
    column: str = ""
    unsaid: Any = None
    asked: str = ""
    said: str = ""
    edges: tuple[float, ...] = ()

    @property
    def field(self) -> str:
        return self.attribute or self.id

    @cached_property
    def kind(self) -> ValueKind[Any]:
        """The kind of value that tells it."""
        if self.several and self.words:
            return ListOf(Id(self.words), 100)
        if self.words:
            return Id(self.words)
        return Whole(int(self.low), int(self.high)) if self.whole else Number(self.low, self.high, self.above)

    @property
    def allowed(self) -> str:
        return self.kind.allowed + (" inches" if self.unit == "in" else "")

    def read(self, value: object, field: str) -> Any:
        """The value from outside data, `unsaid` where there is none. Raises InvalidInput."""
        if value is None and not self.needed:
            return self.unsaid
        if value is None:
            raise self.refused(value, field)
        found = self.kind.read(value, field)
        return (tuple(dict.fromkeys(found)) or self.unsaid) if self.several else found


_ROWS: Final = (
    Condition("visibility_in", high=MAX_VISIBILITY_IN, unit="in", above=True, needed=True, asked="see"),
    # The craw follows 42, 48 and 56 F, loud begins at 60, sunfish spawn from 70.
    Condition(
        "water_temp_f", low=28, high=110, unit="F", column="likely_temp_f", asked="temp", edges=(42, 48, 56, 60, 70)
    ),
    # Under 15 ft depth counts for nothing; 30 ft and more may be dark.
    Condition("depth_ft", high=500, unit="ft", asked="depth", edges=(15, 30)),
    Condition("norm_in", high=MAX_VISIBILITY_IN, unit="in", above=True, asked="norm", edges=(20,)),  # always dirty
    Condition("month", low=1, high=12, whole=True, asked="month"),
    Condition("light", Light, needed=True, asked="light"),
    Condition("stain", Stain, unsaid=Stain.NONE, asked="stain", said="water"),
    Condition("wind", Wind, asked="wind"),
    Condition("season", Season, column="phase", asked="season"),
    Condition("cover", Cover, asked="cover"),
    Condition("pace", Pace, asked="pace"),
    Condition("density", Density, asked="density"),
    Condition("current", Current, asked="current", said="current"),
    Condition("tide", Tide, asked="tide", said="tide"),
    Condition("target", Target, asked="target"),
    Condition("mood", Mood, asked="mood"),
    Condition("forage", Forage, several=True, unsaid=(Forage.UNKNOWN,), asked="food", said="when they eat"),
    Condition("with", Tone, attribute="with_tone", asked="on", said="on a jig of"),
)
CONDITIONS: Final[Mapping[str, Condition]] = MappingProxyType({row.id: row for row in _ROWS})

# What follows from the others, and a rule may hold as well: sight at the lure, and depth and usual against sight.
DERIVED: Final[Mapping[str, tuple[float, ...]]] = MappingProxyType({
    "sight_in": (), "depth_ratio": (),
    "norm_ratio": (2 / 3,),  # see-through goes on down to two thirds of a water's usual; below it is murkier than usual
})  # fmt: skip

# What a rule may name: numbers (unknown: nan) and words (unknown: -1).
NUMBERS: Final = (*(row.id for row in _ROWS if not row.words), *DERIVED)
CHOICES: Final[Mapping[str, tuple[str, ...]]] = MappingProxyType({row.id: ids(row.words) for row in _ROWS if row.words})
