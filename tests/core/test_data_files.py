"""Data files are checked on load, and each error names file, entry and field."""

import pytest

from tackle.colours.palette import house_palette, load_palette
from tackle.errors import DataError
from tackle.schools.evaluation import rank
from tackle.schools.rulebook import house_rulebooks, load_rulebook
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.situation import Situation
from tackle.vocabulary import Light

CARD = """
[[card]]
id = "plain"
name = "Plain"
code = "PL"
tone = "black"
opacity = "opaque"
finish = "matte"
flake = "none"
brightness = "natural"
sold_in = ["worm"]
back = "#000000"
side = "#000000"
belly = "#000000"
"""
SCHOOL = '[school]\nid = "x"\nname = "X"\nquestion = "?"\nshort = "s"\norder = 1\n'
CALL = """
[[call]]
id = "one"
for = "worm"
when = { visibility_in = { from = 24 } }
want = { tone = "black" }
grade = "works"
why = "Because."
"""


def write(tmp_path, text):
    path = tmp_path / "file.toml"
    path.write_text(text)
    return path


@pytest.mark.parametrize(
    ("old", "new", "said"),
    [
        ('tone = "black"', 'tone = "blak"', "file.toml: plain: tone: 'blak' is not one of"),
        ('back = "#000000"', 'back = "black"', "file.toml: plain: back"),
        ('sold_in = ["worm"]', 'sold_in = ["wurm"]', "file.toml: plain: sold_in: 'wurm'"),
        ('flake = "none"', 'flake = "fine"', "file.toml: plain: flake_hues"),
        ('name = "Plain"', 'nome = "Plain"', "file.toml: plain: nome"),
        ("[[card]]", "[[card", "file.toml: file: syntax: .*line 2"),
    ],
)
def test_a_wrong_card_is_named(tmp_path, old, new, said):
    with pytest.raises(DataError, match=said):
        load_palette(write(tmp_path, CARD.replace(old, new)))


def test_a_code_stands_once_in_a_category(tmp_path):
    with pytest.raises(DataError, match=r"file.toml: other: code: PL is plain's in worm"):
        load_palette(write(tmp_path, CARD + CARD.replace('"plain"', '"other"')))


@pytest.mark.parametrize(
    ("old", "new", "said"),
    [
        ('for = "worm"', 'for = "wurm"', "file.toml: one: for: 'wurm'"),
        ("visibility_in", "visibility", "file.toml: one: when.visibility: is not a condition"),
        ("{ from = 24 }", "{ from = 24, below = 20 }", "file.toml: one: when.visibility_in: is an empty range"),
        ("{ from = 24 }", "24", "file.toml: one: when.visibility_in: is not a range"),
        ('tone = "black"', 'tone = "blak"', "file.toml: one: want.tone: 'blak'"),
        ('want = { tone = "black" }', "want = {}", "file.toml: one: want: names no trait"),
        ('grade = "works"', 'grade = "fine"', "file.toml: one: grade"),
        ('why = "Because."', "", "file.toml: one: why: is missing"),
    ],
)
def test_a_wrong_call_is_named(tmp_path, old, new, said):
    with pytest.raises(DataError, match=said):
        load_rulebook(write(tmp_path, SCHOOL + CALL.replace(old, new)))


@pytest.mark.parametrize("category", ["worm", "casting-jig", "jerkbait", "walking-topwater"])
@pytest.mark.parametrize("band", BANDS)
@pytest.mark.parametrize("light", Light)
def test_some_school_answers_every_clarity_and_light(category, band, light):
    situation = Situation(category, HOUSE_LADDER.typical_in(band), light)
    cards = house_palette().sold_in(category)
    grades = {verdict.grade for book in house_rulebooks().values() for verdict in rank(book, cards, situation)}
    assert grades & {"go-to", "works"}
