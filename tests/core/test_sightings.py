"""What was seen to be eaten: read from a line, and what it makes of a month's food."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tackle.base.errors import InvalidInput
from tackle.base.vocabulary import Forage
from tackle.intake.sighting import read_sighting
from tackle.situations.seen_food import food_with_seen

TODAY = date(2026, 6, 3)


@pytest.mark.parametrize(
    ("line", "food", "day", "place"),
    [
        ("minnows at the dock, 14 May", "minnow", date(2026, 5, 14), "dock"),
        ("crayfish on the riprap 2025-09-01", "crawfish", date(2025, 9, 1), "riprap"),
        ("glass minnows, dam, Dec 24", "minnow", date(2025, 12, 24), "dam"),
        ("bluegill beds in the cove", "sunfish", TODAY, "beds cove"),
        ("young bass, may 2 2024", "young-bass", date(2024, 5, 2), ""),
    ],
)
def test_a_line_says_what_was_seen(line, food, day, place):
    seen = read_sighting(line, TODAY)
    assert (seen.food, seen.day, seen.place) == (food, day, place)


@pytest.mark.parametrize("line", ["flibber at the dock", "minnows 31 Feb", "", "14 May"])
def test_a_line_that_says_nothing_is_refused(line):
    with pytest.raises(InvalidInput):
        read_sighting(line, TODAY)


FOODS = st.sampled_from([Forage.SHAD, Forage.MINNOW, Forage.CRAWFISH])


@given(
    st.dictionaries(FOODS, st.sampled_from([1.0, 3.0]), max_size=3),
    st.dictionaries(st.integers(1, 12), st.dictionaries(FOODS, st.integers(1, 9), max_size=3), max_size=4),
    st.integers(1, 12),
)
def test_what_was_seen_only_ever_adds_to_its_food(said, seen, month):
    found = food_with_seen(said, seen, month)
    near = {month, month % 12 + 1, (month - 2) % 12 + 1}
    if not any(seen.get(one) for one in near):
        assert found == said
        return
    share = {food: weight / sum(said.values()) for food, weight in said.items()}
    after = {food: weight / sum(found.values()) for food, weight in found.items()}
    there = {food for one in near for food in seen.get(one, {})}
    assert there <= set(after)
    if len(there) == 1:
        (only,) = there
        assert after[only] >= share.get(only, 0.0)
