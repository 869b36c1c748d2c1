"""A year from records: truths are drawn and measured here by other means, and held against what is found."""

import math
import random
from datetime import date, datetime, timedelta
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tackle.records.measured import Measured
from tackle.records.posterior import Seen, known_year
from tackle.records.weather import SolarTime, cloud_from_radiation, daily_weather, wet_days
from tackle.situations.together import shares_together
from tackle.situations.visibility import Spread

TODAY = date(2026, 6, 1)
GUESS = {month: Spread(14 + month, 24 + 2 * month, 40 + 3 * month) for month in range(1, 13)}


def simulated(pick, count, years=6):
    """The usual sight of twelve months, wandering from the guess, and readings of it."""
    off, step, usual = pick.gauss(0, 0.35), 0.0, {}
    for month in [*range(1, 13)] * 3:
        step = 0.6 * step + pick.gauss(0, 0.2)
        usual[month] = GUESS[month].usual_in * math.exp(off + step)
    seen = []
    for _ in range(count):
        day = TODAY - timedelta(days=pick.randrange(years * 365))
        guess = GUESS[day.month]
        seen.append(
            Seen(day, usual[day.month] * math.exp(pick.gauss(0, math.log(guess.high_in / guess.low_in) / 2.563)))
        )
    return usual, seen


@pytest.mark.parametrize("count", [3, 30, 150])
def test_nine_times_of_ten_the_usual_sight_lies_in_the_interval(count):
    pick, held = random.Random(count), []
    for _ in range(40):
        usual, seen = simulated(pick, count)
        known = known_year(GUESS, (), seen, TODAY, half_life_y=1000)
        held += [known.intervals[month][0] <= usual[month] <= known.intervals[month][1] for month in usual]
    assert 0.84 < np.mean(held) < 0.97


def test_more_readings_leave_less_open_and_days_add_up():
    pick = random.Random(2)
    days = dict.fromkeys(range(1, 13), 4.0)
    widths = []
    for count in (0, 10, 100, 1000):
        bands = known_year(GUESS, (), simulated(pick, count)[1], TODAY).band_days(days)
        widths.append((bands[:, 1] - bands[:, 0]).sum())
        assert bands[:, 0].sum() <= 48 <= bands[:, 1].sum()
    assert all(before > after for before, after in pairwise(widths))


def test_a_month_borrows_from_its_neighbours_and_the_new_outweighs_the_old():
    june = [Seen(date(2026, 6, 1) - timedelta(days=365 * back), 4 * GUESS[6].usual_in) for back in range(5)]
    known = known_year(GUESS, (), june, TODAY)
    moved = {month: known.months[month].usual_in / GUESS[month].usual_in for month in GUESS}
    assert moved[6] > moved[7] > moved[9] > 1
    said = known_year(GUESS, range(1, 13), june, TODAY)
    assert moved[6] > said.months[6].usual_in / GUESS[6].usual_in  # what its angler said is nearer to the truth
    old = [Seen(date(2006, 6, 1) + timedelta(days=30 * week), 12.0) for week in range(3)]
    new = [Seen(date(2026, 6, 1) - timedelta(days=10 * week), 90.0) for week in range(3)]
    short, long = (known_year(GUESS, (), [*old, *new], TODAY, years).months[6].usual_in for years in (2, 50))
    assert short > long
    week = [Seen(date(2026, 6, 1 + day), 90.0) for day in range(7)]
    assert known_year(GUESS, (), week, TODAY).rests[6].weight < 2.1


def test_what_is_worked_out_by_a_rough_curve_never_says_more_than_the_curve():
    pick = random.Random(3)
    days = [TODAY - timedelta(days=8 * place) for place in range(300)]
    seen, rough = ([Seen(day, 40 * math.exp(pick.gauss(0, 0.3)), None, off) for day in days] for off in (0.0, 0.5))
    wide = [math.log(high / low) for known in (known_year(GUESS, (), seen, TODAY), known_year(GUESS, (), rough, TODAY))
            for low, high in [known.intervals[6]]]  # fmt: skip
    assert wide[1] > 3 * wide[0]
    assert wide[1] > 0.7  # half to twice is 1.4
    both = known_year(GUESS, (), [*seen[:40], *(Seen(one.day, one.inches * 2, None, 0.5) for one in rough)], TODAY)
    assert both.months[6].usual_in == pytest.approx(40, rel=0.15)  # what was seen says by how much the curve is off


def test_rain_is_told_apart_where_it_is_known():
    pick = random.Random(7)
    seen = []
    for place in range(400):
        wet, day = place % 2 == 0, TODAY - timedelta(days=5 * place)
        inches = GUESS[day.month].usual_in * (0.5 if wet else 1.0) * math.exp(pick.gauss(0, 0.2))
        seen.append(Seen(day, inches, 1.0 if wet else 0.0))
    often, seldom = (
        known_year(GUESS, (), seen, TODAY, 1000, dict.fromkeys(range(1, 13), share)).months[6].usual_in
        for share in (0.5, 0.05)
    )
    assert often < seldom
    assert seldom == pytest.approx(GUESS[6].usual_in, rel=0.12)


SHARES = st.lists(st.floats(0.01, 1), min_size=3, max_size=3).map(lambda told: np.array(told) / sum(told))
BANDS = st.lists(st.floats(0, 1), min_size=6, max_size=6).filter(lambda told: sum(told) > 0.1)


@given(
    BANDS.map(lambda told: np.array(told) / sum(told)),
    SHARES,
    SHARES,
    st.lists(st.integers(0, 9), min_size=54, max_size=54),
)
def test_counted_together_the_shares_of_each_stay_as_they_are(bands, sky, wind, seen):
    together = shares_together(bands, sky, wind, seen)
    assert together.sum(axis=(1, 2)) == pytest.approx(bands, abs=1e-3)
    assert together.sum(axis=(0, 2)) == pytest.approx(sky, abs=1e-3)
    assert shares_together(bands, sky, wind) == pytest.approx(np.einsum("b,s,w->bsw", bands, sky, wind))


def test_murk_that_came_with_cloud_is_expected_with_cloud():
    bands, third = np.array([0, 0.5, 0, 0.5, 0, 0]), np.full(3, 1 / 3)
    seen = np.zeros((6, 3, 3), dtype=int)
    seen[1, 2], seen[3, 0] = 20, 20  # dirty under cloud, fair under sun
    together = shares_together(bands, third, third, tuple(seen.ravel()))
    assert together[1, 2].sum() > 2 * together[1, 0].sum()


def test_the_weather_of_a_day_and_of_those_before():
    noon = [datetime(2025, 5, day, 12) for day in range(1, 6)]
    rain = [Measured(one, "", inches) for one, inches in zip(noon, (0.0, 0.5, 0.0, 0.0, 0.0), strict=True)]
    cloud = [Measured(noon[2], "", 0.1), Measured(noon[2], "", 0.3)]
    told = daily_weather([one.date() for one in noon], cloud, [Measured(noon[2], "", 20.0)], rain)
    assert (told[noon[2].date()].sky, told[noon[2].date()].wind) == ("bright", "chop")
    assert [told[one.date()].rain_in for one in noon] == [None, None, 0.5, 0.5, 0.0]
    assert wet_days(rain) == {5: (2, 2)}
    high = datetime(2025, 6, 21, 12)
    for watts, sky in ((1000, 0.0), (400, 0.8), (60, 1.0)):  # at noon in June at 40 degrees
        assert cloud_from_radiation([Measured(high, "", watts)], SolarTime(40.0, 0.0))[0].value == pytest.approx(
            sky, abs=0.17
        )
    assert not cloud_from_radiation([Measured(datetime(2025, 6, 21, 1), "", 0.0)], SolarTime(40.0, 0.0))
