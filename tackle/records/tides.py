"""A tide as waves: its level at a moment, how it runs hour by hour, and under which light."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta, tzinfo
from math import cos, radians, tau
from typing import Final

from tackle.base.vocabulary import Tide
from tackle.situations.sun import dim_light, height_deg, to_utc

__all__ = ["Wave", "flow_by_hour", "level_ft", "light_of_flow"]

_SLACK: Final = 0.25  # of the fastest that its large waves run together: slower is slack
_LARGE: Final = 0.3  # of the largest wave
_SAMPLE: Final = range(1, 29)


@dataclass(frozen=True, slots=True)
class Wave:
    """One constituent in one year: cycles an hour, amplitude (ft), and its phase (degrees) on 1 July, 0 h UTC."""

    per_hour: float
    ft: float
    phase_deg: float


def level_ft(waves: Sequence[Wave], at: datetime) -> float:
    """The level at a moment (UTC), in feet above its mean."""
    hours = (at - datetime(at.year, 7, 1, tzinfo=UTC)).total_seconds() / 3600
    return sum(wave.ft * cos(tau * wave.per_hour * hours + radians(wave.phase_deg)) for wave in waves)


def flow_by_hour(
    years: Mapping[int, Sequence[Wave]], longitude: float, day: date, hours: Iterable[int], zone: tzinfo | None = None
) -> dict[int, Tide]:
    """How it runs in some hours of a day by the clock of a zone, or without one by the sun's of a place, those from 24
    on in the next day; none without waves of it."""
    found = {}
    slowest = {year: _SLACK * _fastest(waves) for year, waves in years.items() if waves}
    for hour in hours:
        middle = _utc(day, hour + 0.5, longitude, zone)
        if middle.year in slowest:
            rate = _rate(years[middle.year], middle)
            found[hour] = Tide.SLACK if abs(rate) < slowest[middle.year] else Tide.RISING if rate > 0 else Tide.FALLING
    return found


def light_of_flow(
    years: Mapping[int, Sequence[Wave]], latitude: float, longitude: float, year: int, month: int
) -> dict[Tide, dict[str, float]]:
    """Of the hours of light and twilight of a month, the share in which it runs so under low sun and by day."""
    counts = {flow: {"low": 0, "day": 0} for flow in Tide}
    for number in _SAMPLE:
        day = date(year, month, number)
        for hour, flow in flow_by_hour(years, longitude, day, range(24)).items():
            dim = dim_light(height_deg(latitude, longitude, _utc(day, hour + 0.5, longitude)))
            if dim != "night":
                counts[flow]["low" if dim == "low" else "day"] += 1
    every = sum(sum(data.values()) for data in counts.values())
    return {flow: {light: count / (every or 1) for light, count in data.items()} for flow, data in counts.items()}


def _fastest(waves: Sequence[Wave]) -> float:
    """Feet an hour, where all of its large waves run together."""
    large = _LARGE * max(wave.ft for wave in waves)
    return sum(tau * wave.per_hour * wave.ft for wave in waves if wave.ft >= large)


def _utc(day: date, hour: float, longitude: float, zone: tzinfo | None = None) -> datetime:
    return to_utc(datetime(day.year, day.month, day.day, tzinfo=zone) + timedelta(hours=hour), longitude)


def _rate(waves: Sequence[Wave], at: datetime) -> float:
    """Feet an hour, in above 0."""
    half = timedelta(minutes=30)
    return level_ft(waves, at + half) - level_ft(waves, at - half)
