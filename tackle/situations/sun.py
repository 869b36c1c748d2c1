"""The sun over a place: which share of the hours fished has it low, up, or gone."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from typing import Final

from astral import Observer
from astral.sun import elevation

from tackle.base.store import kept
from tackle.base.vocabulary import Light

__all__ = ["HOURS", "SunShares", "dim_light", "height_deg", "sun_shares", "to_utc"]

HOURS: Final = ("dawn", "day", "dusk", "night")
_LOW_SUN_DEG: Final = 10.0  # below this the light comes in flat and little of it gets under the surface
_TWILIGHT_DEG: Final = -6.0  # civil twilight: from here down it is night
_HIGH_MORNING_DEG: Final = 12.0  # dawn and dusk, as hours to fish, run from twilight to this height
_STEP: Final = timedelta(minutes=10)


def dim_light(height: float) -> Light | None:
    """The light by a low sun or none, its height in degrees; None where it is up and the sky decides."""
    if height < _TWILIGHT_DEG:
        return Light.NIGHT
    return Light.LOW if height < _LOW_SUN_DEG else None


@dataclass(frozen=True, slots=True)
class SunShares:
    """Of the hours fished: the sun up, low, and gone. They add up to 1."""

    up: float
    low: float
    night: float


def to_utc(solar: datetime, longitude: float) -> datetime:
    """The moment (UTC) at which the sun's clock of a place, its longitude in degrees, shows this; one that names its
    zone is that moment."""
    return solar.astimezone(UTC) if solar.tzinfo else solar.replace(tzinfo=UTC) - timedelta(hours=longitude / 15)


def height_deg(latitude: float, longitude: float, at: datetime) -> float:
    """The sun's height above the horizon, in degrees, at a moment with a time zone."""
    return float(elevation(Observer(latitude, longitude), at))


@kept("sun of a month")
def _day(latitude: float, longitude: float, month: int) -> tuple[tuple[str, float], ...]:
    """The middle day of a month in steps: which of the hours each belongs to, and the sun's height.

    By heights alone, so that it holds where the sun does not rise or set: before the highest point dawn, after it
    dusk. Where the sun never climbs past the morning's height, its highest hours are the day.
    """
    middle = datetime.combine(date(2025, month, 15), datetime.min.time(), UTC)
    noon = middle + timedelta(hours=12 - longitude / 15)
    steps = [noon + _STEP * step for step in range(-72, 72)]
    heights = [height_deg(latitude, longitude, at) for at in steps]
    morning = min(_HIGH_MORNING_DEG, max(heights) - 3)
    labelled = []
    for index, height in enumerate(heights):
        if height < _TWILIGHT_DEG:
            part = "night"
        elif height >= morning:
            part = "day"
        else:
            part = "dawn" if index < 72 else "dusk"
        labelled.append((part, height))
    return tuple(labelled)


def sun_shares(latitude: float, longitude: float, month: int, hours: Iterable[str]) -> SunShares:
    """The sun over the hours fished (of HOURS) in a month; where these do not occur there, over the whole day."""
    day = _day(round(latitude, 1), round(longitude), month)
    wanted = frozenset(hours)
    fished = [height for part, height in day if part in wanted] or [height for part, height in day if part != "night"]
    fished = fished or [height for _, height in day]
    night = sum(height < _TWILIGHT_DEG for height in fished) / len(fished)
    low = sum(_TWILIGHT_DEG <= height < _LOW_SUN_DEG for height in fished) / len(fished)
    return SunShares(up=1 - night - low, low=low, night=night)
