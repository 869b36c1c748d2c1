"""A forecast for a coming day, hour by hour, as JSON over HTTP, and what each hour means for light and surface.

GET {url}?latitude=38.2&longitude=-84.1&date=2026-05-04 answers {"hours": [{"hour": 0, "cloud": 0.4, "wind_mph": 6,
"rain_in": 0, "air_f": 61, "water_f": 64}, ...]} with hours of the place's solar day. It may tell
"gust_mph" and "thunder", the chance of it from 0 to 1, of an hour as well.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any, Final
from urllib.parse import urlencode

from tackle.base.strict import read_json
from tackle.base.typed import ListOf, Number, OptionalKind, Record, Whole
from tackle.base.vocabulary import Light, Wind
from tackle.devices.http import fetched
from tackle.situations.sky import sky_under, surface_under
from tackle.situations.sun import dim_light, height_deg, to_utc

__all__ = ["ForecastHour", "fetch_forecast", "light_under", "parse_forecast"]

_MOST_BYTES: Final = 100_000
# What an answer has of each hour; a service may tell more.
_HOUR: Final = Record({
    "hour": Whole(0, 47), "cloud": Number(0, 1), "wind_mph": Number(0, 150), "rain_in": Number(0, 20),
    "air_f": Number(-60, 140), "water_f": Number(28, 110),
    "gust_mph": OptionalKind(Number(0, 200)), "thunder": OptionalKind(Number(0, 1)),
}, others=True)  # fmt: skip
_ANSWER: Final = Record({"hours": ListOf(_HOUR, 48, 1)}, others=True)


@dataclass(frozen=True, slots=True)
class ForecastHour:
    """One hour: `cloud` is the share of sky covered; `light` and `wind` are what it means on the water."""

    hour: int
    cloud: float
    wind_mph: float
    rain_in: float
    air_f: float
    water_f: float
    light: Light
    wind: Wind
    gust_mph: float | None
    thunder: float | None


def fetch_forecast(
    url: str,
    latitude: float,
    longitude: float,
    day: date,
    timeout_s: float = 2.0,
    read: Callable[[bytes, str], Any] = read_json,
) -> list[ForecastHour]:
    """The forecast for a day at a place; `read` reads the JSON of an answer.

    Raises Unreachable, or InvalidInput where the answer makes no sense.
    """
    query = urlencode({"latitude": f"{latitude:.3f}", "longitude": f"{longitude:.3f}", "date": day.isoformat()})
    body = fetched(f"{url}?{query}", "forecast", timeout_s, _MOST_BYTES)
    return parse_forecast(read(body, "forecast"), latitude, longitude, day)


def parse_forecast(raw: Any, latitude: float, longitude: float, day: date) -> list[ForecastHour]:
    """The hours of an answer, in order. Raises InvalidInput with the hour and the field that make no sense."""
    listed = _ANSWER.read(raw, "forecast")["hours"]
    return [
        ForecastHour(
            **data,
            light=light_under(data["cloud"], latitude, longitude, day, data["hour"]),
            wind=surface_under(data["wind_mph"]),
        )
        for data in listed
    ]


def light_under(cloud: float, latitude: float, longitude: float, day: date, hour: int) -> Light:
    """The light in the middle of an hour of a solar day under so much cloud, a share of the sky."""
    midnight = to_utc(datetime.combine(day, datetime.min.time()), longitude)
    if dim := dim_light(height_deg(latitude, longitude, midnight + timedelta(hours=hour, minutes=30))):
        return dim
    return sky_under(cloud)
