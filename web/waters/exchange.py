"""A water with its readings as JSON, in and out; readings as CSV, out."""

import csv
import io
import json
from datetime import date
from typing import Any

from django.core.exceptions import ValidationError
from django.db import transaction

from tackle.situations.expected import expected_days
from web.accounts.models import User
from web.waters.changes import keep_water, set_year
from web.waters.models import Reading, Water
from web.waters.reads import core_water, water_of

FORMAT = "wax-crate-water-1"
MOST_BYTES = 2_000_000
_WATER = (
    "name", "kind", "salinity", "latitude", "longitude", "dryness", "norm_in", "relative", "depth_ft", "cover",
    "bottom", "target", "observations", "forbids_categories", "forbids_trebles", "forbids_barbs", "forbids_lead",
    "forbids_night", "closed_months", "rules_note",
)  # fmt: skip
_MONTH = ("low_in", "usual_in", "high_in", "stain", "temp_f", "food", "days", "hours", "sky", "guess")
_READING = ("visibility_in", "stain", "spot", "note", "source")


def water_json(water: Water) -> str:
    """A water, its months and its readings."""
    return json.dumps(
        {
            "format": FORMAT,
            "water": {field: getattr(water, field) for field in _WATER},
            "rules_checked": water.rules_checked.isoformat() if water.rules_checked else None,
            "months": [
                {"month": month.month, **{field: getattr(month, field) for field in _MONTH}}
                for month in water.year.all()
            ],
            "readings": [
                {"date": r.date.isoformat(), **{field: getattr(r, field) for field in _READING}}
                for r in water.readings.all()
            ],
        },
        indent=1,
    )


@transaction.atomic
def import_water(owner: User, content: bytes) -> Water:
    """The water in a JSON file, all of it or nothing; a name that is taken gets a number. Raises ValidationError."""
    if len(content) > MOST_BYTES:
        raise ValidationError(f"The file is larger than {MOST_BYTES:,} bytes.")
    try:
        raw = json.loads(content, parse_constant=_no_number)
    except ValueError as error:
        raise ValidationError("The file is not JSON.") from error
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        raise ValidationError(f'The file is not a water: "format" is not "{FORMAT}".')
    try:
        return _import(owner, raw)
    except (KeyError, TypeError, AttributeError, ValueError) as error:
        raise ValidationError(f"The file's water is not whole: {type(error).__name__} at {error}.") from error


def _no_number(word: str) -> float:
    raise ValueError(f"{word} is not a number")


def _import(owner: User, raw: dict[str, Any]) -> Water:
    known = {field: raw["water"][field] for field in _WATER}
    taken = set(Water.objects.filter(owner=owner).values_list("name", flat=True))
    name = str(known["name"])[:70]
    known["name"] = next(o for n in range(1, len(taken) + 2) if (o := name if n == 1 else f"{name} {n}") not in taken)
    if raw.get("rules_checked"):
        known["rules_checked"] = date.fromisoformat(raw["rules_checked"])
    water = keep_water(owner, Water(), **known)
    if sorted(month["month"] for month in raw["months"]) != list(range(1, 13)):
        raise ValidationError("The file's water has not twelve months.")
    year = {entry["month"]: {field: entry[field] for field in _MONTH} for entry in raw["months"]}
    set_year(owner, water.pk, year, "The water came from a file.")
    for entry in raw["readings"]:
        values = {field: entry[field] for field in _READING}
        reading = Reading(water=water, date=date.fromisoformat(entry["date"]), **values)
        reading.full_clean()
        reading.save()
    # What cannot be counted is refused now, rather than breaking every later look at it.
    expected_days([core_water(water_of(owner, water.pk))])
    return water


def readings_csv(water: Water) -> str:
    """The readings of a water, in inches, as the import reads them."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(["date", "reading", "stain", "spot", "note"])
    for r in water.readings.all():
        rows.writerow([r.date.isoformat(), f"{r.visibility_in:g} in", r.stain, r.spot, r.note])
    return out.getvalue()
