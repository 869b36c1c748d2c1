"""The time zones that a place may have."""

from zoneinfo import available_timezones

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tackle.situations.zones import nearest_zones


@pytest.mark.parametrize(
    ("place", "home", "first"),
    [((52.4, 13.2), "Europe/Berlin", "Europe/Berlin"), ((-33.7, 151.0), "", "Australia/Sydney"),
     ((30.0, -90.0), "America/Chicago", "America/Chicago"),  # the nearest town is elsewhere and has the same clock
     ((43.2, -71.5), "Europe/Berlin", "America/New_York"),
     ((31.4, -81.3), "", "America/New_York")],
)  # fmt: skip
def test_the_nearest_clock_comes_first_by_the_name_that_is_used_at_home(place, home, first):
    assert nearest_zones(*place, home)[0] == first


@given(st.floats(-66, 66), st.floats(-180, 180))
def test_each_place_has_zones_and_each_clock_once(latitude, longitude):
    found = nearest_zones(latitude, longitude)
    assert 1 <= len(found) <= 3
    assert set(found) <= available_timezones()
    assert len(found) == len(set(found))
