"""Data files are checked on load, and each error names file, entry and field."""

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from tackle.base.errors import DataError
from tackle.base.vocabulary import CATEGORIES
from tackle.colours.palette import coded_apart, house_palette, load_palette
from tackle.commands.advise import advise
from tackle.schools.review import contradictions, lattice, lattice_share, never_win
from tackle.schools.rulebook import house_rulebooks, load_rulebook
from tackle.situations.columns import tabulate
from tackle.situations.regions import load_regions
from tackle.situations.starting import load_kinds

CASES = [json.loads(line) for line in (Path(__file__).parent / "field_cases.jsonl").read_text().splitlines()]
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
        ('tone = "black"', 'tone = "blak"', "file.toml: plain: tone: 'blak' is not allowed; allowed: one of"),
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


def test_a_code_stands_once_in_the_palette(tmp_path):
    other = CARD.replace('"plain"', '"other"').replace('["worm"]', '["popper"]')
    with pytest.raises(DataError, match=r"file.toml: other: code: PL is plain's"):
        load_palette(write(tmp_path, CARD + other))


def test_a_card_laid_beside_others_gets_a_code_of_its_own():
    house = house_palette().cards
    mine = [replace(house[0], id=f"own-{n}") for n in range(3)]
    codes = [card.code for card in coded_apart(mine, house)]
    assert len({*codes, *(card.code for card in house)}) == len(house) + 3
    assert coded_apart(house, []) == list(house)


@pytest.mark.parametrize(
    ("old", "new", "said"),
    [
        ('for = "worm"', 'for = "wurm"', "file.toml: one: for: 'wurm'"),
        ("visibility_in", "visibility", "file.toml: one: when.visibility: is not a condition"),
        ("{ from = 24 }", "{ from = 24, below = 20 }", "file.toml: one: when.visibility_in: is an empty range"),
        ("{ from = 24 }", "24", "file.toml: one: when.visibility_in: 24 is not allowed"),
        ('tone = "black"', 'tone = "blak"', "file.toml: one: want.tone: 'blak'"),
        ('want = { tone = "black" }', "want = {}", "file.toml: one: want: names no trait"),
        ('grade = "works"', 'grade = "fine"', "file.toml: one: grade"),
        ('why = "Because."', "", "file.toml: one: why: is missing"),
    ],
)
def test_a_wrong_call_is_named(tmp_path, old, new, said):
    with pytest.raises(DataError, match=said):
        load_rulebook(write(tmp_path, SCHOOL + CALL.replace(old, new)))


@pytest.mark.parametrize("book", house_rulebooks().values(), ids=lambda book: book.id)
def test_no_call_of_ours_is_idle_or_contradicts_another(book):
    assert [call.id for call, _ in never_win(book, house_palette())] == []
    assert [(a.id, b.id) for a, b in contradictions(book, house_palette())] == []


@pytest.mark.parametrize("category", CATEGORIES)
def test_the_schools_together_leave_nothing_unanswered(category):
    columns = tabulate(lattice(category)[::7])
    shares = [lattice_share(book, category, house_palette(), columns) for book in house_rulebooks().values()]
    assert np.logical_or.reduce([share.answered for share in shares]).all()
    assert np.mean([share.mean_go_to for share in shares]) < 1 / 3


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["id"])
def test_the_schools_say_what_anglers_hold(case):
    verdicts = advise({"situation": case["situation"]})["verdicts"]
    schools = case.get("school") or [s for s, cards in verdicts.items() if holds(case, cards)][:1]
    assert schools
    for school in [schools] if isinstance(schools, str) else schools:
        assert holds(case, verdicts[school]), (school, [c["colour"] for c in verdicts[school]][:5])


def holds(case, cards) -> bool:
    """Whether a wanted pattern matches one of the first go-tos, and none that is refused is recommended."""

    def matches(pattern, card):
        have = {name: value if isinstance(value, list) else [value] for name, value in card["traits"].items()}
        return all(set(have[name]) & set(allowed) for name, allowed in pattern.items())

    first = [card for card in cards if card["grade"] == "go-to"][: case.get("within", 3)]
    praised = [card for card in cards if card["grade"] != "avoid"]
    wanted = not case.get("want") or any(matches(p, card) for p in case["want"] for card in first)
    return wanted and not any(matches(p, card) for p in case.get("refuse", []) for card in praised)


def test_a_contradiction_and_an_idle_call_are_found(tmp_path):
    warning = CALL.replace('"one"', '"two"').replace('"works"', '"avoid"')
    idle = CALL.replace('"one"', '"three"').replace('tone = "black"', 'tone = "tiger"')
    wider = CALL.replace('"one"', '"four"').replace("{ from = 24 }", "{ from = 12 }").replace('"works"', '"go-to"')
    book = load_rulebook(write(tmp_path, SCHOOL + CALL + warning + idle + wider))
    found = {(a.id, b.id) for a, b in contradictions(book, house_palette())}
    assert found == {("two", "one"), ("two", "four")}
    assert {call.id for call, _ in never_win(book, house_palette())} == {"one", "three"}


def test_the_worked_example_of_the_docs_is_a_good_rulebook(tmp_path):
    page = (Path(__file__).parent.parent.parent / "docs" / "rulebooks.md").read_text()
    book = load_rulebook(write(tmp_path, page.split("```toml\n")[1].split("```")[0]))
    assert len(book.calls) == 2
    assert not list(never_win(book, house_palette()))
    assert not list(contradictions(book, house_palette()))


KIND = """
[[kind]]
id = "pond"
throws = ["worm", "popper", "frog"]
salinity = "fresh"
depth_ft = 2
visibility = [[24, 36, 54], [12, 24, 42], [14, 26, 44], [18, 30, 48]]
stain = ["none", "silt", "algae", "none"]
food = [{ sunfish = "main" }, { sunfish = "main" }, { insect = "some" }, {}]
cover = { open = 4, grass = 4 }
"""


@pytest.mark.parametrize(
    ("old", "new", "said"),
    [
        ('"fresh"', '"sweet"', "file.toml: pond: salinity: 'sweet' is not allowed; allowed: one of fresh"),
        ('id = "pond"', "", "file.toml: a kind of water with no id: id: is missing"),
        ("depth_ft = 2", "depth_ft = nan", "file.toml: pond: depth_ft: nan is not allowed; allowed: a number"),
        ("grass = 4", "gras = 4", "file.toml: pond: cover: 'gras'"),
        ("[[kind]]", KIND + "[[kind]]", "file.toml: pond: id: stands twice"),
    ],
)
def test_a_wrong_kind_of_water_is_named(tmp_path, old, new, said):
    assert list(load_kinds(write(tmp_path, KIND))) == ["pond"]
    with pytest.raises(DataError, match=said):
        load_kinds(write(tmp_path, KIND.replace(old, new, 1)))


REGION = """
[[region]]
id = "warm-coast"
latitude = 31
mean_f = 70
swing_f = 16
coldest = 1.7
dryness = 0.5
quarters = [12, 2, 5, 10]
hatch = { mullet = [9, 10] }
"""


@pytest.mark.parametrize(
    ("old", "new", "said"),
    [
        ("latitude = 31", "latitude = 80", "warm-coast: latitude"),
        ("[12, 2, 5, 10]", "[12, 5, 2, 10]", "quarters: are not four months in the order"),
        ("mullet = [9, 10]", "mullet = [13]", "hatch: mullet"),
        ("[[region]]", REGION + "[[region]]", "id: stands twice"),
    ],
)
def test_a_wrong_region_is_named(tmp_path, old, new, said):
    assert list(load_regions(write(tmp_path, REGION))) == ["warm-coast-north", "warm-coast-south"]
    with pytest.raises(DataError, match=said):
        load_regions(write(tmp_path, REGION.replace(old, new, 1)))
