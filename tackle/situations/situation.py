"""One situation on the water, read strictly from outside data."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, ClassVar, Final, TypeVar

from tackle.errors import Refused
from tackle.situations.clarity import MAX_VISIBILITY_IN
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
    ids,
)  # fmt: skip

__all__ = ["Situation", "read_days", "read_situation"]

E = TypeVar("E", bound=StrEnum)


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


_CHOICES: Final[Mapping[str, type[StrEnum]]] = {
    "light": Light, "stain": Stain, "wind": Wind, "season": Season, "cover": Cover, "pace": Pace, "density": Density,
    "current": Current, "target": Target, "mood": Mood,
}  # fmt: skip
_NUMBERS: Final[Mapping[str, tuple[float, float]]] = {
    "visibility_in": (0.0, MAX_VISIBILITY_IN), "water_temp_f": (28.0, 110.0), "depth_ft": (0.0, 500.0),
    "norm_in": (0.0, MAX_VISIBILITY_IN),
}  # fmt: skip
_FIELDS: Final = ("category", *_NUMBERS, *_CHOICES, "month", "forage", "with")


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
        raise Refused(f"{field}.category", _said(named), CATEGORIES)
    for required in ("visibility_in", "light"):
        if raw.get(required) is None:
            allowed = "a number of inches above 0" if required == "visibility_in" else ids(Light)
            raise Refused(f"{field}.{required}", "is missing", allowed)
    number = {name: _number(raw, name, field) for name in _NUMBERS}
    choice = {name: _choice(kind, raw.get(name), f"{field}.{name}") for name, kind in _CHOICES.items()}
    month = raw.get("month")
    if month is not None and (isinstance(month, bool) or month not in range(1, 13)):
        raise Refused(f"{field}.month", _said(month), "a whole number from 1 to 12")
    return Situation(
        category=named,
        visibility_in=number["visibility_in"] or 0.0,
        light=Light(str(choice["light"])),
        stain=Stain(choice["stain"] or Stain.NONE),
        wind=None if choice["wind"] is None else Wind(choice["wind"]),
        season=None if choice["season"] is None else Season(choice["season"]),
        month=None if month is None else int(month),
        water_temp_f=number["water_temp_f"],
        depth_ft=number["depth_ft"],
        norm_in=number["norm_in"],
        cover=None if choice["cover"] is None else Cover(choice["cover"]),
        pace=None if choice["pace"] is None else Pace(choice["pace"]),
        forage=_forage(raw.get("forage"), f"{field}.forage"),
        with_tone=_choice(Tone, raw.get("with"), f"{field}.with"),
        density=None if choice["density"] is None else Density(choice["density"]),
        current=None if choice["current"] is None else Current(choice["current"]),
        target=None if choice["target"] is None else Target(choice["target"]),
        mood=None if choice["mood"] is None else Mood(choice["mood"]),
    )


def _said(value: object) -> str:
    return "is missing" if value is None else f"{value!r} is not allowed"


def _number(raw: Mapping[str, Any], name: str, field: str) -> float | None:
    value = raw.get(name)
    if value is None:
        return None
    low, high = _NUMBERS[name]
    allowed = f"a number above {low:g}, to {high:g}" if low == 0 else f"a number from {low:g} to {high:g}"
    if name == "depth_ft":
        allowed = f"a number from 0 to {high:g}"
    if isinstance(value, bool) or not isinstance(value, int | float) or not low <= value <= high:
        raise Refused(f"{field}.{name}", _said(value), allowed)
    if value == 0 and name != "depth_ft":
        raise Refused(f"{field}.{name}", _said(value), allowed)
    return float(value)


def _choice(kind: type[E], value: object, field: str) -> E | None:
    if value is None:
        return None
    if not isinstance(value, str) or value not in ids(kind):
        raise Refused(field, _said(value), ids(kind))
    return kind(value)


def _forage(value: object, field: str) -> tuple[Forage, ...]:
    if value is None or value == []:
        return (Forage.UNKNOWN,)
    if not isinstance(value, list):
        raise Refused(field, "is not a list", "a list of " + ", ".join(ids(Forage)))
    eaten = []
    for item in value:
        known = _choice(Forage, item, field)
        if known is None:
            raise Refused(field, _said(item), ids(Forage))
        eaten.append(known)
    return tuple(dict.fromkeys(eaten))


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
