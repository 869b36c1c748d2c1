"""Doubles as the fish sees them: one, two, or in doubt on each of the angler's days."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tackle.colours.palette import house_palette
from tackle.sight.alike import days_alike, remaining_light
from tackle.sight.look import View
from tackle.sight.pairs import HardlyApart, better_dropped
from tackle.sight.parted import call_pairs

PALETTE = house_palette()
CARDS = PALETTE.sold_in("jerkbait")[:8]
WHITE, BONE = PALETTE.by_id["white-flat"], PALETTE.by_id["bone"]
VIEWS = {View("bass", float(inches), stain, 4.0, light): days for inches, stain, light, days in (
    (8, "silt", "overcast", 3.0), (24, "none", "bright", 5.0), (70, "tannic", "low", 2.0),
)}  # fmt: skip


def test_each_day_says_one_two_or_in_doubt():
    found = days_alike(CARDS, VIEWS)
    for one in range(len(CARDS)):
        for other in range(one):
            pair = [CARDS[one], CARDS[other]]
            sure = {view: call_pairs(pair, view) for view in VIEWS}
            assert found.one[one, other] == sum(VIEWS[view] * called.one[0, 1] for view, called in sure.items())
            two = sum(VIEWS[view] * called.two[0, 1] for view, called in sure.items())
            assert found.one[one, other] + found.doubt[one, other] + two == 10.0
    assert np.diag(found.one).tolist() == [10.0] * len(CARDS)


def test_green_pumpkin_and_dark_purple_are_not_one_all_year():
    green, purple = PALETTE.by_id["green-pumpkin-black"], PALETTE.by_id["dark-purple-plain"]
    views = {View("bass", float(inches), "none", 4.0, "bright"): 1.0 for inches in (8, 15, 24, 36, 60, 90)}
    assert days_alike([green, purple], views).one[0, 1] == 0
    assert days_alike([WHITE, BONE], views).one[0, 1] >= 4


def test_on_top_white_and_bone_are_one_from_below_in_any_light():
    views = {View("bass", 90.0, "none", 1.0, light): 1.0 for light in ("bright", "overcast", "night")}
    assert days_alike([WHITE, BONE], views, below=True).one[0, 1] == 3
    ghost = PALETTE.by_id["clear-ghost"]
    assert days_alike([WHITE, ghost], views, below=True).one[0, 1] < 3


@given(st.sampled_from(CARDS), st.sampled_from(["none", "silt", "algae", "tannic"]))
def test_less_is_left_the_deeper_and_the_murkier(card, stain):
    left = remaining_light(card, (8.0, 30.0, 90.0), (1.0, 4.0, 12.0, 40.0), stain, "bright", "bass")
    assert ((left >= 0) & (left < 1)).all()
    assert (np.diff(left, axis=0) <= 0).all()  # down
    assert (np.diff(left[1:], axis=1) >= 0).all()  # the clearer, the more


def test_red_goes_first_with_depth():
    red, green = PALETTE.by_id["red-craw-glass"], PALETTE.by_id["frog-green"]
    ratios = [
        remaining_light(red, (240.0,), (feet,), "none", "bright", "bass")
        / remaining_light(green, (240.0,), (feet,), "none", "bright", "bass")
        for feet in (1.0, 20.0, 60.0)
    ]
    assert ratios[0] > ratios[1] > ratios[2]


def test_two_are_nearly_one_or_part_by_their_share_of_the_days():
    def told(days, other=BONE):
        return HardlyApart("jerkbait", WHITE, other, days, 10.0)

    assert [told(days).nearly_one for days in (7.9, 8.0)] == [False, True]
    alike = HardlyApart("jerkbait", WHITE, WHITE, 5.0, 10.0)
    assert alike.parted_below
    assert not HardlyApart("jerkbait", WHITE, WHITE, 5.1, 10.0).parted_below
    assert not told(0.0, PALETTE.by_id["black-plain"]).parted_below  # nor are they alike in the hand


def test_of_two_that_are_nearly_one_the_cheaper_goes():
    days = {WHITE: 3.0, BONE: 5.0, PALETTE.by_id["black-plain"]: 1.0}
    drop, keep, cost = better_dropped(
        HardlyApart("jerkbait", BONE, WHITE, 9.0, 10.0), days, lambda cards: sum(days[one] for one in cards)
    )
    assert (drop, keep, cost) == (WHITE, BONE, 3.0)
