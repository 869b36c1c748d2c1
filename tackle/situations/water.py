"""What is known of a water: where it lies, what it looks like month by month, and what is forbidden there."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Final

from tackle.base.hashing import content_hash, to_plain
from tackle.base.vocabulary import CATEGORIES, Cover, Current, Forage, Group, Salinity, Season, Stain, Target
from tackle.situations.months import northern_month
from tackle.situations.season import find_season
from tackle.situations.sky import SkySource
from tackle.situations.visibility import Spread

__all__ = ["FOOD_WEIGHT", "SALINITIES", "Forbidden", "Month", "Water", "target_said"]

SALINITIES: Final = ("fresh", "salt", "brackish")
FOOD_WEIGHT: Final[Mapping[str, float]] = {"main": 3.0, "some": 1.0}  # a main food is met three times as often

# Lures that come with treble hooks: planned nowhere where these are forbidden.
_TREBLES: Final = frozenset(
    category.id
    for category in CATEGORIES.values()
    if category.group is Group.HARD or category.id in ("inline-spinner", "spoon")
)


@dataclass(frozen=True, slots=True)
class Month:
    """One month of a water. `food` weighs what is eaten; `hours` are those fished, of dawn, day, dusk, night.

    `together`: on how many days each band, sky and surface were seen at once (6 x 3 x 3, in that order); or none.
    """

    spread: Spread
    stain: Stain
    temp_f: float
    food: Mapping[Forage, float]
    days: float
    hours: frozenset[str]
    together: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class Forbidden:
    """What local rules forbid, as the angler entered it. `months` are closed, 1 to 12."""

    categories: frozenset[str] = frozenset()
    trebles: bool = False
    barbs: bool = False
    lead: bool = False
    night: bool = False
    months: frozenset[int] = frozenset()

    def forbids(self, category: str) -> str:
        """Why a category may not be thrown here, in a few words; empty where it may."""
        if category in self.categories:
            return "it is forbidden there"
        return "treble hooks are forbidden there" if self.trebles and category in _TREBLES else ""


@dataclass(frozen=True)
class Water:
    """A water and its year. `cover` weighs the kinds of cover; `norm_in` counts only where fish are `relative`."""

    name: str
    salinity: str  # one of SALINITIES
    latitude: float
    longitude: float
    months: Mapping[int, Month]
    sky: SkySource
    cover: Mapping[Cover, float] = field(default_factory=dict)
    depth_ft: float | None = None
    norm_in: float | None = None
    relative: bool = False
    target: Target | None = None
    current: Current | None = None
    forbidden: Forbidden = field(default_factory=Forbidden)

    @cached_property
    def mark(self) -> str:
        """See tackle.base.hashing."""
        return content_hash(to_plain(self))

    @property
    def bearing(self) -> tuple[object, ...]:
        """What of the water itself, beside its days, bears on what is planned; told the same in every process."""
        rules = self.forbidden
        closed = rules.trebles, rules.barbs, rules.lead, rules.night, sorted(rules.months), sorted(rules.categories)
        return self.name, self.salinity, self.depth_ft, self.norm_in, self.relative, self.target, self.current, closed

    @property
    def mostly(self) -> Cover | None:
        """The cover that is more than half of it, where one is."""
        most = max(self.cover, key=lambda one: self.cover[one], default=None)
        return most if most and self.cover[most] * 2 > sum(self.cover.values()) else None

    def season(self, month: int) -> Season | None:
        """The season phase of a month, from its temperature; south of the equator the year is half a year off."""
        northern = northern_month(month, self.latitude)
        return find_season(self.months[month].temp_f, northern)

    def throws(self, category: str) -> bool:
        """Whether a category is one for this water."""
        waters = CATEGORIES[category].waters
        return waters is Salinity.BOTH or self.salinity == "brackish" or self.salinity == waters

    def foods(self, month: int, data: Sequence[Forage]) -> tuple[list[Forage], list[Forage]]:
        """The foods to ask about in a month: those told, those of the month, those of the year, and that nobody knows;
        and all others that live there."""
        near = sorted(self.months, key=lambda one: (one != month, one))
        eaten = [food for one in near for food in sorted(self.months[one].food)]
        first = list(dict.fromkeys([*data, *eaten, Forage.UNKNOWN]))
        other = {"fresh": True, "salt": False}.get(self.salinity)
        return first, [food for food in Forage if food not in first and food.in_salt is not other]


def target_said(text: str) -> Target | None:
    """The fish that a text in an angler's own words names first; None where it names none that we know."""
    words = text.lower().replace("-", " ")
    named = [(words.find(target.replace("-", " ")), target) for target in Target]
    return min(((place, target) for place, target in named if place >= 0), default=(0, None))[1]
