"""A water with its readings as JSON, in and out; readings as CSV, out."""

import csv
import io
import json
from typing import Any

from django.core.exceptions import ValidationError

from tackle.days import read_day
from tackle.errors import Refused
from tackle.strict import read_json
from web.accounts.models import User
from web.waters.changes import STORED, add_whole_water
from web.waters.exchanged import MONTH, READING, WATER, read_fields
from web.waters.models import Reading, Water

FORMAT = "wax-crate-water-1"
MOST_BYTES = 2_000_000


def water_json(water: Water) -> str:
    """A water, its months and its readings."""
    return json.dumps(
        {
            "format": FORMAT,
            "water": {field: getattr(water, field) for field in WATER},
            "rules_checked": water.rules_checked.isoformat() if water.rules_checked else None,
            "months": [
                {"month": month.month, **{field: getattr(month, field) for field in STORED}}
                for month in water.year.all()
            ],
            "readings": [
                {field: r.date.isoformat() if field == "date" else getattr(r, field) for field in READING}
                for r in water.readings.all()
            ],
        },
        indent=1,
    )


def import_water(owner: User, content: bytes) -> Water:
    """The water in a JSON file, all of it or nothing; a name that is taken gets a number. Raises ValidationError."""
    if len(content) > MOST_BYTES:
        raise ValidationError(f"The file is larger than {MOST_BYTES:,} bytes.")
    try:
        raw = read_json(content)
        if not isinstance(raw, dict) or raw.get("format") != FORMAT:
            raise Refused("format", "is not that of a water", f'"{FORMAT}"')
        return _import(owner, raw)
    except Refused as refused:
        raise ValidationError(f"{refused}.") from refused


def _import(owner: User, raw: dict[str, Any]) -> Water:
    known = read_fields(raw.get("water"), WATER, "water")
    if raw.get("rules_checked") is not None:
        known["rules_checked"] = read_day(raw["rules_checked"], "rules_checked")
    months = _list(raw, "months", 12)
    year = [read_fields(entry, MONTH, f"months[{place}]") for place, entry in enumerate(months)]
    if sorted(month["month"] for month in year) != list(range(1, 13)):
        raise Refused("months", "are not the twelve of a year", "one for each month, 1 to 12")
    readings = []
    for place, entry in enumerate(_list(raw, "readings", 20_000)):
        told = read_fields(entry, READING, f"readings[{place}]")
        readings.append(Reading(**{**told, "date": read_day(told["date"], f"readings[{place}].date")}))
    return add_whole_water(owner, known, {month.pop("month"): month for month in year}, readings)


def _list(raw: dict[str, Any], field: str, most: int) -> list[Any]:
    value = raw.get(field)
    if not isinstance(value, list) or len(value) > most:
        raise Refused(field, "is not a list", f"a list of at most {most}")
    return value


def readings_csv(water: Water) -> str:
    """The readings of a water, in inches, as the import reads them."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(["date", "reading", "stain", "spot", "note"])
    for r in water.readings.all():
        rows.writerow([r.date.isoformat(), f"{r.visibility_in:.10g} in", r.stain, r.spot, r.note])
    return out.getvalue()
