"""Harmonic constants of a tide: typed, or fitted to a record of levels; and the waves that they make year by year.

The analysis and the astronomical arguments are UTide's (Codiga 2011); it is imported where it is used, for it is large.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any, Final

import numpy as np

from tackle.base.errors import InvalidInput
from tackle.base.units import M_PER_FT, System
from tackle.records.measured import Measured
from tackle.records.tides import Wave
from tackle.situations.sun import to_utc

__all__ = ["TideFit", "constants_in", "fitted", "tide_waves"]

Constants = Mapping[str, tuple[float, float]]  # of each constituent its amplitude (ft) and its phase lag (degrees, UTC)
_LEAST_FT: Final = 0.03
_LEAST_SHARE: Final = 0.2  # of the spread, for a tide to be one
_DAILY_PER_HOUR: Final = 0.03  # cycles: slower waves are a river's seasons as well
_LEAST_DAYS, _LEAST_VALUES, _MOST_CONSTANTS = 15, 300, 60
_LINE: Final = re.compile(
    r"([A-Za-z][A-Za-z0-9]{1,7})[ \t,;:]+(\d+(?:[.,]\d+)?) ?(m|cm|ft|in)?[ \t,;]+(-?\d+(?:[.,]\d+)?) ?°?"
)
_FT: Final = {"m": 1 / M_PER_FT, "cm": 0.01 / M_PER_FT, "ft": 1.0, "in": 1 / 12}


def constants_in(text: str, system: System) -> dict[str, tuple[float, float]]:
    """Constants from lines like "M2 1.2 ft 118": the constituent, its amplitude, how many degrees it lags behind
    Greenwich. Raises InvalidInput with the line."""
    known, found = _names(), {}
    for number, line in enumerate(filter(None, map(str.strip, text.splitlines())), 1):
        data = _LINE.fullmatch(line)
        if data is None:
            raise InvalidInput(f"line {number}", f"{line[:40]!r} is no constant", "M2 1.2 ft 118")
        name = data[1].upper()
        if name not in known:
            raise InvalidInput(f"line {number}", f"{data[1]!r} is no constituent", "M2, S2, N2, K1, O1 and their like")
        unit = data[3] or ("m" if system == "metric" else "ft")
        found[name] = float(data[2].replace(",", ".")) * _FT[unit], float(data[4].replace(",", ".")) % 360
    if not 0 < len(found) <= _MOST_CONSTANTS:
        raise InvalidInput("constants", f"are {len(found)}", f"1 to {_MOST_CONSTANTS}")
    return found


@dataclass(frozen=True, slots=True)
class TideFit:
    """The constants of a tide, and the share of the spread of levels (variance) that its daily and half-daily waves
    make."""

    constants: dict[str, tuple[float, float]]
    share: float


def fitted(level: Sequence[Measured], place: tuple[float, float]) -> TideFit | None:
    """The tide in a record of levels (ft), its moments with their zone or in the solar time of the place, latitude and
    longitude in degrees. None where it is too short, or what moves the water is no tide, as of a river's stage."""
    latitude, longitude = place
    hours = {to_utc(one.moment, longitude): one.value for one in level if isinstance(one.moment, datetime)}
    if len(hours) < _LEAST_VALUES or max(hours) - min(hours) < timedelta(days=_LEAST_DAYS):
        return None
    import utide

    moments = sorted(hours)
    times = np.array([np.datetime64(moment.replace(tzinfo=None)) for moment in moments])
    values = np.array([hours[moment] for moment in moments])
    data: Any = utide.solve(times, values, lat=latitude, conf_int="none", method="ols", trend=False, verbose=False)
    quick = np.asarray(data.aux.frq) > _DAILY_PER_HOUR
    spread = float(values.var())
    share = min(float((data.A[quick] ** 2).sum()) / 2 / spread, 1.0) if spread > 0 else 0.0
    every = sorted(zip(data.name, data.A, data.g, strict=True), key=lambda one: -one[1])[:_MOST_CONSTANTS]
    found = {str(name): (float(ft), float(lag)) for name, ft, lag in every if ft >= _LEAST_FT}
    return TideFit(found, share) if found and share >= _LEAST_SHARE else None


def tide_waves(constants: Constants, latitude: float, years: Iterable[int]) -> dict[int, tuple[Wave, ...]]:
    """The waves of a tide for some years: what the moon's long cycles make of each constituent in the middle of it."""
    from utide._ut_constants import ut_constants
    from utide.harmonics import FUV

    names = _names()
    places = np.array([names[name] for name in constants])
    found = {}
    for year in years:
        middle = np.array([date(year, 7, 1).toordinal() + 0.0])
        factor, nodal, astronomical = (np.ravel(one) for one in FUV(middle, middle, places, latitude, [0, 0, 0, 0]))
        found[year] = tuple(
            Wave(float(ut_constants.const.freq[at]), ft * float(factor[row]),
                 (360 * float(astronomical[row] + nodal[row]) - lag) % 360)
            for row, (at, (ft, lag)) in enumerate(zip(places.tolist(), constants.values(), strict=True))
        )  # fmt: skip
    return found


def _names() -> dict[str, int]:
    from utide._ut_constants import ut_constants

    return {str(name): at for at, name in enumerate(ut_constants.const.name)}
