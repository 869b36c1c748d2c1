"""Readings as they come in: one line typed on a phone, a CSV file, or a meter."""

import re
from datetime import date

from django.core.exceptions import ValidationError

from tackle.base.days import read_day
from tackle.base.errors import InvalidInput
from tackle.base.strict import is_plain
from tackle.base.strict import read_csv as read_csv_rows
from tackle.base.units import EXACT_IN, System, read_visibility_in
from tackle.base.vocabulary import Stain, ids
from tackle.devices.meter import MeterSaid
from tackle.intake.dates import find_day
from tackle.records.numbers import AT_LEAST, AT_MOST
from tackle.situations.clarity import MAX_VISIBILITY_IN
from web.common.serving.child import TEXT, in_child
from web.domain.waters.models import Reading

MOST_ROWS = 5_000
MOST_LINE = 300
_READING = re.compile(r"reading(?: \((in|cm|ft|m)\))?")
_BARE = re.compile(r"\d+(?:[.,]\d+)?")
_LENGTH = re.compile(
    r"\s{0,4}(\d{1,5}(?:[.,]\d{1,4})?\s?(?:in|ft|cm|m|\"|')?(?:\s?\d{1,5}(?:[.,]\d{1,4})?\s?(?:in|\"))?)(?=\s|$|,)",
    re.I,
)


def read_line(text: str, units: System, today: date) -> Reading:
    """A reading from one line: "30 in silt dam, after rain" or "75 cm, 4 May". Raises ValidationError.

    The length comes first; a stain and a date may stand anywhere; of the rest, what is before a comma is the spot.
    """
    if len(text) > MOST_LINE:
        raise ValidationError(f"A line has at most {MOST_LINE} characters.")
    try:
        day, text = find_day(text, today, units)
    except InvalidInput as refused:
        raise ValidationError(f"{refused.wrong}: write {refused.allowed}.") from refused
    found = _LENGTH.match(text)
    if found is None:
        raise ValidationError("Begin with how deep you could see: 30 in, 2 ft 6 in, 75 cm.")
    try:
        inches = read_visibility_in(found[1], units, "reading")
    except InvalidInput as refused:
        raise ValidationError(f"{refused.wrong}: write it like {refused.allowed}.") from refused
    rest = text[found.end() :]
    words = rest.replace(",", " , ").split()
    stain = next((word.lower() for word in words if word.lower() in ids(Stain)), "")
    left = " ".join(word for word in words if word.lower() != stain or not stain)
    spot, _, note = re.sub(r"(\s*,)+", ",", left).strip().rstrip(" ,").partition(",")
    return Reading(
        date=day or today,
        visibility_in=round(inches, EXACT_IN),
        stain=stain,
        spot=spot.strip()[:60],
        note=note.strip()[:200],
    )


def read_csv(content: bytes, units: System) -> list[Reading]:
    """Readings from CSV with a heading of date and reading, its unit in brackets or beside each, and perhaps bound,
    stain, spot, note.

    Raises ValidationError naming every line that is wrong, at most ten of them.
    """
    try:
        heading, rows = in_child(TEXT, read_csv_rows, content, MOST_ROWS)
    except InvalidInput as refused:
        raise ValidationError(f"The file {refused.wrong}.") from refused
    if not all(map(is_plain, (cell for row in rows for cell in row.values()))):
        raise ValidationError("The file holds characters that are no text.")
    named = next((one for one in heading if _READING.fullmatch(one)), "")
    if "date" not in heading or not named:
        raise ValidationError("Line 1 is not a heading with date and reading (and perhaps stain, spot, note).")
    readings, wrong = [], []
    for number, row in enumerate(rows, 2):
        try:
            stain = row.get("stain", "").strip().lower()
            if stain and stain not in ids(Stain):
                raise ValidationError(f"stain {stain!r} is not one of {', '.join(ids(Stain))}")
            bound = row.get("bound", "").strip().lower()
            if bound not in ("", AT_LEAST, AT_MOST):
                raise ValidationError(f"bound {bound[:20]!r} is neither {AT_LEAST} nor {AT_MOST}")
            inches = read_visibility_in(_with_unit(row[named], named), units, "reading")
            if not 0 < inches <= MAX_VISIBILITY_IN:
                raise ValidationError(f"reading {row[named]!r} is no water's visibility")
            readings.append(
                Reading(
                    date=_day(row["date"].strip()),
                    visibility_in=round(inches, EXACT_IN),
                    stain=stain,
                    bound=bound,
                    spot=row.get("spot", "").strip()[:60],
                    note=row.get("note", "").strip()[:200],
                    source=Reading.Source.FILE,
                )
            )
        except InvalidInput as refused:
            wrong.append(f"Line {number}: reading {refused.wrong}.")
        except ValidationError as error:
            wrong.append(f"Line {number}: {' '.join(error.messages)}.")
    if wrong:
        more = [f"And {len(wrong) - 10} more lines."] if len(wrong) > 10 else []
        raise ValidationError([*wrong[:10], *more])
    if not readings:
        raise ValidationError("The file has no readings.")
    return readings


def _with_unit(text: str, heading: str) -> str:
    """What stands in a cell, with the unit that its heading tells where it has none of its own."""
    found = _READING.fullmatch(heading)
    return f"{text} {found[1]}" if found and found[1] and _BARE.fullmatch(text.strip()) else text


def from_meter(heard: MeterSaid, today: date) -> list[Reading]:
    """The readings a meter sent."""
    return [
        Reading(
            date=today,
            visibility_in=round(reading.visibility_in, 2),
            stain=reading.stain or "",
            source=Reading.Source.METER,
        )
        for reading in heard.readings
    ]


def _day(text: str) -> date:
    try:
        return read_day(text)
    except InvalidInput as refused:
        raise ValidationError(f"date {refused.wrong}: {refused.allowed}") from refused
