"""A water with its readings as JSON, in and out; readings as CSV, out."""

import csv
import io
import json
from typing import Any

from django.core.exceptions import ValidationError

from tackle.base.days import read_day
from tackle.base.errors import InvalidInput
from tackle.base.strict import read_json
from tackle.base.typed import ANYTHING, ListOf, OptionalKind, Record, Word
from tackle.base.units import CM_PER_IN, EXACT_IN, System
from web.common.accounts.models import User
from web.common.serving.child import TEXT, in_child
from web.domain.waters.exchanged import MONTH, READING, SIGHTING, WATER
from web.domain.waters.models import Reading, Sighting, Water
from web.domain.waters.services import STORED, add_whole_water

FORMAT = "wax-crate-water-1"
MOST_BYTES = 8_000_000  # as many readings as a water may have
_FILE = Record({
    "format": Word((FORMAT,)), "water": WATER, "rules_checked": ANYTHING, "months": ListOf(MONTH, 12),
    "readings": ListOf(READING, 20_000), "sightings": OptionalKind(ListOf(SIGHTING, 20_000), []),
}, others=True)  # fmt: skip


def water_json(water: Water) -> str:
    """A water, its months and its readings."""
    return json.dumps(
        {
            "format": FORMAT,
            "water": {field: getattr(water, field) for field in WATER.fields},
            "rules_checked": water.rules_checked.isoformat() if water.rules_checked else None,
            "months": [
                {"month": month.month, **{field: getattr(month, field) for field in STORED}}
                for month in water.year.all()
            ],
            "readings": [
                {field: r.date.isoformat() if field == "date" else getattr(r, field) for field in READING.fields}
                for r in water.readings.all()
            ],
            "sightings": [
                {"date": sighting.date.isoformat(), "food": sighting.food, "spot": sighting.spot}
                for sighting in water.sightings.all()
            ],
        },
        indent=1,
    )


def import_water(owner: User, content: bytes) -> Water:
    """The water in a JSON file, all of it or nothing; a name that is taken gets a number. Raises ValidationError."""
    if len(content) > MOST_BYTES:
        raise ValidationError(f"The file is larger than {MOST_BYTES:,} bytes.")
    try:
        return _import(owner, _FILE.read(in_child(TEXT, read_json, content)))
    except InvalidInput as refused:
        raise ValidationError(f"{refused}.") from refused


def _import(owner: User, raw: dict[str, Any]) -> Water:
    known, year = raw["water"], raw["months"]
    if raw["rules_checked"] is not None:
        known["rules_checked"] = read_day(raw["rules_checked"], "rules_checked")
    if sorted(month["month"] for month in year) != list(range(1, 13)):
        raise InvalidInput("months", "are not the twelve of a year", "one for each month, 1 to 12")
    readings = [
        Reading(**{**data, "date": read_day(data["date"], f"readings[{index}].date")})
        for index, data in enumerate(raw["readings"])
    ]
    sightings = [
        Sighting(**{**data, "date": read_day(data["date"], f"sightings[{index}].date")})
        for index, data in enumerate(raw["sightings"])
    ]
    return add_whole_water(owner, known, {month.pop("month"): month for month in year}, readings, sightings)


def readings_csv(water: Water, units: System) -> str:
    """The readings of a water in the reader's units, as the import reads them: they come in equal."""
    out = io.StringIO()
    rows = csv.writer(out)
    unit, per_in = ("cm", CM_PER_IN) if units == "metric" else ("in", 1.0)
    rows.writerow(["date", f"reading ({unit})", "bound", "stain", "spot", "note"])
    for r in water.readings.all():
        rows.writerow([r.date.isoformat(), _shortest(r.visibility_in, per_in), r.bound, r.stain, r.spot, r.note])
    return out.getvalue()


def _shortest(inches: float, per_in: float) -> str:
    """A length in a unit with as few decimals as bring it back: what was typed comes out as it was typed."""
    texts = (f"{inches * per_in:.{decimals}f}" for decimals in range(EXACT_IN + 1))
    exact = round(inches, EXACT_IN)
    return next((text for text in texts if round(float(text) / per_in, EXACT_IN) == exact), f"{inches * per_in:.10g}")
