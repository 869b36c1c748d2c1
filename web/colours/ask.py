"""The Ask page's question: one situation, from an address."""

from typing import Any

from django.http import QueryDict

from tackle.numbers import read_whole
from tackle.situations.situation import Situation, read_situation
from tackle.units import System, read_depth_ft, read_length_in, read_temperature_f

DEFAULTS = {"category": "worm", "see": "48 in", "light": "broken"}
# The stops of the slider, in inches: close together where the schools draw their lines.
STOPS_IN = (
    4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 18, 20, 22, 24, 27, 30, 33, 36, 40, 44, 48, 54, 60, 66, 72, 84, 96,
    108, 120, 144, 168, 192, 216, 240, 300,
)  # fmt: skip


def read_question(query: QueryDict, units: System) -> Situation:
    """The situation that an address asks about. Raises Refused with the field."""
    words = (*DEFAULTS, "stain", "wind", "season", "cover", "pace", "target", "mood", "density", "current")
    given = {name: query.get(name, "").strip() for name in words}
    given |= {name: query.get(name, "").strip() for name in ("month", "temp", "depth", "norm")}
    raw: dict[str, Any] = {name: value for name, value in given.items() if value and name not in _OURS}
    raw = {**{name: DEFAULTS[name] for name in ("category", "light")}, **raw}
    raw["visibility_in"] = read_length_in(given["see"] or DEFAULTS["see"], units, "see")
    if given["norm"]:
        raw["norm_in"] = read_length_in(given["norm"], units, "norm")
    if given["month"]:
        raw["month"] = read_whole(given["month"], 1, 12) or given["month"][:20]
    if given["temp"]:
        raw["water_temp_f"] = read_temperature_f(given["temp"], units, "temp")
    if given["depth"]:
        raw["depth_ft"] = read_depth_ft(given["depth"], units, "depth")
    foods = [food for food in query.getlist("food") if food]
    return read_situation({**raw, "forage": foods}, field="ask")


_OURS = ("see", "month", "temp", "depth", "norm")
