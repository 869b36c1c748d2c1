"""Numbers as a page says them: whole days that add up, one clock, one unit a range."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tackle.base.units import write_range
from web.common.ui.words import adding_up, clock_said, days_said, total_shown

DAYS = st.floats(0, 400)


@given(st.lists(DAYS, min_size=1, max_size=40))
def test_parts_add_up_to_what_is_shown_of_all(parts):
    shown = adding_up(parts)
    assert total_shown(shown) == f"{int(sum(parts) + 0.5)}"
    assert all(abs(float(one) - part) < 1 for one, part in zip(shown, parts, strict=True))


@given(st.lists(DAYS, min_size=1, max_size=40))
def test_a_file_has_tenths_that_add_up(parts):
    assert float(total_shown(adding_up(parts, 10))) == pytest.approx(sum(parts), abs=0.06)


@pytest.mark.parametrize(("days", "said"), [(0, "0"), (0.2, "under 1"), (0.5, "1"), (2.4, "2"), (60.7, "61")])
def test_days_are_whole_and_nothing_that_is_some_is_said_to_be_none(days, said):
    assert days_said(days) == said


@pytest.mark.parametrize(
    ("time", "imperial", "metric"),
    [(0, "12 am", "00:00"), (6, "6 am", "06:00"), (12, "12 pm", "12:00"), (30, "6 am", "06:00"),
     ("17:05", "5:05 pm", "17:05"), ("05:00", "5 am", "05:00")],
)  # fmt: skip
def test_one_clock_by_the_readers_habit(time, imperial, metric):
    assert (clock_said(time, "imperial"), clock_said(time, "metric")) == (imperial, metric)


@pytest.mark.parametrize(
    ("low", "below", "said"),
    [(49.2, 129.6, "4.1 – 10.8 ft"), (30, 60, "30 – 60 in"), (60, 144, "5 – 12 ft"), (8, 15, "8 – 15 in")],
)
def test_a_range_has_one_unit(low, below, said):
    assert write_range(low, below, "imperial") == said
