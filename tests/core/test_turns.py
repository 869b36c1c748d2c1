"""What to throw now: each line of "reading the fish", and that everything shown is so."""

import random
from itertools import groupby

import pytest

from tackle.base.errors import InvalidInput
from tackle.base.vocabulary import Light, ids
from tackle.colours.palette import house_palette
from tackle.colours.role import find_role
from tackle.commands.advise import advise
from tackle.commands.day import day
from tackle.commands.turns import turns
from tackle.schools.rulebook import house_rulebooks
from tackle.teach.bites import house_cases

PALETTE = house_palette()
NOW = {"visibility_in": 40, "light": "broken", "season": "summer", "forage": ["shad"]}
CRANKS = ("shad-matte", "shad-glass", "shad-chrome", "sunfish-purple", "black-plain", "chartreuse-black", "brown-craw")


def turn(card, minutes=8, at="06:10", category="shallow-crankbait", **came):
    return {"at": f"2026-06-02T{at}", "minutes": minutes, "category": category, "colour": card,
            "light": "broken", "visibility_in": 44, **came}  # fmt: skip


def ask(*fished, cards=CRANKS, category="shallow-crankbait", at="07:00", **more):
    tray = [{"category": category, "colour": card, "count": 2} for card in cards]
    return turns({
        "categories": [category], "at": f"2026-06-02T{at}", "now": NOW, "tray": tray, "turns": list(fished), **more,
    })  # fmt: skip


def test_it_begins_with_the_first_word():
    told = ask()
    assert (told["do"], told["colour"]) == ("begin", told["order"][0]["colour"])
    assert {one["colour"] for one in told["order"]} == set(CRANKS)
    assert told["aboard_better"] is None


def test_what_bites_is_stayed_with_until_two_blank_turns():
    fish = turn("shad-matte", at="06:45", whole=1)
    assert ask(fish)["do"] == "stay"
    blank = [turn("shad-matte", at="06:53", minutes=6), turn("shad-matte", at="06:59", minutes=6)]
    told = ask(fish, blank[0], at="07:05")
    assert (told["do"], told["colour"]) == ("stay", "shad-matte")  # one blank turn ends nothing
    told = ask(fish, *blank, at="07:05")
    assert (told["do"], find_role(PALETTE.by_id[told["colour"]])) == ("near", "pale")
    assert ask(turn("shad-matte", at="06:20", whole=1))["do"] == "near"  # more than 20 minutes ago


def test_a_fish_is_not_forgotten_because_the_forecasts_hour_turned():
    fish = {**turn("shad-matte", at="06:52", minutes=8, whole=2), "light": "low"}
    assert ask(fish)["do"] == "stay"
    assert ask({**fish, "at": "2026-06-02T06:10"})["do"] == "begin"  # but of another light, and long ago


def test_finishes_go_before_roles_and_roles_before_another_place():
    said, fished = [], []
    for place in range(12):
        told = ask(*fished, at=f"{7 + place // 6}:{place % 6 * 10:02}".rjust(5, "0"))
        said.append((told["do"], told["colour"]))
        if told["do"] == "place":
            break
        began = f"{7 + place // 6}:{place % 6 * 10:02}".rjust(5, "0")
        fished.append(turn(told["colour"], at=began, minutes=9))
    roles = [find_role(PALETTE.by_id[card]) for _, card in said[:-1]]
    assert said[-1] == ("place", None)
    accepted = [one["colour"] for one in ask()["order"] if one["from"]]
    assert sorted(card for _, card in said[:-1]) == sorted(accepted)  # each had its turn
    assert [role for place, role in enumerate(roles) if role not in roles[:place]] == [
        role for role, _ in groupby(roles)
    ]  # one role after another


def test_two_that_were_nearly_one_ask_for_a_step_of_finish_opacity_or_belly():
    told = ask(turn("black-plain"), turn("shad-matte", at="06:50", outside=2))
    assert told["do"] == "near"
    assert told["colour"] in {"shad-glass", "shad-chrome"}
    assert ask(turn("shad-matte", at="06:50", missed=1))["do"] == "stay"  # one says: here
    assert ask(turn("shad-matte", at="06:50", whole=1, outside=1))["do"] == "stay"
    bones = ask(turn("bone", category="popper", at="06:50", outside=2), cards=("bone", "white-flat"), category="popper")
    assert bones["do"] != "near"  # from below white and bone are one


def test_what_was_taken_under_cloud_and_is_missed_in_the_sun_is_thrown_see_through():
    cloud = {**turn("shad-matte", at="06:20", whole=1), "light": "overcast"}
    sun = {**turn("shad-matte", at="06:46"), "bites": [{"at": "2026-06-02T06:52", "how": "missed", "light": "broken"}]}
    told = ask(cloud, sun)
    assert (told["do"], told["colour"]) == ("near", "shad-glass")
    follow = {**sun, "bites": [{"at": "2026-06-02T06:52", "how": "follow"}]}
    assert ask(cloud, follow)["colour"] == "shad-glass"
    assert ask(sun)["do"] == "stay"  # it was never thrown in the shade
    parts = [
        {**turn("shad-matte", at="06:40", minutes=8), "light": "overcast"},
        {**turn("shad-matte", at="06:40", minutes=8), "bites": [{"at": "2026-06-02T06:52", "how": "missed"}]},
    ]  # one turn in two lights
    assert ask(*parts)["colour"] == "shad-glass"
    assert ask(*parts)["order"][0]["tried"] == 0
    after = [*parts, {**turn("shad-glass", at="06:56", minutes=4)}]
    assert ask(*after)["colour"] != "shad-glass"  # it had its try


def test_parts_of_a_turn_are_one_turn_and_its_minutes_add_up():
    parts = [turn("shad-matte", minutes=3), turn("shad-matte", minutes=3)]
    told = ask(*parts)
    failed = {one["colour"]: (one["tried"], one["failed"]) for one in told["order"]}
    assert failed["shad-matte"] == (1, 1)
    short = {one["colour"]: one["failed"] for one in ask(parts[0])["order"]}
    assert short["shad-matte"] == 0


def test_a_partners_role_is_left_to_the_partner():
    alone = ask()
    partner = {"category": "shallow-crankbait", "colour": alone["colour"], "turns": []}
    told = ask(partner=partner)
    assert told["do"] == "begin"
    assert find_role(PALETTE.by_id[told["colour"]]) is not find_role(PALETTE.by_id[alone["colour"]])


def test_two_bites_on_one_family_are_told_to_both():
    theirs = [turn("brown-craw", at="06:40", whole=1), turn("brown-craw", at="06:50", whole=1)]
    partner = {"category": "shallow-crankbait", "colour": "brown-craw", "turns": theirs}
    told = ask(turn("shad-matte", at="06:50"), partner=partner)
    assert (told["do"], told["colour"]) == ("turn", "brown-craw")
    told = ask(turn("brown-craw", at="06:50"), partner=partner)
    assert (told["do"], told["colour"]) == ("stay", "brown-craw")
    one = {**partner, "turns": theirs[:1]}
    assert ask(turn("shad-matte", at="06:50"), partner=one)["colour"] != "brown-craw"
    gone = ask(turn("shad-matte", at="06:50"), partner=partner, cards=("shad-matte", "shad-glass"))
    assert gone["colour"] == "shad-glass"  # it is not in the tray
    worms = turns({
        "categories": ["worm", "shallow-crankbait"], "rod": "worm", "at": "2026-06-02T07:00", "now": NOW,
        "tray": [{"category": "worm", "colour": "red-bug"}, {"category": "shallow-crankbait", "colour": "brown-craw"}],
        "partner": partner,
    })  # fmt: skip
    assert (worms["do"], worms["category"], worms["colour"]) == ("turn", "shallow-crankbait", "brown-craw")


def test_back_to_what_caught_before_another_place():
    rest = [turn(card, at=f"06:{10 + 7 * place:02}", minutes=6) for place, card in enumerate(CRANKS[1:])]
    told = ask(turn("shad-matte", at="05:40", whole=1), *rest, turn("shad-matte", at="06:54", minutes=5))
    assert (told["do"], told["colour"]) == ("back", "shad-matte")


def test_two_roles_failed_at_a_clear_warm_midday_is_the_hour_of_the_loud_one():
    clear = {**NOW, "visibility_in": 90, "light": "bright", "water_temp_f": 78}
    fished = [
        {**turn("shad-matte", at="12:00"), "light": "bright", "visibility_in": 90},
        {**turn("brown-craw", at="12:10"), "light": "bright", "visibility_in": 90},
    ]
    cards = ("shad-matte", "brown-craw", "black-plain", "chartreuse-black")
    told = ask(*fished, cards=cards, at="12:40", now=clear)
    assert (told["do"], told["colour"]) == ("loud", "chartreuse-black")
    assert ask(*fished, cards=cards, at="12:40", now=clear, pace="slow")["do"] == "turn"
    assert ask(*fished, cards=cards, at="16:40", now=clear)["do"] == "turn"
    assert ask(*fished, cards=cards, at="12:40", now={**clear, "water_temp_f": 58})["do"] == "turn"


def test_other_conditions_and_other_days_say_nothing():
    for other in ({"light": "low"}, {"visibility_in": 6}, {"at": "2026-06-01T06:10"}):
        assert ask({**turn("shad-matte", whole=1), **other})["do"] == "begin"


def test_what_failed_comes_later_and_twice_last():
    order = [one["colour"] for one in ask()["order"]]
    first = order[0]
    once = ask(turn(first, at="06:30"))
    assert [one["colour"] for one in once["order"]].index(first) == len(order) - 1
    told = ask(turn(first, at="05:00"), turn(first, at="05:30"))
    last = told["order"][-1]
    assert (last["colour"], last["tried"], last["failed"]) == (first, 2, 2)


def test_what_is_gone_is_no_more_in_the_tray_and_another_kind_is_asked():
    first = ask()["colour"]
    told = ask(turn(first, gone=2))
    assert first not in {one["colour"] for one in told["order"]}
    two = turns({
        "categories": ["worm", "shallow-crankbait"], "at": "2026-06-02T07:00", "now": NOW, "rod": "shallow-crankbait",
        "tray": [{"category": "worm", "colour": "green-pumpkin-black"},
                 {"category": "shallow-crankbait", "colour": "shad-matte"}],
        "turns": [turn("shad-matte")],
    })  # fmt: skip
    assert (two["do"], two["category"], two["colour"]) == ("begin", "worm", "green-pumpkin-black")


def test_what_is_aboard_and_first_where_the_tray_has_none_is_named():
    aboard = [{"category": "shallow-crankbait", "colour": "shad-matte"}]
    told = ask(cards=("black-plain",), aboard=aboard)
    assert told["aboard_better"]["colour"] == "shad-matte"
    assert told["colour"] == "black-plain"
    assert ask(cards=("black-plain", "shad-matte"), aboard=aboard)["aboard_better"] is None


def test_a_jig_has_its_trailer():
    told = turns({
        "categories": ["casting-jig"], "at": "2026-06-02T07:00", "now": NOW,
        "tray": [{"category": "casting-jig", "colour": "black-blue-fleck"},
                 {"category": "jig-trailer", "colour": "green-pumpkin-plain"},
                 {"category": "jig-trailer", "colour": "black-blue-plain"}],
    })  # fmt: skip
    assert told["with"] in {"green-pumpkin-plain", "black-blue-plain"}
    assert {one["category"] for one in told["order"]} == {"casting-jig"}


def test_a_log_that_knows_better_is_heard_first_and_says_so():
    log = [
        {"day": f"2026-05-{at:02}", "at": "06:00", "colour": colour, "minutes": 30, "bites": bites}
        for at in range(1, 15) for colour, bites in (("brown-craw", 6), ("shad-matte", 1))
    ]  # fmt: skip
    told = ask(log=log)
    assert (told["do"], told["colour"], told["from"]) == ("begin", "brown-craw", "log")
    assert ask(log=log[:1])["from"] != "log"


@pytest.mark.parametrize("seed", range(60))
def test_begin_is_the_trays_first_and_every_reason_belongs_to_its_colour(seed):
    scatter = random.Random(seed)
    category = scatter.choice(["worm", "jerkbait", "shallow-crankbait", "swimbait", "spoon", "finesse-stick"])
    now = {
        "visibility_in": scatter.choice((6, 13, 18, 27, 44, 80, 150)), "light": scatter.choice(ids(Light)),
        "season": scatter.choice(("prespawn", "summer", "fall")), "forage": [scatter.choice(("shad", "crawfish"))],
    }  # fmt: skip
    cards = scatter.sample(PALETTE.sold_in(category), 5)
    tray = [{"category": category, "colour": card.id, "count": 1} for card in cards]
    told = turns({"categories": [category], "at": "2026-06-02T07:00", "now": now, "tray": tray})
    packed = day({
        "categories": [category], "room": 9, "have": tray, "hours": [{"at": "7:00", "situation": now}],
    })  # fmt: skip
    verdicts = advise({"situation": {**now, "category": category}})["verdicts"]
    reasons = {(school, card["colour"]): card["reason"] for school, said in verdicts.items() for card in said}
    for one in (told, *told["order"]):
        if one["from"]:
            assert reasons[one["from"], one["colour"]] == one["why"]
        else:
            graded = {(s, c["colour"]) for s, said in verdicts.items() for c in said if c["grade"] != "avoid"}
            assert all((school, one["colour"]) not in graded for school in house_rulebooks())
    whole = {piece["colour"] for piece in packed["tray"]}
    first = packed["hours"][0]["first"][category]
    if first and {card.id for card in cards} == whole:
        assert first["colour"] == told["colour"]


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"at": "noon"}, "at: 'noon' is not allowed"), ({"at": "2026-13-02T07:00"}, "at: '2026-13-02T07:00'"),
        ({"categories": []}, "categories: has 0 entries"), ({"rod": "pole"}, "rod: 'pole'"),
        ({"tray": [{"category": "worm", "colour": "mauve"}]}, r"tray\[0\]\.colour"),
        ({"turns": [{"at": "2026-06-02T06:00", "category": "worm"}]}, r"turns\[0\]\.colour"),
        ({"now": {"light": "noon"}}, r"now\."), ({"moon": "full"}, "moon"), ({"log": [7]}, r"log\[0\]"),
    ],
)  # fmt: skip
def test_a_wrong_request_is_refused_by_field(wrong, said):
    with pytest.raises(InvalidInput, match=said):
        turns({"categories": ["worm"], "at": "2026-06-02T07:00", "now": NOW, "tray": [], **wrong})


# What the cases of "reading the bite" tell, as turns: what was thrown before, and what came of the case's own colour.
PLAYED = {
    "whole": (("black-plain", "red-bug"), {"whole": 2}),
    "outside": (("shad-matte", "silver-blue"), {"outside": 3}),
    "bumped-outside": (("shad-matte", "brown-craw"), {"whole": 1, "outside": 1}),
    "nothing": ((), {}),
    "lost": (("shad-matte", "perch-bars"), {"lost": 2}),
    "first-fish": ((), {"whole": 1}),
    "old-favourite": ((), {}),
}
DOES = {"stay": "stay", "near": "nearest", "turn": "role", "back": "role", "loud": "role", "place": "place"}


@pytest.mark.parametrize("case", [one for one in house_cases() if one.id in PLAYED], ids=lambda one: one.id)
def test_the_cases_of_reading_the_bite_say_what_is_said_on_the_water(case):
    before, came = PLAYED[case.id]
    fished = [turn(card, at=f"06:{10 * place:02}", category=case.category) for place, card in enumerate(before)]
    fished.append(turn(case.card.id, at="06:40", minutes=10, category=case.category, **came))
    cards = [card.id for card in PALETTE.sold_in(case.category)]
    told = ask(*fished, cards=cards, category=case.category)
    assert DOES[told["do"]] in {one.value for one in (*case.right, *case.also)}


def test_when_all_roles_have_failed_it_is_another_place():
    case = next(one for one in house_cases() if one.id == "nothing-after-roles")
    cards = ["black-blue-fleck", "green-pumpkin-black", "sunfish-mix"]
    fished = [turn(card, at=f"06:{10 * place:02}", minutes=10, category=case.category)
              for place, card in enumerate(cards)]  # fmt: skip
    assert ask(*fished, cards=cards, category=case.category)["do"] == "place"
    assert {one.value for one in case.right} == {"place"}


def test_what_is_gone_is_gone_from_what_is_along_too():
    along = [{"category": "shallow-crankbait", "colour": "shad-matte", "count": 1}]
    assert ask(cards=("black-plain",), aboard=along)["aboard_better"]["colour"] == "shad-matte"
    assert ask(turn("shad-matte", gone=1), cards=("black-plain",), aboard=along)["aboard_better"] is None
    two = [{**along[0], "count": 2}]
    assert ask(turn("shad-matte", gone=1), cards=("black-plain",), aboard=two)["aboard_better"] is not None
