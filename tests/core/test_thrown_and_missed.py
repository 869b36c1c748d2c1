"""When a kind of lure is thrown at all; and the roles that a plan has none of."""

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tackle.base.errors import DataError, InvalidInput
from tackle.base.vocabulary import Cover
from tackle.colours.family import family
from tackle.colours.palette import house_palette
from tackle.colours.role import find_role
from tackle.commands.advise import advise
from tackle.commands.audit import audit_answer
from tackle.commands.plan import plan
from tackle.data import FOLDER
from tackle.situations.columns import tabulate
from tackle.situations.conditions import CHOICES
from tackle.situations.expected import expected_days
from tackle.situations.regions import region_at
from tackle.situations.situation import read_situation
from tackle.situations.starting import first_guess, kinds
from tackle.situations.thrown import Thrown, load_thrown, thrown_by_default

PALETTE = house_palette()


def row(days=1.0, **told):
    return {"situation": {"visibility_in": 40, "light": "bright", **told}, "days": days}


def test_cold_days_ask_nothing_of_a_popper():
    days = [row(3, water_temp_f=50), row(5, water_temp_f=70), row(2, season="winter"), row(4)]
    told = plan({"category": "popper", "schools": ["ladder"], "days": days, "right": 0.9})
    assert (told["expected_days"], told["not_thrown_days"]) == (9.0, 5.0)  # what nobody told does not bind
    lifted = plan({"category": "popper", "schools": ["ladder"], "days": days, "thrown": None})
    assert (lifted["expected_days"], lifted["not_thrown_days"]) == (14.0, 0.0)


def test_what_the_angler_says_replaces_the_whole_default():
    days = [row(3, water_temp_f=50, month=4, cover="grass"), row(5, water_temp_f=70, month=8, cover="open"), row(4)]
    asked = {"category": "popper", "schools": ["ladder"], "days": days}
    assert plan({**asked, "thrown": {"months": [4]}})["not_thrown_days"] == 5.0
    assert plan({**asked, "thrown": {"cover": ["open"]}})["not_thrown_days"] == 3.0
    assert plan({**asked, "thrown": {"until_f": 60}})["not_thrown_days"] == 5.0
    with pytest.raises(InvalidInput, match=r"thrown\.months\[0\]: 13"):
        plan({**asked, "thrown": {"months": [13]}})


def test_the_index_stays_the_requests():
    days = [row(3, water_temp_f=40), row(2, water_temp_f=80, light="night", visibility_in=1)]
    told = plan({"category": "frog", "schools": ["sheen"], "days": days})
    assert [gone["index"] for gone in told["unanswered"]] == [1]


def test_the_audit_leaves_them_out_too():
    days = {"popper": [row(3, water_temp_f=40), row(5, water_temp_f=70)]}
    answer = plan({"category": "popper", "schools": ["ladder"], "days": days["popper"]})
    told = audit_answer({"lures": [], "plans": [answer], "days": days, "schools": ["ladder"]})
    assert told["expected_days"] == 5.0


def plainly_missed(request, told):
    """The roles by asking each day anew."""
    chosen = {one["colour"] for one in told["colours"]}
    days = dict.fromkeys(("pale", "natural", "dark", "loud"), 0.0)
    for one in request["days"]:
        said = advise({"situation": {**one["situation"], "category": request["category"]}})["verdicts"]
        firsts = []
        for school in request["schools"]:
            cards = said[school]
            if cards and cards[0]["grade"] == "go-to":
                first = {c["colour"] for c in cards if c["grade"] == "go-to" and c["call"] == cards[0]["call"]}
                works = {c["colour"] for school in request["schools"] for c in said[school] if c["grade"] != "avoid"}
                kin = {family(PALETTE.by_id[card], request["category"]) for card in first}
                firsts.append(
                    {card for card in first | works if family(PALETTE.by_id[card], request["category"]) in kin}
                )
        for first in firsts:
            for role in days:
                mine = {card for card in first if find_role(PALETTE.by_id[card]) == role}
                if mine and not mine & chosen:
                    days[role] += one["days"] / len(firsts)
    return {role: round(number, 4) for role, number in days.items() if number >= 0.5}


@pytest.mark.parametrize("seed", range(12))
def test_missed_roles_are_those_that_schools_reach_for_and_the_set_has_none_of(seed):
    scatter = random.Random(seed)
    rows = [
        row(
            scatter.choice((0.5, 1, 4)), visibility_in=scatter.choice((6, 14, 30, 80)),
            light=scatter.choice(("bright", "overcast", "low")), season=scatter.choice(("prespawn", "summer", "fall")),
            forage=[scatter.choice(("shad", "crawfish", "unknown"))],
        )
        for _ in range(9)
    ]  # fmt: skip
    request = {
        "category": scatter.choice(("shallow-crankbait", "worm", "swimbait", "casting-jig")), "days": rows,
        "schools": scatter.sample(["ladder", "menu", "calendar", "short-list"], 2), "right": 0.5,
    }  # fmt: skip
    told = plan(request)
    found = {one["role"]: one["days"] for one in told["missed"] if one["role"] != "seasonal"}
    assert {role: round(days, 4) for role, days in found.items()} == plainly_missed(request, told)
    for one in told["missed"]:
        assert one["colour"] not in {piece["colour"] for piece in told["colours"]}
        if one["role"] != "seasonal":
            assert find_role(PALETTE.by_id[one["colour"]]) == one["role"]
    whole = told["right_days"] + told["made_do_days"] + told["open_days"]
    assert whole == pytest.approx(told["expected_days"])


def test_a_wrong_temperature_is_named(tmp_path):
    path = tmp_path / "limits.toml"
    text = (FOLDER / "limits.toml").read_text().replace("thrown_from_f = 55", "thrown_from_f = 5", 1)
    path.write_text(text)
    with pytest.raises(DataError, match=r"limits\.toml: .*: thrown_from_f: 5 is not allowed"):
        load_thrown(path)


DAYS = expected_days(
    [first_guess(kinds()[kind], region_at(at)) for kind, at in (("pond", 36.0), ("natural-lake", 44.0))]
)


@given(
    st.builds(
        Thrown,
        st.none() | st.floats(30, 90),
        st.none() | st.floats(30, 90),
        st.none() | st.frozensets(st.integers(1, 12)),
        st.none() | st.frozensets(st.sampled_from(Cover)),
    )
)
def test_days_to_expect_and_one_situation_say_the_same_of_when_it_is_thrown(rule):
    places = set(DAYS.places_on((True, True), rule).tolist())
    for place in range(0, len(DAYS), 97):
        assert (place in places) == rule.on(DAYS[place].situation("worm"))


@pytest.mark.parametrize(
    ("category", "told", "thrown"),
    [
        ("swim-jig", {"visibility_in": 35}, True),
        ("swim-jig", {"visibility_in": 40}, False),
        ("swim-jig", {"visibility_in": 40, "forage": ["shad"]}, True),
        ("swim-jig", {"visibility_in": 40, "cover": "wood"}, True),
        ("swim-jig", {"visibility_in": 40, "cover": "open"}, False),
        ("spinnerbait", {"visibility_in": 70, "wind": "calm"}, False),
        ("spinnerbait", {"visibility_in": 70, "wind": "chop"}, True),
        ("spinnerbait", {"visibility_in": 70}, True),  # nobody said that it is calm
        ("spinnerbait", {"visibility_in": 50, "wind": "calm"}, True),
    ],
)
def test_a_kind_stays_home_by_visibility(category, told, thrown):
    situation = read_situation({"light": "bright", "season": "summer", **told}, category)
    assert thrown_by_default(category).on(situation) == thrown
    days = [{"situation": {"light": "bright", "season": "summer", **told}, "days": 3}]
    answer = plan({"id": "x", "category": category, "schools": ["ladder"], "right": 0.9, "days": days})
    assert answer["not_thrown_days"] == (0 if thrown else 3)


def test_expected_days_go_by_visibility_food_and_wind_as_single_situations_do():
    for kind in kinds().values():
        days = expected_days([first_guess(kind, region_at(38.0))])
        for category in ("swim-jig", "spinnerbait"):
            rule = thrown_by_default(category)
            on = set(days.places_on((True,), rule).tolist())
            every = days.situations(category)
            assert on == {place for place, one in enumerate(every) if rule.on(one)}


def test_a_river_and_a_creek_run():
    for kind, current in (("river", "river"), ("creek", "river"), ("marsh", "tidal"), ("pond", "still")):
        water = first_guess(kinds()[kind], region_at(38.0))
        days = expected_days([water])
        assert days.situations("worm")[0].current == current
        columns = tabulate(days.situations("worm"))
        assert set(columns.choices["current"].tolist()) == {CHOICES["current"].index(current)}
