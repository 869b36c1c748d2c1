"""The fish's eye against what anglers rule: one colour or two, and which is found first."""

from dataclasses import replace
from hashlib import sha256

import numpy as np
import pytest

from tackle.base.errors import DataError
from tackle.sight.look import View
from tackle.sight.parted import how_far
from tackle.sight.ruled import load_rulings, ruling, rulings
from tackle.sight.spectra import assumptions

WATERS = [
    View("bass", 15, "silt", 2, "bright"), View("bass", 36, "none", 3, "bright"), View("bass", 84, "none", 5, "bright"),
    View("bass", 84, "none", 5, "overcast"), View("bass", 48, "tannic", 3, "broken"),
]  # fmt: skip


def area_under_curve(view, assumed=None):
    """How likely two that are two are further apart than two that are one (Mann & Whitney 1947)."""
    far = {"one": [], "two": []}
    for pair in rulings().pairs:
        far[pair.anglers].append(how_far((pair.first, pair.second), view, pair.below, assumed)[0, 1])
    return float((np.array(far["two"])[:, None] > np.array(far["one"])[None]).mean())


@pytest.mark.parametrize("view", WATERS)
def test_what_anglers_call_two_is_further_apart_than_what_they_call_one(view):
    assert area_under_curve(view) >= 0.85


@pytest.mark.parametrize("name", ["weber", "dark", "side_light", "background", "range_share"])
@pytest.mark.parametrize("times", [0.5, 2.0])
def test_that_does_not_hang_on_any_one_constant(name, times):
    changed = assumptions().with_values(**{name: assumptions().number(name) * times})
    assert area_under_curve(WATERS[1], changed) >= 0.83


def test_who_is_right_is_told_of_each_pair_in_which_the_eye_says_the_opposite_and_of_no_other():
    found = rulings()
    told = {(pair.first.id, pair.second.id, pair.below) for pair in found.pairs if pair.right}
    assert told == {(pair.first.id, pair.second.id, pair.below) for pair in found.parting()}
    assert 0 < len(told) < len(found.pairs) / 8


def test_what_is_found_first_is_what_anglers_say_or_it_is_explained():
    found = rulings().first
    assert len(found) == 9
    assert [one.right for one in found if not one.holds()] == ["anglers"]
    assert not [one for one in found if one.holds() and one.right]


def test_white_and_bone_are_one_from_the_side_and_from_below():
    pairs = [pair for pair in rulings().pairs if {pair.first.id, pair.second.id} == {"white-flat", "bone"}]
    assert sorted(pair.below for pair in pairs) == [False, True]
    for pair in pairs:
        assert {pair.eye_says(view) for view in WATERS[:2]} == {"one"}
        assert "two" not in {pair.eye_says(view) for view in WATERS}
    side = next(pair for pair in pairs if not pair.below)
    assert ruling(side.second, side.first) == side


def test_tips_and_flash_part_two_of_one_body():
    by_pair = {(pair.first.id, pair.second.id): pair for pair in rulings().pairs}
    assert by_pair["brown-plain", "brown-orange"].eye_says(WATERS[2]) == "two"
    chrome = by_pair["shad-matte", "shad-chrome"]
    sunny, cloudy = (
        how_far((chrome.first, chrome.second), replace(WATERS[2], light=sky)) for sky in ("bright", "overcast")
    )
    assert sunny[0, 1] > cloudy[0, 1]


def test_the_constants_are_those_that_were_there_before_the_list_was_read():
    told = assumptions().told
    names = ("weber", "dark", "side_light", "background", "limit", "light", "flash", "below", "stain")
    frozen = repr([told[name] for name in names] + [told["fluorescence"], told["eye"]["bass"], told["lure"]["flake"]])
    assert sha256(frozen.encode()).hexdigest()[:12] == "a55121f9bbcc"


@pytest.mark.parametrize(
    "wrong",
    ['anglers = "three"', 'anglers = "one"\nseen = "above"', 'anglers = "one"\nright = "me"\nbecause = "x"',
     'anglers = "one"\nsecond = "mauve"'],
)  # fmt: skip
def test_a_broken_list_is_named(tmp_path, wrong):
    path = tmp_path / "same.toml"
    there = '[there]\neye = "bass"\nvisibility_in = 84\nstain = "none"\ndepth_ft = 5\nlight = "bright"\n'
    second = "" if "second" in wrong else 'second = "white-flat"\n'
    path.write_text(f'{there}[[pair]]\nfirst = "bone"\n{second}why = "x"\n{wrong}\n')
    with pytest.raises(DataError, match="pair 1"):
        load_rulings(path)
