"""Taps put together into turns, and turns on the water: what follows on what."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tackle.base.errors import InvalidInput
from tackle.base.vocabulary import Light, Pace, Season
from tackle.colours.palette import house_palette
from tackle.colours.role import find_role
from tackle.day.facts import Forecast, Told, WaterSeen, facts_at
from tackle.day.log import Tap, make_turns, read_tap
from tackle.day.rotation import loud_turn, nearest_step
from tackle.intake.turn import read_turn
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.situation import Situation

PALETTE = house_palette()
BOOKS = tuple(house_rulebooks().values())
BEGIN = {"category": "worm", "card": "red-bug"}


def taps(*told, device="a", angler=0):
    return [
        Tap(f"{device}{place}", device, place, angler, kind, float(at), data)
        for place, (at, kind, data) in enumerate(told)
    ]


def test_a_turn_lasts_until_the_next_and_counts_what_came():
    made = taps(
        (400, "water", {"visibility_in": 30.0, "light": "low"}), (401, "begin", BEGIN), (405, "bite", {"how": "lost"}),
        (406, "bite", {"how": "whole", "size_in": 14.0}), (409, "begin", {**BEGIN, "card": "black-plain"}),
        (415, "gone", {"what": "torn"}), (416, "nothing", {}), (420, "begin", BEGIN),
    )  # fmt: skip
    first, second, third = make_turns(made)
    assert (first.card, first.at, first.minutes, first.bites, first.sizes) == (
        "red-bug", 401, 8, {"lost": 1, "whole": 1}, (14.0,),
    )  # fmt: skip
    assert (first.water.visibility_in, first.water.light) == (30.0, "low")
    assert (second.minutes, second.gone, dict(second.bites)) == (7, {"torn": 1}, {})
    assert third.minutes is None  # nothing ended it


def parts_of(turn):
    return [(part.at, part.minutes, part.water.light, dict(part.bites)) for part in turn.parts]


def test_another_sky_begins_another_part_of_the_turn():
    made = taps(
        (401, "begin", BEGIN), (403, "bite", {"how": "whole"}), (404, "water", {"light": "bright"}), (410, "stop", {})
    )
    (turn,) = make_turns(made)
    assert (turn.minutes, turn.bites) == (9, {"whole": 1})
    assert parts_of(turn) == [(401, 3, None, {"whole": 1}), (404, 6, "bright", {})]


def test_the_forecasts_hour_midnight_and_its_own_length_begin_a_part():
    forecast = Forecast({6: {"light": "low"}, 7: {"light": "overcast"}, 23: {"light": "night"}})
    made = taps(
        (410, "begin", BEGIN), (419, "bite", {"how": "missed"}), (421, "bite", {"how": "whole"}), (425, "stop", {})
    )
    (turn,) = make_turns(made, forecast, 8)
    assert parts_of(turn) == [
        (410, 8, "low", {}), (418, 2, "low", {"missed": 1}), (420, 5, "overcast", {"whole": 1}),
    ]  # fmt: skip
    (late,) = make_turns(taps((1436, "begin", BEGIN), (1442, "stop", {})), forecast, 8)
    assert parts_of(late) == [(1436, 4, "night", {}), (1440, 2, "night", {})]
    assert sum(part.minutes for part in turn.parts) == turn.minutes


def test_what_was_told_holds_for_its_time_and_no_longer():
    forecast = Forecast({0: {"light": "night"}, 6: {"light": "overcast"}, 20: {"light": "night"}})
    told = [Told(370, {"light": "bright", "visibility_in": 16.0, "food": "shad", "spot": "dam"})]
    assert facts_at(told, 500, forecast).light == "bright"
    assert facts_at(told, 551, forecast).light == "overcast"  # three hours on
    assert facts_at(told, 1000, forecast).visibility_in == 16.0
    assert facts_at([*told, Told(600, {"spot": "creek"})], 700, forecast).visibility_in is None
    assert facts_at([*told, Told(600, {"spot": "creek"})], 700, forecast).food == "shad"
    assert facts_at([*told, Told(600, {"spot": "dam"})], 700, forecast).visibility_in == 16.0
    assert facts_at(told, 1441, forecast) == WaterSeen(light="night")  # another day
    assert facts_at([Told(1190, {"light": "bright"})], 1205, forecast).light == "night"  # the sun is down
    turned = Forecast({6: {"light": "overcast"}, 8: {"light": "broken"}})
    assert facts_at(told, 481, turned).light == "broken"  # the forecast changed
    assert facts_at([Told(360, {"light": "bright"})], 370, Forecast()).light == "bright"


def test_a_correction_of_light_or_bites_stands_for_the_whole_turn():
    made = taps(
        (401, "begin", BEGIN), (403, "bite", {"how": "whole"}), (404, "water", {"light": "bright"}), (410, "stop", {}),
        (0, "correct", {"of": "a0", "light": "low", "whole": 3}),
    )  # fmt: skip
    (turn,) = make_turns(made)
    assert {part.water.light for part in turn.parts} == {"low"}
    assert sum(part.bites.get("whole", 0) for part in turn.parts) == 3


def test_what_was_wrong_is_corrected_or_dropped_by_a_later_tap():
    made = taps(
        (401, "begin", BEGIN), (403, "bite", {"how": "whole"}), (404, "bite", {"how": "missed"}),
        (405, "drop", {"of": "a2"}), (409, "stop", {}), (0, "correct", {"of": "a0", "minutes": 12.0, "lost": 2}),
        (0, "turn", {"category": "frog", "card": "white-flat", "start": 300.0, "minutes": 5.0, "whole": 1}),
        (0, "turn", {"category": "frog", "card": "white-flat"}), (0, "drop", {"of": "a7"}),
    )  # fmt: skip
    typed, turn = make_turns(made)
    assert (typed.at, typed.minutes, typed.bites) == (300.0, 5.0, {"whole": 1})
    assert (turn.minutes, turn.bites) == (12.0, {"whole": 1, "lost": 2})


KINDS = st.sampled_from(
    [("begin", BEGIN), ("begin", {**BEGIN, "card": "black-plain"}), ("bite", {"how": "whole"}),
     ("bite", {"how": "missed"}), ("nothing", {}), ("stop", {}), ("gone", {"what": "lost"}),
     ("water", {"light": "low"})]
)  # fmt: skip


@given(
    st.lists(st.tuples(KINDS, st.floats(0, 9)), max_size=14),
    st.lists(st.tuples(KINDS, st.floats(0, 9)), max_size=8),
    st.data(),
)
def test_sent_twice_in_parts_and_in_any_order_a_log_is_the_same(mine, theirs, data):
    def told(rows, device):
        at, made = 400.0, []
        for place, ((kind, what), later) in enumerate(rows):
            at += later
            made.append(Tap(f"{device}{place}", device, place, 0, kind, at, what))
        return made

    both = told(mine, "a") + told(theirs, "b")
    once = make_turns(both)
    assert make_turns(data.draw(st.permutations(both + both[: len(both) // 2]))) == once
    begun = {tap.id for tap in both if tap.kind == "begin"}
    bites = sum(sum(turn.bites.values()) for turn in once)
    assert begun <= {turn.id.split(".")[0] for turn in once}
    assert bites <= sum(tap.kind == "bite" for tap in both)
    assert all(turn.minutes is None or turn.minutes >= 0 for turn in once)


@pytest.mark.parametrize(
    ("entry", "said"),
    [
        (7, "t: 7 is not allowed; allowed: an object with id"),
            ({"kind": "shout"}, "t.kind: 'shout' is not"), ({"kind": "bite"}, "t.id"),
        ({"data": {"how": "eaten"}}, "t.data.how"), ({"at": 1e9}, "t.at"), ({"place": 1.5}, "t.place"),
        ({"kind": "begin", "data": {"category": "wurm", "card": "x"}}, "t.data.category"),
        ({"kind": "water", "data": {"visibility_in": 9000}}, "t.data.visibility_in"), ({"angler": True}, "t.angler"),
        ({"at": float("nan")}, "t.at"),
    ],
)  # fmt: skip
def test_a_wrong_tap_says_what_is_wrong(entry, said):
    good = {"id": "x", "device": "d", "place": 1, "angler": 0, "kind": "bite", "at": 5, "data": {"how": "whole"}}
    assert read_tap(good, "t").data == {"how": "whole"}
    if isinstance(entry, dict) and entry != {"kind": "bite"}:
        entry = {**good, **entry}
    with pytest.raises(InvalidInput, match=said):
        read_tap(entry, "t")


def test_loud_ones_wait_for_clear_warm_water():
    warm = Situation("jerkbait", 80.0, Light.BRIGHT, season=Season.SUMMER, water_temp_f=78.0)
    assert loud_turn(warm)
    for other in ({"visibility_in": 30.0}, {"water_temp_f": 50.0}, {"pace": Pace.SLOW}):
        named = {"visibility_in": 80.0, "water_temp_f": 78.0, **other}
        assert not loud_turn(Situation("jerkbait", light=Light.BRIGHT, season=Season.SUMMER, **named))


@given(st.sampled_from(PALETTE.sold_in("jerkbait")), st.sets(st.sampled_from(PALETTE.sold_in("jerkbait")), max_size=8))
def test_a_near_bite_never_asks_for_another_role(card, others):
    near = nearest_step(card, list(others))
    same = [one for one in others if find_role(one) is find_role(card) and one is not card]
    assert (near is None) == (not same)
    assert near is None or (find_role(near) is find_role(card) and near is not card)


@pytest.mark.parametrize(
    ("line", "told"),
    [
        ("7:10 8min worm black 2 whole 1 lost", ("worm", "black-plain", 430, 8, 2, 1)),
        ("worm, red bug, 12 minutes, nothing", ("worm", "red-bug", None, 12, 0, 0)),
        ("18:05 jerkbait bone whole", ("jerkbait", "bone", 1085, None, 1, 0)),
        ("6.30 5m frog white 1 missed lure lost", ("frog", "white-flat", 390, 5, 0, 0)),
        ("7.30am 10m red bug worm", ("worm", "red-bug", 450, 10, 0, 0)),
        ("9:00 1h worm red bug", ("worm", "red-bug", 540, 60, 0, 0)),
        ("2:15 pm 1h 20m worm red bug 1 lost", ("worm", "red-bug", 855, 80, 0, 1)),
        ("lost lure: worm black", ("worm", "black-plain", None, None, 0, 0)),
    ],
)
def test_a_turn_typed_from_paper(line, told):
    read = read_turn(line, PALETTE, "imperial")
    names = ("category", "card", "start", "minutes", "whole", "lost")
    assert tuple(read.get(name, 0 if name in ("whole", "lost") else None) for name in names) == told
    assert ("gone_lost" in read) == ("lure lost" in line or "lost lure" in line)


def test_a_line_tells_water_sky_and_trailer():
    read = read_turn(
        "6:40 12 min casting jig black blue with green pumpkin, see 19 in, cloud, 1 whole", PALETTE, "imperial"
    )
    assert (read["visibility_in"], read["light"], read["whole"], read["minutes"]) == (19.0, "overcast", 1, 12)
    assert PALETTE.by_id[read["card"]].tone == "black-blue"
    assert PALETTE.by_id[read["trailer"]].tone == "green-pumpkin"


@pytest.mark.parametrize("line", ["", "8min", "worm moonlight 8min", "7:10 8min black"])
def test_a_line_that_is_no_turn_is_refused_with_an_example(line):
    with pytest.raises(InvalidInput, match="7:10 8min worm black"):
        read_turn(line, PALETTE, "imperial")


@pytest.mark.parametrize(
    ("line", "came"),
    [
        ("7:10 8min worm black 1 fish", {"whole": 1}),
        ("7:10 8min worm black 2 fish", {"whole": 2}),
        ("7:10 8min worm black, no fish", {}),
        ("7:10 8min worm black two fish, 1 missed", {"whole": 2, "missed": 1}),
        ("7:10 8min worm black 2 fish lost", {"lost": 2}),
        ("7:10 8min worm black 2 solid 1 came off", {"whole": 2, "lost": 1}),
        ("7:10 8min worm black 2 fish solid, 1 barely hooked", {"whole": 2, "outside": 1}),
        ("7:10 8min worm black, no bites", {}),
    ],
)
def test_fish_of_a_paper_log_are_bites(line, came):
    told = read_turn(line, house_palette(), "imperial")
    assert {name: told[name] for name in ("whole", "lost", "outside", "missed") if name in told} == came
