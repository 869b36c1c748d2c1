"""A forecast for a coming day, hour by hour, as JSON over HTTP, and what each hour means for light and surface.

GET {url}?latitude=38.2&longitude=-84.1&date=2026-05-04 answers {"hours": [{"hour": 0, "cloud": 0.4, "wind_mph": 6,
"rain_in": 0, "air_f": 61, "water_f": 64}, ...]} with hours of the place's solar day.
"""

from __future__ import annotations

import io
import math
import socket
import ssl
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from http.client import OK, HTTPException, HTTPResponse
from typing import Any, Final
from urllib.parse import SplitResult, urlencode, urlsplit

from tackle.devices.line import Deadline, heard
from tackle.errors import Refused
from tackle.situations.sun import dim_light, height_deg
from tackle.strict import read_json
from tackle.vocabulary import Light, Wind

__all__ = ["Hour", "Unreachable", "fetch_forecast", "parse_forecast"]

_MOST_BYTES: Final = 100_000
_FIELDS: Final[Mapping[str, tuple[float, float]]] = {
    "cloud": (0, 1), "wind_mph": (0, 150), "rain_in": (0, 20), "air_f": (-60, 140), "water_f": (28, 110),
}  # fmt: skip


class Unreachable(Exception):
    """The service did not answer, or not in time."""


@dataclass(frozen=True, slots=True)
class Hour:
    """One hour: `cloud` is the share of sky covered; `light` and `wind` are what it means on the water."""

    hour: int
    cloud: float
    wind_mph: float
    rain_in: float
    air_f: float
    water_f: float
    light: Light
    wind: Wind


def fetch_forecast(url: str, latitude: float, longitude: float, day: date, timeout_s: float = 2.0) -> list[Hour]:
    """The forecast for a day at a place. Raises Unreachable, or Refused where the answer makes no sense."""
    query = urlencode({"latitude": f"{latitude:.3f}", "longitude": f"{longitude:.3f}", "date": day.isoformat()})
    try:
        said = _asked(urlsplit(f"{url}?{query}"), Deadline(timeout_s))
    except (OSError, ValueError) as error:
        raise Unreachable(str(error)) from error
    try:
        answer = HTTPResponse(_Said(said))  # type: ignore[arg-type]
        answer.begin()
        body = answer.read()
    except (HTTPException, OSError, ValueError) as error:
        raise (
            Refused("forecast", "is not an answer in HTTP", "an answer in HTTP") if said else Unreachable()
        ) from error
    if answer.status != OK:
        raise Unreachable(f"status {answer.status}")
    return parse_forecast(read_json(body, "forecast"), latitude, longitude, day)


def _asked(address: SplitResult, deadline: Deadline) -> bytes:
    """All that a service answers to one GET, by a deadline for the whole. Raises OSError, ValueError."""
    secure = address.scheme == "https"
    host = address.hostname or ""
    with socket.create_connection((host, address.port or (443 if secure else 80)), deadline.left_s or 0.001) as bare:
        line = ssl.create_default_context().wrap_socket(bare, server_hostname=host) if secure else bare
        head = (
            f"GET {address.path or '/'}?{address.query} HTTP/1.0\r\nHost: {address.netloc}\r\nConnection: close\r\n\r\n"
        )
        line.sendall(head.encode("ascii"))
        return heard(line, deadline, _MOST_BYTES)


class _Said:
    """What was said already, as the file that the standard library's reader of HTTP asks a socket for."""

    def __init__(self, said: bytes) -> None:
        self._said = said

    def makefile(self, mode: str) -> io.BytesIO:
        return io.BytesIO(self._said)


def parse_forecast(raw: Any, latitude: float, longitude: float, day: date) -> list[Hour]:
    """The hours of an answer, in order. Raises Refused with the hour and the field that make no sense."""
    listed = raw.get("hours") if isinstance(raw, Mapping) else None
    if not isinstance(listed, list) or not 1 <= len(listed) <= 48:
        raise Refused("forecast.hours", "is missing or not a list", "1 to 48 hours")
    midnight = datetime.combine(day, datetime.min.time(), UTC) - timedelta(hours=longitude / 15)
    return [_hour(entry, place, latitude, longitude, midnight) for place, entry in enumerate(listed)]


def _hour(entry: Any, place: int, latitude: float, longitude: float, midnight: datetime) -> Hour:
    if not isinstance(entry, Mapping):
        raise Refused(f"forecast.hours[{place}]", "is not an object", "an object for each hour")
    number: dict[str, float] = {}
    for name, (low, high) in _FIELDS.items():
        value = entry.get(name)
        real = isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value)
        if not real or not low <= float(value) <= high:  # type: ignore[arg-type]
            raise Refused(
                f"forecast.hours[{place}].{name}", f"{str(value)[:40]!r} makes no sense", f"{low:g} to {high:g}"
            )
        number[name] = float(value)  # type: ignore[arg-type]
    hour = entry.get("hour")
    if isinstance(hour, bool) or not isinstance(hour, int) or not 0 <= hour <= 47:
        raise Refused(f"forecast.hours[{place}].hour", f"{hour!r} makes no sense", "0 to 47")
    height = height_deg(latitude, longitude, midnight + timedelta(hours=hour, minutes=30))
    return Hour(hour, **number, light=_light(height, number["cloud"]), wind=_wind(number["wind_mph"]))


def _light(height: float, cloud: float) -> Light:
    if dim := dim_light(height):
        return dim
    return Light.BRIGHT if cloud < 0.3 else Light.BROKEN if cloud < 0.75 else Light.OVERCAST


def _wind(mph: float) -> Wind:
    """Beaufort 0-1, 2-3 and more: glassy, small wavelets, waves that break up the surface."""
    return Wind.CALM if mph < 4 else Wind.RIPPLE if mph < 13 else Wind.CHOP
