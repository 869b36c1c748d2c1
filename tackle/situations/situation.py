"""One situation on the water, read strictly from outside data."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, Final

from tackle.base.errors import InvalidInput
from tackle.base.typed import ANYTHING, Number, OptionalKind, Record, Word
from tackle.base.vocabulary import (
    CATEGORIES,
    TRAILER,
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
)  # fmt: skip
from tackle.situations.conditions import CONDITIONS
from tackle.situations.depth import working_depth_ft
from tackle.situations.season import find_season, usual_temp_f
from tackle.situations.water import Water

__all__ = ["Situation", "in_category", "make_situation", "read_days", "read_situation"]


@dataclass(frozen=True, slots=True)
class Situation:
    """What a school may ask about. None is: not known; no forage is: nobody knows."""

    category: str
    visibility_in: float
    light: Light
    stain: Stain = Stain.NONE
    wind: Wind | None = None
    season: Season | None = None
    month: int | None = None
    water_temp_f: float | None = None
    depth_ft: float | None = None
    norm_in: float | None = None
    cover: Cover | None = None
    pace: Pace | None = None
    forage: tuple[Forage, ...] = (Forage.UNKNOWN,)
    with_tone: Tone | None = None
    density: Density | None = None
    current: Current | None = None
    target: Target | None = None
    mood: Mood | None = None
    tide: Tide | None = None

    def __hash__(self) -> int:
        # Not of every field: situations are hashed by the thousand, and a word of a vocabulary takes long.
        return hash((self.visibility_in, self.month, self.depth_ft, self.norm_in, str.__hash__(self.light)))

    @property
    def phase(self) -> Season | None:
        """The season given, or the one that temperature and month tell."""
        return self.season or find_season(self.water_temp_f, self.month)

    @property
    def likely_temp_f(self) -> float | None:
        """The surface temperature given, or the usual one of the phase, in degrees Fahrenheit."""
        if self.water_temp_f is not None or self.phase is None:
            return self.water_temp_f
        return usual_temp_f(self.phase, self.month)


def make_situation(category: str, water: Water | None = None, **data: Any) -> Situation:
    """The one maker of situations, from whatever is known; `told` by the fields of a Situation.

    A water tells how deep the kind works there, what is usual where its fish go by that, what is fished for and how
    it runs; what is told stands over it. A trailer on a jig that is not known is answered as on green pumpkin.

    >>> make_situation("popper", visibility_in=48.0, light=Light.BRIGHT).stain
    <Stain.NONE: 'none'>
    """
    known: dict[str, Any] = {}
    if category == TRAILER and data.get("with_tone") is None:
        data["with_tone"] = Tone.GREEN_PUMPKIN
    if water is not None:
        known["depth_ft"] = working_depth_ft(category, water.depth_ft)
        known["norm_in"] = water.norm_in if water.relative else None
        known["target"], known["current"] = water.target, water.current
    return Situation(category, **{**known, **data})


def in_category(situation: Situation, category: str) -> Situation:
    """The same for another kind of lure, as the maker of situations has it.

    >>> there = make_situation("worm", visibility_in=30.0, light=Light.BRIGHT)
    >>> in_category(there, "jig-trailer").with_tone
    <Tone.GREEN_PUMPKIN: 'green-pumpkin'>
    """
    if category == TRAILER and situation.with_tone is None:
        return replace(situation, category=category, with_tone=Tone.GREEN_PUMPKIN)
    return replace(situation, category=category)


_TOLD: Final = Record({"category": OptionalKind(Word(CATEGORIES)), **CONDITIONS})
_EXPECTED: Final = Record({"situation": ANYTHING, "days": Number(0, 1e6)})


def read_situation(raw: Any, category: str | None = None, field: str = "situation") -> Situation:
    """A situation from outside data; `category` stands in where it names none.

    Raises InvalidInput with the field, what was wrong, and what is allowed.
    """
    data = _TOLD.read(raw, field)
    named = Word(CATEGORIES).read(category if data["category"] is None else data["category"], f"{field}.category")
    return make_situation(named, **{row.field: data[name] for name, row in CONDITIONS.items()})


def read_days(entries: Sequence[Any], category: str, field: str) -> tuple[tuple[Situation, ...], tuple[float, ...]]:
    """The situations of one category and their days, from {"situation": ..., "days": ...} each. Raises InvalidInput."""
    situations, days = [], []
    for index, entry in enumerate(entries):
        name = f"{field}[{index}]"
        data = _EXPECTED.read(entry, name)
        situations.append(read_situation(data["situation"], category, f"{name}.situation"))
        if situations[-1].category != category:
            raise InvalidInput(f"{name}.situation.category", "is not the request's", category)
        days.append(data["days"])
    return tuple(situations), tuple(days)
