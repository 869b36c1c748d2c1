"""What a record tells of the weather of its days: sky and surface by daylight, and the rain of the two days before."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from math import exp, radians, sin
from statistics import mean

from tackle.records.measured import Measured, values_by_day
from tackle.records.posterior import WET_IN
from tackle.situations.sky import sky_under, surface_under
from tackle.situations.sun import height_deg, to_utc

__all__ = ["DayWeather", "SolarTime", "cloud_from_radiation", "in_daylight", "daily_weather", "wet_days"]

_HIGH_DEG = 10.0  # below it radiation says little of clouds


@dataclass(frozen=True, slots=True)
class DayWeather:
    """A day's sky and surface, words of the vocabulary or empty, and inches of rain in the two days before it."""

    sky: str = ""
    wind: str = ""
    rain_in: float | None = None


class SolarTime:
    """How high the sun stands at moments of the solar time of a place, latitude and longitude in degrees; each moment
    of the year is worked out once, for years are alike to a quarter of a degree."""

    def __init__(self, latitude: float, longitude: float) -> None:
        self.latitude, self.longitude = latitude, longitude
        self._known: dict[tuple[int, int, int, int], float] = {}

    def sun_deg(self, moment: datetime) -> float:
        at = to_utc(moment, self.longitude)
        key = at.month, at.day, at.hour, at.minute
        if key not in self._known:
            self._known[key] = height_deg(self.latitude, self.longitude, at)
        return self._known[key]


def in_daylight(measured: Iterable[Measured], there: SolarTime) -> list[Measured]:
    """Those of days, and of moments at which the sun is up."""
    return [one for one in measured if not isinstance(one.moment, datetime) or there.sun_deg(one.moment) > 0]


def cloud_from_radiation(radiation: Sequence[Measured], there: SolarTime) -> list[Measured]:
    """The share of sky that clouds cover, from what the sun sends (W/m2) at moments at which it stands high enough.

    What a clear sky would send: 1098 cos z exp(-0.057 / cos z) (Haurwitz 1945); what clouds leave of it:
    1 - 0.75 n^3.4 (Kasten and Czeplak 1980).
    """
    found = []
    for one in radiation:
        if isinstance(one.moment, datetime) and (height := there.sun_deg(one.moment)) > _HIGH_DEG:
            steep = sin(radians(height))
            left = one.value / (1098 * steep * exp(-0.057 / steep))
            cloud = (min(max(1 - left, 0.0), 0.75) / 0.75) ** (1 / 3.4)
            found.append(Measured(one.moment, one.station, cloud))
    return found


def daily_weather(
    days: Iterable[date], cloud: Sequence[Measured], wind: Sequence[Measured], rain: Sequence[Measured]
) -> dict[date, DayWeather]:
    """The weather of some days; clouds and wind those of daylight. Of rain both days before have to be told."""
    clouds, winds, rains = (values_by_day(measured) for measured in (cloud, wind, rain))
    found = {}
    for day in days:
        before = [rains.get(day - timedelta(days=back)) for back in (1, 2)]
        found[day] = DayWeather(
            sky=sky_under(mean(clouds[day])).value if day in clouds else "",
            wind=surface_under(mean(winds[day])).value if day in winds else "",
            rain_in=None if None in before else round(sum(sum(one) for one in before if one), 3),
        )
    return found


def wet_days(rain: Sequence[Measured]) -> dict[int, tuple[int, int]]:
    """By month, how many days came after rain, and how many did not."""
    rains = values_by_day(rain)
    found: dict[int, tuple[int, int]] = {}
    for day, weather in daily_weather([day + timedelta(days=1) for day in rains], (), (), rain).items():
        if weather.rain_in is not None:
            wet, dry = found.get(day.month, (0, 0))
            found[day.month] = (wet + (weather.rain_in >= WET_IN), dry + (weather.rain_in < WET_IN))
    return dict(sorted(found.items()))
