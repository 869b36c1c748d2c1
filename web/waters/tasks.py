"""Open records of a water, understood outside the request."""

from collections.abc import Callable, Mapping, Sequence
from datetime import date
from typing import Any

from django.core.exceptions import ValidationError
from django.urls import reverse
from django.utils import timezone

from tackle.errors import Refused
from tackle.records.harmonics import constants_in, fitted, waves_of
from tackle.records.months import by_day, by_month, clarity_from, fit_pairs, sky_counts, span_of, usual_by_month
from tackle.records.reading import Record, RecordRead, columns_of
from tackle.records.table import RecordTable, read_table
from tackle.records.weather import DayWeather, SolarTime, cloud_from_radiation, in_daylight, weather_of, wet_days
from web.waters.changes import set_tide
from web.waters.models import Water
from web.waters.reads import pairs_of, water_of
from web.work.changes import keep_found
from web.work.heavy import Outcome, Tell, heavy
from web.work.models import Job
from web.work.pieces import file_of

MOST_DAYS = 5_000  # of readings that a record adds: the last ones
USEFUL = {"secchi", "turbidity", "temperature", "cloud", "radiation", "wind", "rain", "level"}
TIDE_YEARS = 6  # ahead, for which a tide's waves are worked out
MOST_REFUSED = 12  # cells that are told one by one


@heavy
def read_water_record(job: Job, tell: Tell) -> Outcome:
    """What a record says of a water, kept to be looked at before it counts."""
    pk, today = job.asked["water"], timezone.localdate()
    water = water_of(job.owner, pk)
    tell("Reading the record", 0, 3)
    with file_of(job) as file:
        table = read_table(file.read())
    record = Record(table)
    there = record.there
    if not set(there) & USEFUL:
        raise ValidationError("It tells neither how far one sees, nor turbidity, warmth, clouds, wind, rain or levels.")
    tell("Understanding its rows", 1, 3)

    def ask(measure: str) -> RecordRead:
        return record.read(measure, job.asked.get("station") or None, today)

    read = ask("")
    what = read.what
    found: dict[str, Any] = {"name": job.name, "water": pk, **_understood(table, read, there)}
    if what == "turbidity":
        curve = fit_pairs(pairs_of(job.owner, pk))
        found |= {"rough": curve.rough, "pairs": curve.pairs, "off_by": round(curve.off_by, 4)}
        seen = clarity_from(read.used, curve)
    else:
        seen = read.used if what == "secchi" else []
    if span := span_of(read.used):
        found["span"] = [day.isoformat() for day in span]
    daily = by_day(seen)
    found["readings"] = [[day.isoformat(), round(inches, 2)] for day, inches in daily[-MOST_DAYS:]]
    found["left_out"] = max(len(daily) - MOST_DAYS, 0)
    found["months"] = [
        {"month": one.month, "readings": one.readings, "years": one.years, "low": one.low, "usual": one.usual,
         "high": one.high, "interval": list(one.interval)}
        for one in by_month(seen, curve.spread if what == "turbidity" else 0.0)
    ]  # fmt: skip
    tell("Looking for the water’s warmth", 2, 3)
    found["temperatures"] = _warmth(there, ask)
    found |= _weather(there, ask, SolarTime(water.latitude, water.longitude), [day for day, _ in daily[-MOST_DAYS:]])
    constants = fitted(ask("level").used, (water.latitude, water.longitude)) if there.get("level") else {}
    found["tide"] = _tide(constants, water) if constants else None
    keep_found(job, found)
    return Outcome(to=reverse("water-record-look", args=[pk, job.pk]))


@heavy
def read_tide(job: Job, tell: Tell) -> Outcome:
    """The waves of a tide whose constants were typed."""
    water, owner = water_of(job.owner, job.asked["water"]), job.owner
    tell("Working out the tide", 0, 0)
    try:
        tide = _tide(constants_in(job.asked["text"], owner.units), water)
    except Refused as refused:
        raise ValidationError(f"{refused.field}: {refused.wrong}: write it like {refused.allowed}.") from refused
    change = set_tide(owner, water.pk, tide)
    return Outcome(to=f"{reverse('water', args=[water.pk])}?changed={change.pk}")


def _tide(constants: Mapping[str, tuple[float, float]], water: Water) -> dict[str, Any]:
    this = timezone.localdate().year
    waves = waves_of(constants, water.latitude, range(this - 1, this + TIDE_YEARS))
    return {
        "constants": {name: [round(ft, 4), round(lag, 1)] for name, (ft, lag) in constants.items()},
        "waves": {
            str(year): [[one.per_hour, round(one.ft, 5), round(one.phase_deg, 2)] for one in told]
            for year, told in waves.items()
        },
    }


def _understood(table: RecordTable, read: RecordRead, there: dict[str, int]) -> dict[str, Any]:
    return {
        "what": read.what, "unit": read.unit, "layout": read.shape.layout, "format": table.format,
        "stations": list(read.stations)[:40], "station": read.station, "columns": columns_of(table, read),
        "rows": read.rows, "used": len(read.used), "other": read.other, "doubled": read.doubled,
        "flagged": read.flagged, "refused": len(read.refused), "there": there,
        "first_refused": [[one.row, one.column, one.wrong, one.allowed] for one in read.refused[:MOST_REFUSED]],
    }  # fmt: skip


def _warmth(there: dict[str, int], ask: Callable[[str], RecordRead]) -> dict[int, float]:
    """The middle temperature of each month, F, where the record has some."""
    if not there.get("temperature"):
        return {}
    return {month: round(usual, 1) for month, usual in usual_by_month(ask("temperature").used).items()}


def _weather(
    there: dict[str, int], ask: Callable[[str], RecordRead], solar: SolarTime, days: Sequence[date]
) -> dict[str, Any]:
    """How often each sky and each surface was seen by month in daylight, how many days came after rain, and the weather
    of the days on which clarity is known."""
    cloud, wind, rain, sun = (
        ask(what).used if there.get(what) else [] for what in ("cloud", "wind", "rain", "radiation")
    )
    cloud = in_daylight(cloud, solar) if cloud else cloud_from_radiation(sun, solar)
    weather = weather_of(days, cloud, in_daylight(wind, solar), rain)
    known = {day: told for day, told in weather.items() if told != DayWeather()}
    return {
        "sky": sky_counts(cloud, wind),
        "wet": wet_days(rain),
        "weather": {day.isoformat(): [told.sky, told.wind, told.rain_in] for day, told in known.items()},
        "together": sum(bool(told.sky and told.wind) for told in known.values()),
        "by_radiation": bool(sun) and not there.get("cloud"),
    }
