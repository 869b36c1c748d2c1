"""What was told of water and sky, and how long it holds.

What was told of sky and tide holds for three hours, or until the forecast changes it; clarity and what belongs to a
spot to the end of the day, or until another spot; food and mood to the end of the day. Night follows the sun.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, fields
from typing import Any, Final

from tackle.base.vocabulary import Light

__all__ = ["DAY_MINUTES", "SKY_HOLDS_MIN", "Forecast", "Told", "WaterSeen", "facts_at", "turning_points"]

DAY_MINUTES: Final = 1_440
SKY_HOLDS_MIN: Final = 180
_SKY: Final = ("light", "wind")
_SHORT: Final = (*_SKY, "tide")
_OF_SPOT: Final = ("visibility_in", "stain", "cover", "density", "depth_ft", "current")


@dataclass(frozen=True, slots=True)
class WaterSeen:
    """What was told of water and sky; None: nothing."""

    visibility_in: float | None = None
    light: str | None = None
    wind: str | None = None
    stain: str | None = None
    food: str | None = None
    spot: str | None = None
    depth_ft: float | None = None
    cover: str | None = None
    density: str | None = None
    pace: str | None = None
    mood: str | None = None
    current: str | None = None
    tide: str | None = None


@dataclass(frozen=True, slots=True)
class Told:
    """What was told at a minute since the midnight before the trip's first day, by the names of `WaterSeen`."""

    at: float
    data: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Forecast:
    """The sky by the hour, counted on from the midnight before the trip's first day: light, and surface, where they are
    known; how the tide runs, where it is."""

    sky: Mapping[int, Mapping[str, str | None]] = field(default_factory=dict)
    tide: Mapping[int, str] = field(default_factory=dict)

    def at(self, minute: float) -> Mapping[str, str | None]:
        """What is forecast of a minute: that of the last hour that has begun, else of the first."""
        begun = [hour for hour in self.sky if hour * 60 <= minute]
        return self.sky[max(begun, default=min(self.sky))] if self.sky else {}

    def changed(self, name: str, since: float, minute: float) -> bool:
        """Whether what is forecast has become another between two minutes."""
        before = self.at(since).get(name)
        return any(since < hour * 60 <= minute and sky.get(name) != before for hour, sky in self.sky.items())


def facts_at(told: Sequence[Told], minute: float, forecast: Forecast) -> WaterSeen:
    """What is known of a minute: what was told and still holds, else the forecast's sky, and the tide."""
    known: dict[str, Any] = {name: forecast.at(minute).get(name) for name in _SKY}
    known["tide"] = forecast.tide.get(int(minute // 60))
    day, spot, moved = minute // DAY_MINUTES, None, float("-inf")
    earlier = sorted((one for one in told if one.at <= minute and one.at // DAY_MINUTES == day), key=lambda one: one.at)
    for one in earlier:
        if one.data.get("spot") and one.data["spot"] != spot:
            spot, moved = one.data["spot"], one.at if spot is not None else moved
    for one in earlier:
        for name, value in one.data.items():
            if name in _SHORT and (minute - one.at >= SKY_HOLDS_MIN or forecast.changed(name, one.at, minute)):
                continue
            if name not in _OF_SPOT or one.at >= moved:
                known[name] = value
    by_sun = forecast.at(minute).get("light")
    if by_sun is not None and Light.NIGHT in (by_sun, known["light"]):
        known["light"] = by_sun
    return WaterSeen(**{one.name: known.get(one.name) for one in fields(WaterSeen)})


def turning_points(told: Iterable[Told], forecast: Forecast, begins: float, ends: float) -> list[float]:
    """The minutes between two at which what is known may become another, in order."""
    hours = {hour * 60.0 for hour in (*forecast.sky, *forecast.tide, *(hour + 1 for hour in forecast.tide))}
    days = {float(day * DAY_MINUTES) for day in range(int(begins // DAY_MINUTES), int(ends // DAY_MINUTES) + 1)}
    words = {at for one in told for at in (one.at, one.at + SKY_HOLDS_MIN)}
    return sorted(at for at in hours | days | words if begins < at < ends)
