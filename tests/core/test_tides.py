"""Tides: constants as they are typed and as they are found again in a record, held against UTide's own prediction."""

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pytest
import utide

from tackle.base.errors import InvalidInput
from tackle.base.vocabulary import Tide
from tackle.records.harmonics import constants_in, fitted, tide_waves
from tackle.records.measured import Measured
from tackle.records.tides import flow_by_hour, level_ft, light_of_flow

PLACE = 31.0, -84.0
TYPED = "M2 1.5 ft 120\nS2, 0.4, 150\nN2 9 cm 100°\nK1 0.35 ft 20\nO1 0.3 ft 10"


def test_constants_are_read_as_tables_have_them():
    told = constants_in(TYPED, "imperial")
    assert told["M2"] == (1.5, 120.0)
    assert told["S2"] == (0.4, 150.0)
    assert told["N2"] == (pytest.approx(0.2953, abs=1e-3), 100.0)
    assert constants_in("m2 1 0", "metric")["M2"][0] == pytest.approx(3.2808, abs=1e-3)
    for wrong, said in (("M2 much 12", "line 1"), ("M2 1 2\nXX9 1 2", "line 2"), ("", "constants")):
        with pytest.raises(InvalidInput, match=said):
            constants_in(wrong, "metric")


def test_a_record_gives_its_constants_back_and_the_years_after_are_told_as_utide_tells_them():
    constants = constants_in(TYPED, "imperial")
    waves = tide_waves(constants, PLACE[0], [2024])[2024]
    begin = datetime(2024, 4, 1)
    moments = [begin + timedelta(hours=hour) for hour in range(24 * 90)]
    levels = [Measured(at, "", level_ft(waves, (at - timedelta(hours=PLACE[1] / 15)).replace(tzinfo=UTC)))
              for at in moments]  # fmt: skip
    fit = fitted(levels, PLACE)
    found = fit.constants
    assert fit.share > 0.99
    assert set(found) == set(constants)
    for name, (ft, lag) in constants.items():
        assert found[name][0] == pytest.approx(ft, abs=0.03)
        assert found[name][1] == pytest.approx(lag, abs=4)
    utc = np.array([np.datetime64(at - timedelta(hours=PLACE[1] / 15)) for at in moments])
    theirs = utide.solve(
        utc, np.array([one.value for one in levels]), lat=PLACE[0], conf_int="none", trend=False, verbose=False
    )
    later = [datetime(2027, 2, 1) + timedelta(hours=hour) for hour in range(24 * 20)]
    told = utide.reconstruct(np.array(later, dtype="datetime64[s]"), theirs, verbose=False).h
    ours = tide_waves(found, PLACE[0], [2027])[2027]
    mine = [level_ft(ours, at.replace(tzinfo=UTC)) for at in later]
    assert np.abs(np.array(mine) - told).max() < 0.03 * np.abs(told).max()
    assert fitted(levels[:200], PLACE) is None
    assert fitted([Measured(at, "", 1.0) for at in moments], PLACE) is None


def test_the_flow_turns_as_the_level_does():
    years = tide_waves({"M2": (2.0, 0.0)}, PLACE[0], [2026])
    day = date(2026, 5, 10)
    flows = flow_by_hour(years, PLACE[1], day, range(30))
    assert len(flows) == 30
    for hour in range(29):
        at = datetime(2026, 5, 10, tzinfo=UTC) + timedelta(hours=hour - PLACE[1] / 15)
        rise = level_ft(years[2026], at + timedelta(hours=1)) - level_ft(years[2026], at)
        assert (
            flows[hour] is (Tide.SLACK if abs(rise) < 0.25 * 1.01 else Tide.RISING if rise > 0 else Tide.FALLING)
            or abs(abs(rise) - 0.25) < 0.03
        )
    assert flow_by_hour(years, PLACE[1], date(2031, 1, 1), range(24)) == {}
    light = light_of_flow(years, *PLACE, 2026, 5)
    assert sum(sum(told.values()) for told in light.values()) == pytest.approx(1)
    assert light[Tide.RISING]["day"] > light[Tide.RISING]["low"] > 0


@pytest.mark.parametrize(
    ("longitude", "zone"),
    [(-84.0, "America/New_York"), (0.5, "Europe/London"), (151.0, "Australia/Sydney"), (-122.0, "America/Los_Angeles")],
)
def test_hours_of_the_clock_are_right_through_daylight_saving(longitude, zone):
    """A year of hourly levels by the clock of the place, with noise of a tenth of the range: of the hours of a later
    year more than half an hour from slack 99 of 100 run as they do."""
    home, pick = ZoneInfo(zone), np.random.default_rng(4)
    true = tide_waves(constants_in(TYPED, "imperial"), 31.0, [2024, 2026])
    begin = datetime(2024, 1, 2, tzinfo=UTC)
    moments = [begin + timedelta(hours=hour) for hour in range(24 * 360)]
    levels = [level_ft(true[2024], at) for at in moments]
    noise = (max(levels) - min(levels)) / 10
    seen = [Measured(at.astimezone(home), "", level + pick.normal(0, noise))
            for at, level in zip(moments, levels, strict=True)]  # fmt: skip
    years = tide_waves(fitted(seen, (31.0, longitude)).constants, 31.0, [2026])
    right = told = 0
    for ahead in range(0, 360, 3):
        day = date(2026, 1, 2) + timedelta(days=ahead)
        for hour, flow in flow_by_hour(years, longitude, day, range(24), home).items():
            at = (datetime(day.year, day.month, day.day, tzinfo=home) + timedelta(hours=hour + 0.5)).astimezone(UTC)
            around = [at + timedelta(minutes=minutes) for minutes in (-30, 0, 30)]
            rates = [level_ft(true[2026], one + timedelta(minutes=5)) - level_ft(true[2026], one) for one in around]
            if all(rate > 0 for rate in rates) or all(rate < 0 for rate in rates):
                told += 1
                right += flow is not (Tide.FALLING if rates[0] > 0 else Tide.RISING)
    assert right >= 0.99 * told


def test_a_rivers_stage_is_no_tide():
    pick = np.random.default_rng(3)
    stage, seen = 4.0, []
    for hour in range(24 * 120):
        stage = 4.0 + 0.998 * (stage - 4.0) + pick.normal(0, 0.05) + (pick.random() < 0.002) * 2
        seen.append(Measured(datetime(2024, 1, 2) + timedelta(hours=hour), "", stage))
    assert fitted(seen, PLACE) is None
