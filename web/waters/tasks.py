"""Open records of a water, understood outside the request."""

from collections.abc import Callable
from typing import Any

from django.core.exceptions import ValidationError
from django.urls import reverse
from django.utils import timezone

from tackle.records.months import by_day, by_month, clarity_from, fit_pairs, sky_counts, usual_by_month
from tackle.records.reading import RecordRead, columns_of, measures_in, read_record, shape_of
from tackle.records.table import RecordTable, read_table
from web.waters.reads import pairs_of, water_of
from web.work.changes import keep_found
from web.work.heavy import Outcome, Tell, heavy
from web.work.models import Job
from web.work.pieces import file_of

MOST_DAYS = 5_000  # of readings that a record adds: the last ones
MOST_REFUSED = 12  # cells that are told one by one


@heavy
def read_water_record(job: Job, tell: Tell) -> Outcome:
    """What a record says of a water, kept to be looked at before it counts."""
    pk, today = job.asked["water"], timezone.localdate()
    water = water_of(job.owner, pk)
    tell("Reading the record", 0, 3)
    with file_of(job) as file:
        table = read_table(file.read())
    shape = shape_of(table)
    there = measures_in(table, shape)
    what = next((one for one in ("secchi", "turbidity", "temperature", "cloud", "wind") if there.get(one)), "")
    if not what:
        raise ValidationError("It tells neither how far one sees, nor turbidity, warmth, clouds or wind.")
    tell("Understanding its rows", 1, 3)

    def ask(measure: str) -> RecordRead:
        return read_record(table, shape, measure, job.asked.get("station") or None, today)

    read = ask(what)
    found: dict[str, Any] = {"name": job.name, "water": pk, **_understood(table, read, there)}
    if what == "turbidity":
        curve = fit_pairs(pairs_of(job.owner, pk))
        found |= {"rough": curve.rough, "pairs": curve.pairs}
        seen = clarity_from(read.used, curve)
    else:
        seen = read.used if what == "secchi" else []
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
    found["sky"] = _sky(there, ask, (water.latitude, water.longitude))
    keep_found(job, found)
    return Outcome(to=reverse("water-record-look", args=[pk, job.pk]))


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


def _sky(
    there: dict[str, int], ask: Callable[[str], RecordRead], place: tuple[float, float]
) -> dict[int, dict[str, int]]:
    """How often each sky and each surface was seen by month, of the hours of daylight."""
    cloud, wind = (ask(what).used if there.get(what) else [] for what in ("cloud", "wind"))
    return sky_counts(cloud, wind, place)
