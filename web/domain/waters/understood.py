"""What an open record of a water says, month by month: read where nothing else can come to harm."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any, Final
from zoneinfo import ZoneInfo

from django.core.exceptions import ValidationError

from tackle.base.hashing import content_hash
from tackle.records.choices import Question, settle
from tackle.records.layout import describe_columns
from tackle.records.measured import Measured, RecordRead
from tackle.records.months import by_day, by_month, clarity_from, fit_pairs, sky_counts, time_span, usual_by_month
from tackle.records.reading import best_record, unite
from tackle.records.table import RecordTable, read_tables
from tackle.records.weather import DayWeather, SolarTime, cloud_from_radiation, daily_weather, in_daylight, wet_days

MOST_DAYS: Final = 5_000  # of readings that a record adds: the last ones
USEFUL: Final = {"secchi", "turbidity", "temperature", "cloud", "radiation", "wind", "rain", "level"}
MOST_SHOWN: Final = 5  # of a record's first rows
MOST_REFUSED: Final = 12  # cells that are told one by one


@dataclass(frozen=True, slots=True)
class Asked:
    """Which station of a record, as of which day, with what is known of turbidity and clarity there, and where; what
    was settled of this record (None: nothing yet), and of others by their shape; the zone of the water, empty where it
    has none."""

    station: str | None
    today: date
    pairs: tuple[tuple[float, float], ...]
    place: tuple[float, float]
    settled: Mapping[str, str] | None = None
    remembered: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    zone: str = ""


def understood(content: bytes, asked: Asked) -> tuple[dict[str, Any], list[Measured]]:
    """What is told of the record, and its levels. Raises InvalidInput, or ValidationError where it has nothing to
    use."""
    tables = read_tables(content)
    shape = _shape(tables[0])
    settled = asked.remembered.get(shape, {}) if asked.settled is None else asked.settled
    home = ZoneInfo(asked.zone) if asked.zone else None
    record, others = best_record(tables, settle(settled), home)
    table, there = record.table, record.there
    if not set(there) & USEFUL and record.layout.unnamed < 0:
        raise ValidationError("It tells neither how far one sees, nor turbidity, warmth, clouds, wind, rain or levels.")
    station = settled.get("station") or asked.station
    reads: dict[str, RecordRead] = {}

    def ask(measure: str) -> RecordRead:
        if measure not in reads:
            reads[measure] = record.read(measure, None if station == "all" else station, asked.today)
        return reads[measure]

    read = ask("")
    reads[read.what] = read
    what = read.what
    found = _understood(table, read, there)
    found |= {"shape": shape, "settled": dict(settled), "remembered": asked.settled is None and bool(settled)}
    found |= {"lists": others, "head": [list(table.headings), *(row for _, row in table.rows[:MOST_SHOWN])]}
    if what == "turbidity":
        curve = fit_pairs(asked.pairs)
        found |= {"rough": curve.rough, "pairs": curve.pairs, "off_by": round(curve.off_by, 4)}
        seen = clarity_from(read.used, curve)
    else:
        seen = read.used if what == "secchi" else []
    if span := time_span(read.used):
        found["span"] = [day.isoformat() for day in span]
    daily = by_day(seen)
    found["readings"] = [[day.isoformat(), round(inches, 2), bound] for day, inches, bound in daily[-MOST_DAYS:]]
    found["left_out"] = max(len(daily) - MOST_DAYS, 0)
    found["months"] = [
        {"month": one.month, "readings": one.readings, "years": one.years, "low": one.low, "usual": one.usual,
         "high": one.high, "bound": one.bound}
        for one in by_month(seen, curve.spread if what == "turbidity" else 0.0)
    ]  # fmt: skip
    found["temperatures"] = _warmth(there, ask)
    found |= _weather(there, ask, SolarTime(*asked.place), [day for day, *_ in daily[-MOST_DAYS:]])
    level = ask("level").used if there.get("level") or read.what == "level" else []
    found["ask"] = [_question(one) for one in unite(reads.values()) if not (one.field == "station" and station)]
    return found, level


def _question(one: Question) -> dict[str, Any]:
    return {"key": one.key, "field": one.field, "column": one.column, "what": one.what, "why": one.why,
            "rows": one.rows, "taken": one.taken, "others": list(one.others)}  # fmt: skip


def _shape(table: RecordTable) -> str:
    """What records of one source have in common: their headings, and what is said of their units."""
    return content_hash((table.format, table.headings, table.units))


def _understood(table: RecordTable, read: RecordRead, there: dict[str, int]) -> dict[str, Any]:
    return {
        "what": read.what, "unit": read.unit, "layout": read.layout.layout, "format": table.format,
        "stations": list(read.stations)[:40], "station": read.station,
        "columns": describe_columns(table, read.layout, read.place),
        "rows": read.rows, "used": len(read.used), "other": read.other, "doubled": read.doubled,
        "flagged": read.flagged, "censored": read.censored, "refused": len(read.refused), "there": there,
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
    weather = daily_weather(days, cloud, in_daylight(wind, solar), rain)
    known = {day: data for day, data in weather.items() if data != DayWeather()}
    return {
        "sky": sky_counts(cloud, wind),
        "wet": wet_days(rain),
        "weather": {day.isoformat(): [data.sky, data.wind, data.rain_in] for day, data in known.items()},
        "together": sum(bool(data.sky and data.wind) for data in known.values()),
        "by_radiation": bool(sun) and not there.get("cloud"),
    }
