"""What is known of a water's months from readings and records, as its pages tell it."""

from dataclasses import dataclass
from math import log

from tackle.records.posterior import KnownYear
from tackle.situations.clarity import BANDS
from web.domain.waters.models import Water
from web.domain.waters.selectors import Taken, get_known_year, joint_days, weekly_readings
from web.domain.waters.services import MONTH_NAMES
from web.pages.waters.year_picture import rests_on


@dataclass(frozen=True, slots=True)
class KnownMonth:
    """A month of a water with records: its usual sight, between what it lies nine times of ten, on what that rests, and
    on how many days clarity, sky and surface were seen together."""

    number: int
    name: str
    usual_in: float
    low_in: float
    high_in: float
    rests: str
    together: int


@dataclass(frozen=True, slots=True)
class WeeklyGain:
    """What one reading more a week, for a year, would do for the month for which it does most: between what its usual
    sight is known to lie now, and then, in inches."""

    name: str
    now: tuple[int, int]
    then: tuple[int, int]


def known_months(water: Water, known: KnownYear) -> list[KnownMonth]:
    """The months of a water that has records."""
    seen = {month: sum(counts) for month, counts in joint_days(water).items()}
    found = []
    for row in water.year.all():
        low, high = _whole(known.intervals[row.month])
        usual, name = round(known.months[row.month].usual_in), MONTH_NAMES[row.month - 1]
        found.append(KnownMonth(row.month, name, usual, low, high, rests_on(water, row), seen.get(row.month, 0)))
    return found


def weekly_gain(water: Water, known: KnownYear) -> WeeklyGain | None:
    """What one reading more a week would tell, of the months that are fished; None where it would narrow none."""
    then = get_known_year(water, Taken(weekly_readings(water, known)))
    fished = [row.month for row in water.year.all() if row.days and row.month not in water.closed_months]
    if then is None or not fished:
        return None
    gains = {month: _width(known.intervals[month]) - _width(then.intervals[month]) for month in fished}
    best = max(fished, key=lambda month: gains[month])
    now, after = _whole(known.intervals[best]), _whole(then.intervals[best])
    return WeeklyGain(MONTH_NAMES[best - 1], now, after) if gains[best] > 0 and now != after else None


def sure_bands(water: Water, known: KnownYear) -> dict[str, tuple[float, float]]:
    """Between which days a year in each band nine of ten lie, of a water that has records."""
    days = {row.month: row.days for row in water.year.all() if row.month not in water.closed_months}
    return {band: (low, high) for band, (low, high) in zip(BANDS, known.band_days(days).tolist(), strict=True)}


def _width(interval: tuple[float, float]) -> float:
    """How wide it is, as a logarithm."""
    return log(interval[1] / interval[0])


def _whole(interval: tuple[float, float]) -> tuple[int, int]:
    return round(interval[0]), round(interval[1])
