import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tackle.base.errors import InvalidInput
from tackle.base.vocabulary import Light, Season, Wind
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.columns import tabulate
from tackle.situations.season import find_season
from tackle.situations.situation import Situation, read_situation

GOOD = {"category": "worm", "visibility_in": 30, "light": "bright"}


def sight(**conditions) -> float:
    light = conditions.pop("light", Light.BRIGHT)
    situation = Situation("worm", conditions.pop("visibility_in"), light, **conditions)
    return float(tabulate([situation]).numbers["sight_in"][0])


@pytest.mark.parametrize(
    ("change", "field", "allowed"),
    [
        ({"light": "noon"}, "situation.light", "bright, broken"),
        ({"light": None}, "situation.light", "bright, broken"),
        ({"category": "spear"}, "situation.category", "shallow-crankbait"),
        ({"visibility_in": "30"}, "situation.visibility_in", "a number above 0"),
        ({"visibility_in": float("nan")}, "situation.visibility_in", "a number above 0"),
        ({"visibility_in": 0}, "situation.visibility_in", "a number above 0"),
        ({"month": 13}, "situation.month", "1 to 12"),
        ({"forage": ["pizza"]}, "situation.forage[0]", "shad"),
        ({"forage": "shad"}, "situation.forage", "a list"),
        ({"moon": "full"}, "situation.moon", "category"),
    ],
)
def test_refuses_with_field_and_what_is_allowed(change, field, allowed):
    with pytest.raises(InvalidInput) as refused:
        read_situation({**GOOD, **change})
    assert refused.value.field == field
    assert allowed in str(refused.value)


def test_bands_are_half_open():
    assert [HOUSE_LADDER.band_at(v) for v in (7.9, 8, 15, 30, 60, 143.9, 144)] == [
        "mud", "dirty", "stained", "fair", "clear", "clear", "gin",
    ]  # fmt: skip
    assert all(HOUSE_LADDER.band_at(HOUSE_LADDER.typical_in(band)) == band for band in BANDS)


@given(st.sampled_from(BANDS), st.floats(0.02, 0.98), st.integers(0, 3))
def test_a_step_down_is_one_band(band, share, steps):
    low, below = HOUSE_LADDER.band_range(band)
    visibility = max(low, 4) ** (1 - share) * (below or 288) ** share
    moved = HOUSE_LADDER.step_down(np.array([visibility]), np.array([steps]))[0]
    assert BANDS.index(HOUSE_LADDER.band_at(moved)) == max(BANDS.index(band) - steps, 0)


def test_light_at_the_lure():
    assert sight(visibility_in=42) == 42
    assert sight(visibility_in=42, wind=Wind.RIPPLE) == 42
    assert 30 < sight(visibility_in=42, light=Light.OVERCAST) < 42
    assert sight(visibility_in=32, light=Light.OVERCAST) < 30
    assert HOUSE_LADDER.band_at(sight(visibility_in=42, light=Light.LOW, wind=Wind.CHOP)) == "stained"
    assert sight(visibility_in=240, depth_ft=14) == 240
    assert HOUSE_LADDER.band_at(sight(visibility_in=240, depth_ft=16)) == "clear"
    assert HOUSE_LADDER.band_at(sight(visibility_in=240, depth_ft=40, light=Light.OVERCAST, wind=Wind.CHOP)) == "fair"
    assert sight(visibility_in=240, light=Light.NIGHT) == 0


def test_season_from_temperature_and_month():
    assert find_season(52, 3) is Season.PRESPAWN
    assert find_season(62, 10) is Season.FALL
    assert find_season(41, 11) is Season.WINTER
    # From August on a water of that warmth is cooling, before that it is warming.
    assert find_season(62, 8) is Season.FALL
    assert find_season(62, 7) is not Season.FALL
    assert find_season(None, 7) is Season.SUMMER
    assert find_season(None, None) is None
