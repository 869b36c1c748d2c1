"""Days in a line, as people write them."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tackle.base.errors import InvalidInput
from tackle.base.units import read_visibility_in
from tackle.intake.dates import find_day

TODAY = date(2026, 5, 14)  # a Thursday


@pytest.mark.parametrize(
    ("line", "system", "day"),
    [
        ("32 in, silt, 1 May, below the bridge", "imperial", date(2026, 5, 1)),
        ("32 in May 1", "imperial", date(2026, 5, 1)),
        ("32 in May 1st, 2025", "imperial", date(2025, 5, 1)),
        ("1st of June, 30 in", "imperial", date(2025, 6, 1)),
        ("30 in 3/5/2026", "imperial", date(2026, 3, 5)),
        ("75 3/5/2026", "metric", date(2026, 5, 3)),
        ("30 in 3/5", "imperial", date(2026, 3, 5)),
        ("75 cm 3/5", "metric", date(2026, 5, 3)),
        ("30 in 13/5/26", "imperial", date(2026, 5, 13)),  # one way to read it
        ("75 cm 13.5.", "metric", date(2026, 5, 13)),
        ("30 in 13.5.", "imperial", date(2026, 5, 13)),
        ("75 cm 13.5.2025", "metric", date(2025, 5, 13)),
        ("75 cm 13. 5. 2025", "metric", date(2025, 5, 13)),
        ("30 in 2026-05-04", "imperial", date(2026, 5, 4)),
        ("30 in yesterday", "imperial", date(2026, 5, 13)),
        ("30 in the day before yesterday", "imperial", date(2026, 5, 12)),
        ("30 in today", "imperial", date(2026, 5, 14)),
        ("30 in on Saturday", "imperial", date(2026, 5, 9)),
        ("30 in last Thursday", "imperial", date(2026, 5, 7)),
        ("30 in 20 Dec", "imperial", date(2025, 12, 20)),
        ("30 in 29 Feb", "imperial", date(2024, 2, 29)),
        ("30 in Sept. 3", "imperial", date(2025, 9, 3)),
        ("30 in silt dam, after rain", "imperial", None),
        ("30 in 1/2 mile below the dam", "imperial", None),
        ("2.5 ft at the marsh", "imperial", None),
        ("30 in may be deeper", "imperial", None),
    ],
)
def test_a_day_is_read_as_people_write_it(line, system, day):
    assert find_day(line, TODAY, system)[0] == day


@pytest.mark.parametrize(
    "line", ["30 in 31/31/2026", "30 in May 45", "30 in 30 Feb", "75 cm 40.40.", "30 in 2026-13-40"]
)
def test_what_looks_like_a_day_and_is_none_is_refused(line):
    with pytest.raises(InvalidInput, match="is no day"):
        find_day(line, TODAY)


@pytest.mark.parametrize("line", ["30 in 15 May 2026", "30 in 2027-01-01", "30 in 5/15/2026"])
def test_a_day_to_come_is_refused(line):
    with pytest.raises(InvalidInput, match="still to come"):
        find_day(line, TODAY)


@given(
    st.dates(date(1990, 1, 1), TODAY), st.sampled_from(["%d %B %Y", "%B %d, %Y", "%Y-%m-%d", "%d.%m.%Y", "%-d %b %Y"])
)
def test_every_day_is_read_as_it_was_written(day, form):
    assert find_day(f"30 in silt {day.strftime(form)} dam", TODAY)[0] == day


@given(st.integers(0, 364))
def test_a_day_without_a_year_is_the_last_such_day(ago):
    day = TODAY - timedelta(days=ago)
    assert find_day(f"30 in {day:%-d %B}", TODAY)[0] == day


@pytest.mark.parametrize(
    ("text", "system", "inches"),
    [("0.8", "metric", 31.5), ("1,2", "metric", 47.24), ("80", "metric", 31.5), ("75.5 cm", "metric", 29.72),
     ("0.8", "imperial", 0.8), ("30", "imperial", 30)],
)  # fmt: skip
def test_a_metric_number_with_a_point_is_in_metres(text, system, inches):
    assert read_visibility_in(text, system, "reading") == pytest.approx(inches, abs=0.01)
