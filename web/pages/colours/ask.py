"""The Ask page's question: one situation, from an address."""

from typing import Any

from django.http import QueryDict

from tackle.base.numbers import read_whole
from tackle.base.units import System, read_depth_ft, read_temperature_f, read_visibility_in
from tackle.situations.conditions import CONDITIONS, Condition
from tackle.situations.situation import Situation, read_situation

ANY = "any"  # whatever one throws
DEFAULTS = {"category": "worm", "see": "48 in", "light": "broken"}
# The stops of the slider, in inches: close together where the schools draw their lines.
STOPS_IN = (
    4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 18, 20, 22, 24, 27, 30, 33, 36, 40, 44, 48, 54, 60, 66, 72, 84, 96,
    108, 120, 144, 168, 192, 216, 240, 300,
)  # fmt: skip


def read_question(query: QueryDict, units: System) -> Situation:
    """The situation that an address asks about. Raises InvalidInput with the field."""
    category = query.get("category", "").strip()
    raw: dict[str, Any] = {"category": DEFAULTS["category"] if category in ("", ANY) else category}
    for name, row in CONDITIONS.items():
        if row.several:
            raw[name] = [one for one in query.getlist(row.asked) if one]
        elif row.asked and (text := query.get(row.asked, "").strip() or DEFAULTS.get(row.asked)):
            raw[name] = _read(row, text, units)
    return read_situation(raw, field="ask")


def _read(row: Condition, text: str, units: System) -> Any:
    """What was typed or chosen for a condition, in its own unit."""
    if row.words:
        return text
    if row.whole:
        return read_whole(text, int(row.low), int(row.high)) or text[:20]
    readers = {"in": read_visibility_in, "ft": read_depth_ft, "F": read_temperature_f}
    return readers[row.unit](text, units, row.asked)
