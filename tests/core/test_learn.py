"""What a log says: against seasons whose truth is known, and what must not change it."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tackle.base.errors import DataError, InvalidInput
from tackle.base.vocabulary import Light, Season
from tackle.colours.palette import house_palette
from tackle.commands.learn import learn
from tackle.learn.assumed import assumed, load_assumed
from tackle.learn.fair_test import bites_needed, evidence
from tackle.learn.log import Turn, bite_size, find_square, where_thrown
from tackle.learn.model import believed
from tackle.situations.situation import make_situation

PALETTE = house_palette()
COLOURS = ("black-plain", "green-pumpkin-black", "watermelon-red", "dark-purple-green", "red-bug")


def season(seed, how="round", days=25, swing=0.0, effects=None):
    """Turns of ten minutes, four hours a day; the day's rate and its drift by two hours are drawn anew."""
    rng = np.random.default_rng(seed)
    effects = rng.normal(0, assumed().spread, len(COLOURS)) if effects is None else np.array(effects)
    turns = []
    for day in range(days):
        rate, drift = np.exp(rng.normal(np.log(1.2), 0.7)) / 60, rng.normal(0, swing, 2)
        order = rng.permutation(len(COLOURS))
        for turn in range(24):
            which = {"round": order[turn % 5], "random": rng.integers(5), "blocks": order[turn * 5 // 24]}[how]
            bites = rng.poisson(10 * rate * np.exp(effects[which] + drift[turn // 12]))
            turns.append(Turn(f"2026-05-{day + 1:02}", COLOURS[which], 10.0, float(bites), 6 + turn / 6))
    return effects - effects.mean(), turns


def belief(turns, book=None):
    cards = [PALETTE.by_id[colour] for colour in COLOURS]
    return believed(turns, cards, book or dict.fromkeys(COLOURS, 0.0), assumed())


@pytest.mark.parametrize(("how", "swing"), [("round", 0.0), ("random", 0.3), ("blocks", 0.4)])
def test_nine_intervals_in_ten_hold_the_truth(how, swing):
    held = 0
    for seed in range(40):
        truth, turns = season(seed, how, swing=swing)
        found = belief(turns)
        for place, effect in enumerate(truth):
            low, high = found.interval(0.05, 0.95, place)
            held += low <= effect <= high
    assert 0.84 <= held / 200 <= 0.96


def as_lines(turns):
    hours = [(int(turn.at), round(turn.at % 1 * 60)) for turn in turns]
    return [
        {"day": turn.day, "at": f"{hour:02}:{minute:02}", "colour": turn.colour, "minutes": turn.minutes,
         "bites": turn.bites}
        for turn, (hour, minute) in zip(turns, hours, strict=True)
    ]  # fmt: skip


def asked(lines, **told):
    return learn({"category": "worm", "schools": [], "turns": lines, **told})


def test_a_blank_day_and_one_of_a_single_colour_change_nothing_to_the_last_digit():
    lines = as_lines(season(3)[1])
    plain = asked(lines)
    blank = [{"day": "2026-08-01", "at": "07:00", "colour": one, "minutes": 60, "bites": 0} for one in COLOURS]
    alone = [{"day": "2026-08-02", "at": "07:00", "colour": COLOURS[0], "minutes": 90, "bites": 9}]
    more = asked(lines + blank + alone)
    for one, other in zip(plain["colours"], more["colours"], strict=True):
        assert [one[name] for name in ("times", "low", "high", "best")] == [
            other[name] for name in ("times", "low", "high", "best")
        ]
    assert (more["days"], more["telling_days"]) == (plain["days"] + 2, plain["telling_days"])
    assert plain["pairs"] == more["pairs"]


@given(st.integers(0, 50), st.floats(0.1, 0.9))
@settings(max_examples=10)
def test_a_turn_in_two_parts_is_the_same_turn(seed, share):
    lines = as_lines(season(seed, days=6)[1])
    first = lines[0]
    parts = [
        {**first, "minutes": first["minutes"] * share, "bites": 0},
        {**first, "minutes": first["minutes"] * (1 - share)},
    ]
    whole, split = asked(lines), asked(parts + lines[1:])
    for one, other in zip(whole["colours"], split["colours"], strict=True):
        assert one["times"] == pytest.approx(other["times"], rel=1e-6)
    assert whole["telling_days"] == split["telling_days"]


def test_a_colour_thrown_on_good_days_only_gains_nothing_by_it():
    rng = np.random.default_rng(5)
    middles = []
    for seed in range(30):
        turns = []
        for day in range(20):
            good = rng.random() < 0.5
            rate = (3.0 if good else 0.6) / 60
            for turn in range(20):
                which = (0, 1)[turn % 2] if good else (1, 2)[turn % 2]
                turns.append(Turn(f"{seed}-{day}", COLOURS[which], 10.0, float(rng.poisson(10 * rate)), 6 + turn / 6))
        cards = [PALETTE.by_id[colour] for colour in COLOURS[:3]]
        middles.append(believed(turns, cards, dict.fromkeys(COLOURS[:3], 0.0), assumed()).mean(0))
    assert abs(np.mean(middles)) < 0.08


def test_the_book_speaks_until_the_log_knows_better():
    book = {**dict.fromkeys(COLOURS, 0.0), "black-plain": 0.25, "red-bug": -0.35}
    nothing = belief([], book)
    assert nothing.mean(0) > nothing.mean(1) > nothing.mean(4)
    _, turns = season(1, days=60, effects=[-0.5, 0.0, 0.0, 0.0, 0.6])
    assert belief(turns, book).mean(4) > belief(turns, book).mean(0)
    told = learn({"category": "worm", "schools": ["ladder"], "situation": {"visibility_in": 30, "light": "bright"},
                  "colours": ["green-pumpkin-black", "dark-purple-green"], "turns": []})  # fmt: skip
    assert told["colours"][0]["times"] != 1
    assert {one["colour"] for one in told["colours"]} == {"green-pumpkin-black", "dark-purple-green"}


def test_cards_of_one_family_borrow_from_each_other():
    days = [f"2026-05-{day:02}" for day in range(1, 25)]
    rows = [(day, colour, bites) for day in days for colour, bites in (("black-plain", 0), ("red-bug", 2))]
    turns = [Turn(day, colour, 30.0, float(bites), 7.0) for day, colour, bites in rows]
    cards = [PALETTE.by_id[one] for one in ("black-plain", "red-bug", "black-red", "watermelon-red")]
    found = believed(turns, cards, {card.id: 0.0 for card in cards}, assumed())
    assert found.mean(2) < found.mean(3)  # black with red is opaque black, too


def test_a_log_of_weighed_bites_is_no_surer_than_it_is():
    turns = [Turn("a", "red-bug", 10, 0.3, 7.0), Turn("a", "red-bug", 10, 1.7, 8.0), Turn("a", "red-bug", 10, 2.0, 9.0)]
    assert bite_size(turns, assumed()) == pytest.approx((0.09 + 1 + 0.49 + 2) / (0.3 + 1.7 + 2.0))
    assert bite_size([Turn("a", "red-bug", 10, 3.0)], assumed()) == 1


def test_the_fair_test_keeps_its_error_however_often_it_is_looked_at():
    rng = np.random.default_rng(2)
    alarms = 0
    for _ in range(400):
        first = np.cumsum(rng.random(300) < 0.5)
        alarms += any(evidence(f, n - f) >= assumed().odds for n, f in enumerate(first, 1))
    assert alarms / 400 <= 0.05
    assert evidence(0, 0) == pytest.approx(1)
    assert 55 <= bites_needed(2.0) <= 85
    assert 100 <= bites_needed(2.0, 0.8) <= 140
    assert 150 <= bites_needed(1.5) <= 250
    assert bites_needed(1.01) is None


def test_the_command_tells_all_it_says_it_does():
    _, turns = season(2, effects=[0.9, 0.0, 0.0, 0.0, -0.9])
    told = asked(as_lines(turns))
    assert sum(one["best"] for one in told["colours"]) == pytest.approx(1, abs=1e-3)
    assert math.prod(one["times"] for one in told["colours"]) == pytest.approx(1, rel=0.05)
    assert all(one["low"] <= one["times"] <= one["high"] for one in told["colours"])
    assert len(told["pairs"]) == 10
    assert all(0.5 <= pair["better"] <= 1 for pair in told["pairs"])
    first = next(one for one in told["pairs"] if {one["first"], one["second"]} == {"black-plain", "red-bug"})
    assert (first["first"], first["bites_needed"]) == ("black-plain", 0)
    assert asked([])["colours"] == []


@pytest.mark.parametrize(
    "turn",
    [
        {"day": "May"},
        {"at": "25:00"},
        {"colour": "mauve"},
        {"minutes": -1},
        {"bites": "two"},
        {"situation": 3},
        {"x": 1},
    ],
)
def test_a_turn_that_makes_no_sense_is_refused(turn):
    good = {"day": "2026-05-02", "at": "06:10", "colour": "red-bug", "minutes": 8, "bites": 1}
    with pytest.raises(InvalidInput, match=r"turns\[0\]"):
        asked([{**good, **turn}])


def test_a_broken_data_file_is_named(tmp_path):
    path = tmp_path / "learning.toml"
    path.write_text("spread = 0.3\n")
    with pytest.raises(DataError, match=r"learning\.toml"):
        load_assumed(path)


def test_a_rule_of_the_log_holds_where_the_colour_was_thrown_and_no_wider():
    def thrown(colour, light, month, inches=70.0, bites=1.0):
        there = make_situation("worm", visibility_in=inches, light=light, month=month)
        return Turn(f"2026-{month:02}-02", colour, 8.0, bites, 6.0, there)

    turns = [
        thrown("red-bug", Light.BRIGHT, 7), thrown("black-plain", Light.BRIGHT, 7), thrown("red-bug", Light.LOW, 7),
        thrown("red-bug", Light.BROKEN, 5, bites=0.0), thrown("black-plain", Light.BRIGHT, 5, bites=0.0),
    ]  # fmt: skip
    (there,) = where_thrown(turns, "red-bug", ("clear", "bright"), assumed())
    assert (there.light, there.season) == (Light.BRIGHT, Season.SUMMER)  # May told nothing, and low light is no sun
    assert find_square(there, assumed()) == ("clear", "bright")
