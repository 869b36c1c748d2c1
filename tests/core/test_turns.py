"""What to throw now: each line of "reading the fish", and that everything shown is so."""

import random

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


def test_what_caught_is_stayed_with_until_two_blank_turns():
    others = [turn("shad-glass", at="06:00"), turn("black-plain", at="06:10")]
    fish = turn("shad-matte", at="06:20", whole=1)
    assert ask(*others, fish)["do"] == "stay"
    blank = [turn("shad-matte", at="06:30", minutes=4), turn("shad-matte", at="06:36", minutes=4)]
    assert (told := ask(*others, fish, blank[0]))["do"] == "stay"
    assert told["colour"] == "shad-matte"
    assert ask(*others, fish, *blank)["do"] != "stay"


def test_after_the_first_fish_another_role_is_tried():
    told = ask(turn("shad-matte", whole=1))
    assert told["do"] == "turn"
    assert find_role(PALETTE.by_id[told["colour"]]) != "pale"


def test_hooked_outside_or_missed_asks_for_a_step_of_finish_opacity_or_belly():
    told = ask(turn("black-plain"), turn("shad-matte", at="06:30", missed=1))
    assert told["do"] == "near"
    assert told["colour"] in {"shad-glass", "shad-chrome"}
    bones = ask(turn("bone", category="popper", outside=1), cards=("bone", "white-flat"), category="popper")
    assert bones["do"] != "near"  # from below white and bone are one


def test_back_to_what_caught_where_nothing_else_is_proposed():
    told = ask(
        turn("shad-matte", at="05:30", whole=1), turn("black-plain", at="05:40"), turn("brown-craw", at="05:50"),
        turn("chartreuse-black", at="06:00"),
    )  # fmt: skip
    assert (told["do"], told["colour"]) == ("back", "shad-matte")


def test_two_roles_failed_at_a_clear_warm_midday_is_the_hour_of_the_loud_one():
    clear = {**NOW, "visibility_in": 90, "light": "bright", "water_temp_f": 78}
    fished = [
        {**turn("shad-matte", at="12:00"), "light": "bright", "visibility_in": 90},
        {**turn("brown-craw", at="12:10"), "light": "bright", "visibility_in": 90},
    ]
    told = ask(*fished, at="12:40", now=clear)
    assert (told["do"], told["colour"]) == ("loud", "chartreuse-black")
    assert ask(*fished, at="12:40", now=clear, pace="slow")["do"] == "turn"
    assert ask(*fished, at="16:40", now=clear)["do"] == "turn"
    assert ask(*fished, at="12:40", now={**clear, "water_temp_f": 58})["do"] == "turn"


def test_then_a_role_without_a_failed_turn_and_then_another_place():
    told = ask(turn("shad-matte"))
    assert told["do"] == "turn"
    assert find_role(PALETTE.by_id[told["colour"]]) != "pale"
    one_each = [turn(card, at=f"06:{10 + 6 * place}") for place, card in enumerate(
        ("shad-matte", "brown-craw", "black-plain", "chartreuse-black"))]  # fmt: skip
    told = ask(*one_each)
    assert (told["do"], told["colour"], told["from"]) == ("place", None, None)


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
