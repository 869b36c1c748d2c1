"""A season of ten trips on the water: what is said at each minute, as it was written down before."""

import tomllib
from pathlib import Path

import pytest

from tackle.colours.palette import house_palette
from tackle.colours.role import find_role
from tackle.commands.turns import turns

TRIPS = tomllib.loads(Path(__file__).with_name("ten_trips.toml").read_text())["trip"]


def clock(minute):
    return f"2026-06-02T{minute // 60:02}:{minute % 60:02}"


@pytest.mark.parametrize("trip", TRIPS, ids=lambda trip: trip["name"])
def test_what_is_said_at_each_minute_of_a_trip(trip):
    (category,) = trip["tray"]
    fished = []
    for step in trip["steps"]:
        if "throw" in step:
            fished.append({
                "at": clock(step["at"]), "minutes": step["for"], "category": category, "colour": step["throw"],
                "gone": step.get("gone", 0), "light": step.get("light", trip["now"]["light"]),
                "visibility_in": step.get("visibility_in", trip["now"]["visibility_in"]),
                "bites": [{"at": clock(minute), "how": how} for minute, how in step.get("bites", [])],
            })  # fmt: skip
        told = turns({
            "categories": [category], "at": clock(step["then"]), "now": trip["now"], "turns": fished,
            "tray": [{"category": category, "colour": card, "count": 1} for card in trip["tray"][category]],
        })  # fmt: skip
        assert told["do"] == step["do"], step
        if "colour" in step:
            assert told["colour"] == step["colour"], step
        if "role" in step:
            assert find_role(house_palette().by_id[told["colour"]]) == step["role"], step
