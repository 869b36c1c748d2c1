"""Heaps as ten people would scribble them, with what each line means written beside it."""

import json
from itertools import groupby
from pathlib import Path

import pytest

from tackle.base.vocabulary import Tone
from tackle.colours.described import describe_colour
from tackle.colours.palette import house_palette
from tackle.commands.lures import lures
from tackle.intake.sheet import Sheet, headed

CASES = [json.loads(line) for line in Path(__file__).with_name("scribbled.jsonl").read_text().splitlines()]
HEAPS = {number: list(cases) for number, cases in groupby(CASES, key=lambda case: case["heap"])}
MEANT = (
    "category", "colour", "count", "size_in", "weight_oz", "depth_ft", "price", "hook", "line_lb", "condition", "as",
    "kind", "other",
)  # fmt: skip


def wrong_in(want, row):
    """What a row says that is not as meant, and is not asked."""
    said = {name: row[name] for name in MEANT if name in want and name not in row["unsure"]}
    told = [name for name, have in said.items() if have != pytest.approx(want[name], abs=0.01)]
    with_it = want.get("with", {})
    return told + [name for name in with_it if (row["with"] or {}).get(name) != with_it[name]]


@pytest.mark.parametrize("number", HEAPS)
def test_what_was_scribbled_is_understood_or_asked_and_never_silently_wrong(number):
    cases = HEAPS[number]
    answer = lures({"lines": [case["line"] for case in cases]})["rows"]
    for case, row in zip(cases, answer, strict=True):
        wants, rows = case.get("rows", [case]), row.get("rows", [row])
        assert len(rows) == len(wants), (case["line"], row["parts"])
        for want, one in zip(wants, rows, strict=True):
            assert not wrong_in(want, one), (case["line"], one)
            assert set(one["unsure"]) <= set(case.get("ask", [])), (case["line"], one["unsure"])
        assert row["line"] == case["line"]


@pytest.mark.parametrize(
    ("line", "parts"),
    [
        ("squarebill chart & red craw", 1),  # one colour of two words
        ("spinnerbait white, 2 willow blades", 1),
        ("jerkbait 110 and 3 trebles", 1),
        ("12 worms plum in bag, 6 bags of 2", 1),  # the same ones told twice
        ("swim jig trailer white", 1),
        ("3 sqr bill cranks - 2 red craw 1 chart black", 2),
        ("jerkbaits - bone, ghost minnow", 2),
        ("black frog and white frog", 2),
        ("2x popper bone, 1x popper black, 3 frogs black", 3),
    ],
)
def test_a_line_is_several_lures_where_it_tells_several(line, parts):
    assert len(lures({"line": line})["parts"]) == parts


def test_a_trailer_stands_on_its_jig_and_has_no_row():
    line = "gp/org casting jig 1/2 trailer gp"
    row = lures({"line": line})
    assert (row["category"], row["weight_oz"], row["unsure"]) == ("casting-jig", 0.5, [])
    assert row["with"] == {"category": "jig-trailer", "colour": "green-pumpkin-black", "count": 1, "size_in": None}
    again = lures({"lines": [line, "same w/ no trailer"]})["rows"][1]
    assert (again["category"], again["colour"], again["with"]) == ("casting-jig", "green-pumpkin-orange", None)


def test_a_file_of_lines_keeps_what_a_page_keeps_of_them():
    lines = ["tube gp 3.5", "flipping jig gp 3/8 w/ gp craw", "2 popper bone + 1 popper black", "frog white $7.49"]
    table = headed(Sheet("", [[line] for line in lines], range(1, 5)), house_palette(), "imperial")
    cells = [dict(zip(table.columns, row, strict=True)) for row in table.rows]
    assert [one["typed"] for one in cells] == [*lines[:2], lines[2], lines[2], lines[3]]
    assert table.numbers == [1, 2, 3, 3, 4]
    assert (cells[0]["name"], cells[1]["note"], cells[4]["price"]) == ("tube, gp", "with gp craw", "7.49")


def test_a_described_colour_is_like_its_tone_with_what_was_told():
    palette = house_palette()
    made = describe_colour(palette, "worm", "Mine", "smoke", "semi", "orange", "pale-belly")
    assert (made.tone, made.opacity, made.flake_srgb, made.sold_in) == ("smoke", "semi", ("#f07f1e",), ("worm",))
    assert "pale-belly" in made.accents
    for tone in Tone:
        assert describe_colour(palette, "popper", "Mine", tone, "opaque", "", "").tone == tone
    with pytest.raises(ValueError, match="bars"):
        describe_colour(palette, "worm", "Mine", "smoke", "semi", "", "bars")
