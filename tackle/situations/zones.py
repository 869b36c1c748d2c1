"""The time zones of the world by where their largest towns lie, from the table that comes with the zone database."""

import re
from datetime import datetime, timedelta
from importlib.resources import files
from math import acos, cos, radians, sin
from typing import Final
from zoneinfo import ZoneInfo

__all__ = ["nearest_zones"]

_POSITION: Final = re.compile(r"([+-])(\d{2})(\d{2})(\d{2})?([+-])(\d{3})(\d{2})(\d{2})?")


_LOOKED_AT, _OFFERED = 8, 3


def _towns(table: str) -> tuple[tuple[float, float, str], ...]:
    """Latitude and longitude in degrees, and the zone's name; in "zonenow.tab" each clock once, by its best known."""
    found = []
    for line in (files("tzdata") / "zoneinfo" / table).read_text("utf-8").splitlines():
        if line and not line.startswith("#"):
            _, position, name, *_ = line.split("\t")
            if said := _POSITION.fullmatch(position):
                found.append((_degrees(*said.groups()[:4]), _degrees(*said.groups()[4:]), name))
    return tuple(found)


def nearest_zones(latitude: float, longitude: float, home: str = "", year: int = 2026) -> tuple[str, ...]:
    """The zones whose towns lie nearest to a place, nearest first, by the great circle, each clock once: by the name of
    `home` where that shows the same, else by its best known. Borders are not known, so these are proposals."""
    near = sorted(_towns("zone.tab"), key=lambda town: _apart(latitude, longitude, town[0], town[1]))[:_LOOKED_AT]
    clocks = {_clock(name, year): name for *_, name in _towns("zonenow.tab")}
    clocks |= {_clock(home, year): home} if home else {}
    found = [clocks.get(_clock(name, year), name) for *_, name in near]
    return tuple(dict.fromkeys(found))[:_OFFERED]


def _clock(zone: str, year: int) -> tuple[timedelta | None, ...]:
    """What a zone's clock shows beside Greenwich, month by month."""
    return tuple(datetime(year, month, 15, 12, tzinfo=ZoneInfo(zone)).utcoffset() for month in range(1, 13))


def _degrees(sign: str, whole: str, minutes: str, seconds: str | None) -> float:
    return (-1 if sign == "-" else 1) * (int(whole) + int(minutes) / 60 + int(seconds or 0) / 3600)


def _apart(latitude: float, longitude: float, to_latitude: float, to_longitude: float) -> float:
    """The angle between two places, in radians (spherical law of cosines)."""
    one, other, east = radians(latitude), radians(to_latitude), radians(longitude - to_longitude)
    return acos(max(-1.0, min(1.0, sin(one) * sin(other) + cos(one) * cos(other) * cos(east))))
