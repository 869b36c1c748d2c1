"""The list of days: whatever a water is like, its days add up."""

from collections import Counter
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tackle.base.errors import InvalidInput
from tackle.base.vocabulary import Cover, Forage, Light, Season, Stain, Target
from tackle.situations.clarity import BANDS
from tackle.situations.columns import tabulate
from tackle.situations.expected import expected_days, without_rare
from tackle.situations.regions import region_at, regions
from tackle.situations.rows import MILLION
from tackle.situations.sky import Climate, Observed, SkyShares, Typed, read_observations
from tackle.situations.starting import first_guess, kinds
from tackle.situations.sun import HOURS, sun_shares
from tackle.situations.visibility import GUESS_COUNTS_AS, Spread, pulled
from tackle.situations.water import FOOD_WEIGHT, Forbidden, Month, Water, target_said

THROWN = ("worm", "jerkbait", "inshore-shrimp")
spreads = st.lists(st.floats(2, 400), min_size=3, max_size=3).map(lambda three: Spread(*sorted(three)))
months = st.builds(
    Month,
    spread=spreads,
    stain=st.sampled_from(Stain),
    temp_f=st.floats(33, 92),
    food=st.dictionaries(st.sampled_from(Forage), st.sampled_from(list(FOOD_WEIGHT.values())), max_size=3),
    days=st.sampled_from([0, 0.33, 1, 4, 7.5, 31]),
    hours=st.frozensets(st.sampled_from(HOURS), min_size=1),
)
waters = st.builds(
    Water,
    name=st.just("Otter Slack"),
    salinity=st.sampled_from(["fresh", "brackish", "salt"]),
    latitude=st.floats(-65, 65),
    longitude=st.floats(-179, 179),
    months=st.lists(months, min_size=12, max_size=12).map(lambda year: dict(enumerate(year, 1))),
    sky=st.floats(0, 1).map(lambda dryness: Climate(40, dryness)),
    cover=st.dictionaries(st.sampled_from(Cover), st.floats(0, 5), max_size=3),
    depth_ft=st.none() | st.floats(1, 40),
    norm_in=st.none() | st.floats(6, 200),
    relative=st.booleans(),
    target=st.none() | st.sampled_from(Target),
    forbidden=st.builds(Forbidden, categories=st.frozensets(st.sampled_from(THROWN)), trebles=st.booleans()),
)


def total(rows) -> int:
    return sum(row.millionths for row in rows)


def by_days_then_word(told) -> tuple[int, int]:
    return -told[1], list(Forage).index(told[0])


def guessed(kind: str, latitude: float) -> Water:
    year = {}
    for number in range(1, 13):
        guess = kinds()[kind].month(number, region_at(latitude))
        food = {one: FOOD_WEIGHT[amount] for one, amount in guess.food.items()}
        year[number] = Month(guess.spread, guess.stain, guess.temp_f, food, guess.days, frozenset(guess.hours))
    return Water("Tarn", kinds()[kind].salinity, latitude, -84.0, year, Climate(latitude))


@pytest.mark.parametrize("name", regions())
def test_a_region_makes_the_year_of_a_kind(name):
    region = regions()[name]
    creek, river = (first_guess(kinds()[kind], region) for kind in ("tidal-creek", "river"))
    warmest, coldest = (which(creek.months, key=lambda m: creek.months[m].temp_f) for which in (max, min))
    summers, winters = ((7, 8), (1, 2, 3))
    assert (warmest, coldest)[region.half == "south"] in summers
    assert (warmest, coldest)[region.half == "north"] in winters
    assert any(creek.season(month) is Season.SPAWN for month in creek.months)
    assert not any(food.in_salt for month in river.months.values() for food in month.food)
    other = regions()[f"{region.id}-{'north' if region.half == 'south' else 'south'}"]
    for month in range(1, 13):
        assert creek.months[month] == first_guess(kinds()["tidal-creek"], other).months[(month + 5) % 12 + 1]


@settings(max_examples=40, deadline=None)
@given(st.lists(waters, min_size=1, max_size=2), st.floats(0, 2))
def test_days_always_add_up(some, rare):
    rows = expected_days(some)
    fished = sum(round(month.days * MILLION) for water in some for month in water.months.values())
    assert total(rows) == fished
    kept, aside = without_rare(rows, rare)
    assert total(kept) / MILLION + sum(one.days for one in aside) == pytest.approx(fished / MILLION)


@settings(max_examples=40, deadline=None)
@given(st.lists(waters, max_size=2), st.sampled_from(THROWN))
def test_the_columns_say_what_the_situations_say_one_by_one(some, category):
    days = expected_days(some)
    listed = list(days)
    assert [days[place] for place in range(len(days))] == listed == list(days[:])
    there = [one for one in listed if one.water.throws(category) and not one.water.forbidden.forbids(category)]
    thrown = days.on(days.throwing(category))
    assert (list(thrown), list(thrown.counts)) == (there, [one.days for one in there])
    asked = thrown.situations(category)
    one_by_one = [one.situation(category) for one in there]
    assert list(asked) == one_by_one
    columns, told = tabulate(asked), tabulate(one_by_one)
    for name in told.numbers:
        np.testing.assert_array_equal(columns.numbers[name], told.numbers[name])
    for name in told.choices:
        np.testing.assert_array_equal(columns.choices[name], told.choices[name])
    np.testing.assert_array_equal(columns.forage, told.forage)


@settings(max_examples=40, deadline=None)
@given(waters, waters)
def test_days_are_one_where_they_are_the_same_to_the_millionth(one, other):
    days, same, others = expected_days([one]), expected_days([replace(one)]), expected_days([other])
    assert (days, days.situations("worm"), days.counts) == (same, same.situations("worm"), same.counts)
    assert days.situations("worm") != days.situations("jerkbait")
    as_there = [replace(row, water=one) for row in others]  # what does not bear on the days may be another
    assert (days == others) == ((list(days), one.bearing) == (as_there, other.bearing))
    assert (days.counts == others.counts) == (list(days.counts) == list(others.counts))


@settings(max_examples=40, deadline=None)
@given(st.lists(waters, min_size=1, max_size=2), st.integers(1, 4))
def test_days_added_up_are_all_days(some, kinds_of_day):
    days = expected_days(some)
    kind = np.arange(len(days)) % kinds_of_day
    told = Counter()
    for row, one in zip(days, kind.tolist(), strict=True):
        told[row.band, row.light, row.food, one] += row.millionths
    assert {tuple(place): millionths for *place, millionths in days.by_place(kind)} == told
    eaten = Counter()
    for row in days:
        eaten[row.food] += row.millionths
    assert days.by_food() == [(food, share / MILLION) for food, share in sorted(eaten.items(), key=by_days_then_word)]
    assert sum(share for _, share in days.by_water()) == pytest.approx(total(days) / MILLION)


@settings(max_examples=40, deadline=None)
@given(waters, st.integers(1, 12), st.floats(1, 3))
def test_widening_a_range_never_loses_days(water, number, factor):
    month = water.months[number]
    wide = Spread(month.spread.low_in / factor, month.spread.usual_in, min(month.spread.high_in * factor, 1200))
    wider = replace(water, months={**water.months, number: replace(month, spread=wide)})
    assert total(expected_days([wider])) == total(expected_days([water]))


@settings(max_examples=30, deadline=None)
@given(waters, st.integers(1, 12))
def test_a_month_with_no_fishing_adds_nothing(water, number):
    idle = {**water.months, number: replace(water.months[number], days=0)}
    others = [month for month in range(1, 13) if month != number]
    rows, same = expected_days([replace(water, months=idle)]), expected_days([water], others)
    assert [(r.band, r.light, r.food, r.millionths) for r in rows] == [
        (r.band, r.light, r.food, r.millionths) for r in same
    ]
    closed = replace(water, forbidden=Forbidden(months=frozenset({number})))
    assert total(expected_days([closed])) == total(same)


@pytest.mark.parametrize("kind", kinds())
def test_southern_waters_are_half_a_year_off(kind):
    north, south = guessed(kind, 38), guessed(kind, -38)
    for number in range(1, 13):
        opposite = (number + 5) % 12 + 1
        assert south.season(number) == north.season(opposite)
        assert south.months[number].temp_f == north.months[opposite].temp_f
        assert south.sky.shares(number) == north.sky.shares(opposite)
    assert north.season(1) is Season.WINTER


@given(spreads)
def test_the_bands_share_all_days_and_hold_what_they_say(spread):
    shares, middle = spread.band_shares()
    assert sum(shares) == pytest.approx(1)
    below_usual = sum(share for share, inches in zip(shares, middle, strict=True) if inches < spread.usual_in)
    assert below_usual <= 0.5 + shares.max()
    assert [BANDS[i] for i, share in enumerate(shares) if share > 0.999] in ([], *[[band] for band in BANDS])


@given(spreads, st.lists(st.floats(3, 300), max_size=40))
def test_readings_pull_a_guess_toward_them(guess, readings):
    together = pulled(guess, readings)
    if not readings:
        assert together == guess
        return
    assert min(guess.low_in / 2, *readings) * 0.4 <= together.low_in <= together.high_in
    assume(len(readings) > 10 * GUESS_COUNTS_AS or len(set(readings)) == 1)
    many = pulled(guess, readings * 60)
    assert many.usual_in == pytest.approx(sorted(readings)[len(readings) // 2], rel=0.35)


def test_the_sun_over_the_hours_fished():
    noon, night = sun_shares(38, -84, 6, ["day"]), sun_shares(38, -84, 6, ["night"])
    assert (noon.up, night.night) == (1, 1)
    dawn = sun_shares(38, -84, 6, ["dawn"])
    assert dawn.low > 0.8
    for month in (6, 12):  # a place where the sun does not set, or does not rise
        shares = sun_shares(66, 25, month, ["day"])
        assert shares.up + shares.low + shares.night == pytest.approx(1)


def test_night_days_go_where_night_fishing_is_forbidden():
    water = guessed("pond", 38)
    nightly = {n: replace(m, hours=frozenset({"day", "night"})) for n, m in water.months.items()}
    water = replace(water, months=nightly)
    assert any(row.light is Light.NIGHT for row in expected_days([water]))
    daily = replace(water, forbidden=Forbidden(night=True))
    assert not any(row.light is Light.NIGHT for row in expected_days([daily]))
    assert total(expected_days([daily])) == total(expected_days([water]))


def test_sky_comes_from_what_was_typed_then_seen_then_the_climate():
    climate = Climate(40)
    seen = Observed(read_observations("month,sky,wind\n5,overcast,\n5,overcast,chop\n"), climate)
    assert seen.shares(5).overcast == 1
    assert seen.shares(5).chop == 1
    assert seen.shares(6) == climate.shares(6)
    typed = Typed({5: SkyShares.of((1, 1, 2), (1, 0, 0))}, seen)
    assert typed.shares(5).overcast == 0.5
    assert typed.shares(6) == climate.shares(6)
    with pytest.raises(InvalidInput, match="line 2, sky: 'grey' is not known"):
        read_observations("month,sky\n5,grey\n")


def test_what_is_forbidden():
    forbidden = Forbidden(categories=frozenset({"worm"}), trebles=True)
    assert forbidden.forbids("worm")
    assert forbidden.forbids("jerkbait") == "treble hooks are forbidden there"
    assert not forbidden.forbids("casting-jig")


def test_the_target_is_what_the_words_name_first():
    assert target_said("Red drum and snook") is Target.RED_DRUM
    assert target_said("smallmouth, spotted") is Target.SMALLMOUTH
    assert target_said("carp") is target_said("") is None
