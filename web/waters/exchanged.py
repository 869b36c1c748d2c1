"""What each field of a water's file may hold: one reader a field, with its bounds."""

import math
from collections.abc import Callable, Mapping
from typing import Any

from tackle.errors import Refused
from tackle.situations.clarity import MAX_VISIBILITY_IN
from tackle.situations.starting import kinds
from tackle.situations.sun import HOURS
from tackle.situations.water import FOOD_WEIGHT
from tackle.vocabulary import CATEGORIES, Cover, Forage, Stain, ids
from web.waters.models import BOTTOMS, Reading, Water

Read = Callable[[Any, str], Any]


def read_fields(raw: Any, fields: Mapping[str, Read], where: str) -> dict[str, Any]:
    """The fields of one object, each by its own reader. Raises Refused with the field and what is allowed."""
    if not isinstance(raw, dict):
        raise Refused(where, "is not an object", "an object with " + ", ".join(fields))
    for field in fields:
        if field not in raw:
            raise Refused(f"{where}.{field}", "is missing", "an object with " + ", ".join(fields))
    return {field: read(raw[field], f"{where}.{field}") for field, read in fields.items()}


def _text(most: int, least: int = 0) -> Read:
    def read(value: Any, field: str) -> str:
        if not isinstance(value, str) or not least <= len(value.strip()) or len(value) > most:
            raise Refused(field, "is no text of that length", f"a text of {least} to {most} characters")
        return value

    return read


def _number(low: float, high: float, none: bool = False) -> Read:
    def read(value: Any, field: str) -> float | None:
        if value is None and none:
            return None
        real = isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value)
        if not real or not low <= value <= high:
            raise Refused(field, f"{str(value)[:40]!r} is not allowed", f"a number from {low:g} to {high:g}")
        return float(value)

    return read


def _flag(value: Any, field: str) -> bool:
    if not isinstance(value, bool):
        raise Refused(field, "is neither true nor false", "true or false")
    return value


def _whole(value: Any, field: str) -> int:
    if isinstance(value, bool) or not isinstance(value, int) or not 1 <= value <= 12:
        raise Refused(field, f"{str(value)[:40]!r} is not a month", "a whole number from 1 to 12")
    return value


def _one_of(*allowed: str) -> Read:
    def read(value: Any, field: str) -> str:
        if not isinstance(value, str) or value not in allowed:
            raise Refused(field, f"{str(value)[:40]!r} is not allowed", allowed)
        return value

    return read


def _each(read_one: Read, most: int) -> Read:
    def read(value: Any, field: str) -> list[Any]:
        if not isinstance(value, list) or len(value) > most:
            raise Refused(field, "is not a list of that length", f"a list of at most {most}")
        found = [read_one(one, f"{field}[{place}]") for place, one in enumerate(value)]
        return list(dict.fromkeys(found))

    return read


def _table(read_key: Read, read_value: Read) -> Read:
    def read(value: Any, field: str) -> dict[str, Any]:
        if not isinstance(value, dict):
            raise Refused(field, "is not an object", "an object")
        return {read_key(key, field): read_value(one, f"{field}.{key[:40]}") for key, one in value.items()}

    return read


def _sky(value: Any, field: str) -> list[float] | None:
    if value is None:
        return None
    share = _number(0, 1000)
    numbers = [share(one, field) for one in value] if isinstance(value, list) else []
    if len(numbers) != 6 or not sum(numbers[:3]) or not sum(numbers[3:]):
        raise Refused(field, "is not six shares", "sun, broken, cloud; calm, ripple, chop")
    return numbers


def _count(value: Any, field: str) -> int:
    if isinstance(value, bool) or not isinstance(value, int) or not 0 <= value <= 100_000:
        raise Refused(field, f"{str(value)[:40]!r} is not a number of times", "a whole number from 0")
    return value


_MONTHS = _one_of(*map(str, range(1, 13)))
_INCHES = _number(1, MAX_VISIBILITY_IN)
WATER: Mapping[str, Read] = {
    "name": _text(80, 1),
    "kind": _one_of(*kinds()),
    "salinity": _one_of(*Water.Salinity.values),
    "latitude": _number(-66, 66),
    "longitude": _number(-180, 180),
    "dryness": _number(0, 1),
    "norm_in": _number(1, MAX_VISIBILITY_IN, none=True),
    "relative": _flag,
    "depth_ft": _number(0, 500, none=True),
    "cover": _table(_one_of(*ids(Cover)), _number(0, 100)),
    "bottom": _table(_one_of(*BOTTOMS), _number(0, 100)),
    "target": _text(80),
    "observations": _table(_MONTHS, _table(_one_of("bright", "broken", "overcast", "calm", "ripple", "chop"), _count)),
    "forbids_categories": _each(_one_of(*CATEGORIES), len(CATEGORIES)),
    "forbids_trebles": _flag,
    "forbids_barbs": _flag,
    "forbids_lead": _flag,
    "forbids_night": _flag,
    "closed_months": _each(_whole, 12),
    "rules_note": _text(300),
}
MONTH: Mapping[str, Read] = {
    "month": _whole,
    "low_in": _INCHES,
    "usual_in": _INCHES,
    "high_in": _INCHES,
    "stain": _one_of(*ids(Stain)),
    "temp_f": _number(28, 110),
    "food": _table(_one_of(*ids(Forage)), _one_of(*FOOD_WEIGHT)),
    "days": _number(0, 31),
    "hours": _each(_one_of(*HOURS), len(HOURS)),
    "sky": _sky,
    "guess": _flag,
}
READING: Mapping[str, Read] = {
    "date": _text(10, 10),
    "visibility_in": _number(0.1, MAX_VISIBILITY_IN),
    "stain": _one_of("", *ids(Stain)),
    "spot": _text(60),
    "note": _text(200),
    "source": _one_of(*Reading.Source.values),
}
