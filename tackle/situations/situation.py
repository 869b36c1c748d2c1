"""One situation on the water, read strictly from outside data."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, ClassVar, Final

from tackle.errors import Refused
from tackle.situations.conditions import CONDITIONS
from tackle.situations.season import season_of, usual_temp_f
from tackle.vocabulary import (
    CATEGORIES,
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
)  # fmt: skip

__all__ = ["Situation", "read_days", "read_situation"]


@dataclass(frozen=True, slots=True)
class Situation:
    """What a school may ask about. None is: not known; no forage is: nobody knows."""

    weighs: ClassVar[int] = 75  # see tackle.kept: a share of it, for several answers hold the same

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

    def __hash__(self) -> int:
        # Not of every field: situations are hashed by the thousand, and a word of a vocabulary takes long.
        return hash((self.visibility_in, self.month, self.depth_ft, self.norm_in, str.__hash__(self.light)))

    @property
    def phase(self) -> Season | None:
        """The season given, or the one that temperature and month tell."""
        return self.season or season_of(self.water_temp_f, self.month)

    @property
    def likely_temp_f(self) -> float | None:
        """The surface temperature given, or the usual one of the phase, in degrees Fahrenheit."""
        if self.water_temp_f is not None or self.phase is None:
            return self.water_temp_f
        return usual_temp_f(self.phase, self.month)


_FIELDS: Final = ("category", *CONDITIONS)


def read_situation(raw: Any, category: str | None = None, field: str = "situation") -> Situation:
    """A situation from outside data; `category` stands in where it names none.

    Raises Refused with the field, what was wrong, and what is allowed.
    """
    if not isinstance(raw, Mapping):
        raise Refused(field, "is not an object", "an object with category, visibility_in and light")
    for name in raw:
        if name not in _FIELDS:
            raise Refused(f"{field}.{name}", "is not a known field", _FIELDS)
    named = raw.get("category", category)
    if not isinstance(named, str) or named not in CATEGORIES:
        raise Refused(f"{field}.category", "is missing" if named is None else f"{named!r} is not allowed", CATEGORIES)
    return Situation(
        named, **{row.field: row.read(raw.get(name), f"{field}.{name}") for name, row in CONDITIONS.items()}
    )


def read_days(entries: Sequence[Any], category: str, field: str) -> tuple[tuple[Situation, ...], tuple[float, ...]]:
    """The situations of one category and their days, from {"situation": ..., "days": ...} each. Raises Refused."""
    situations, days = [], []
    for place, entry in enumerate(entries):
        name = f"{field}[{place}]"
        if not isinstance(entry, Mapping):
            raise Refused(name, "is not an object", "an object with situation and days")
        situations.append(read_situation(entry.get("situation"), category, f"{name}.situation"))
        if situations[-1].category != category:
            raise Refused(f"{name}.situation.category", "is not the request's", category)
        number = entry.get("days")
        if isinstance(number, bool) or not isinstance(number, int | float) or not 0 <= number <= 1e6:
            raise Refused(f"{name}.days", f"{number!r} is not allowed", "a number from 0 to 1000000")
        days.append(float(number))
    return tuple(situations), tuple(days)
