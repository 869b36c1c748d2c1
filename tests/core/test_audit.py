from dataclasses import replace
from fractions import Fraction

import pytest

from tackle.base.vocabulary import Grade, Light, Tone
from tackle.check.audit import audit, nearest
from tackle.check.buying import shopping_list
from tackle.check.reach import Planned
from tackle.colours.palette import house_palette
from tackle.commands.audit import audit_answer
from tackle.commands.plan import plan
from tackle.cover.plan import Request
from tackle.cover.planner import make_plan
from tackle.crate.lure import Lure, target_count
from tackle.schools.rulebook import house_rulebooks, read_rulebook
from tackle.situations.situation import Situation, make_situation
from tests.core.examples import PLAIN, call

PALETTE = house_palette()


def lure(ref, card, count=2, category="worm", size_in=6.0, name=""):
    return Lure(ref, category, PALETTE.by_id[card], name or card, count, size_in)


def planned(*owned):
    days = [(10.0, Light.BRIGHT, 10.0), (21.0, Light.BRIGHT, 5.0), (42.0, Light.BRIGHT, 20.0)]
    request = Request(
        category="worm",
        books=(PLAIN,),
        situations=tuple(Situation("worm", visibility, light) for visibility, light, _ in days),
        days=tuple(number for *_, number in days),
        owned=frozenset(owned),
    )
    return Planned(request, make_plan(request, PALETTE))


def test_a_gap_promises_the_days_that_buying_it_answers():
    crate = [lure("A1", "green-pumpkin-black")]
    gaps = audit(crate, [planned("green-pumpkin-black")], PALETTE).gaps
    assert {gap.card.id: gap.days for gap in gaps} == {"black-plain": 10.0, "dark-purple-green": 5.0}
    bought = [*crate, *(lure(f"B{n}", gap.card.id) for n, gap in enumerate(gaps))]
    assert not audit(bought, [planned(*(b.card.id for b in bought))], PALETTE).gaps


def test_what_is_owned_and_answers_is_no_gap():
    crate = [lure("A1", "green-pumpkin-purple"), lure("A2", "red-bug"), lure("A3", "black-plain")]
    assert not audit(crate, [planned("green-pumpkin-purple", "red-bug", "black-plain")], PALETTE).gaps


def test_the_days_of_plans_for_one_category_add_up():
    clear = Request(
        "worm", (house_rulebooks()["menu"],), (Situation("worm", 50.0, Light.BROKEN),), (7.0,), accept=Grade.GO_TO
    )
    second = Planned(clear, make_plan(clear, PALETTE))
    first = planned()
    (wanted,) = (one.card.id for one in second.plan.pieces)
    found = audit([lure("A1", "black-plain", 1)], [first, second], PALETTE)
    gaps = {gap.card.id: gap.days for gap in found.gaps}
    assert wanted == "green-pumpkin-black"
    assert gaps[wanted] == 20.0 + 7.0
    assert (found.covered["worm"].reached.days, found.covered["worm"].expected) == (10.0, 42.0)
    assert audit([], [first, first], PALETTE) == audit([], [first], PALETTE)


def test_doubles_are_beyond_par_and_of_one_size():
    same = [lure("A1", "black-plain", 2, "casting-jig", name="Coal"), lure("A2", "black-plain", 1, "casting-jig")]
    (double,) = audit(same, [], PALETTE).doubles
    assert [each.ref for each in double.lures] == ["A1", "A2"]
    assert double.over == 1
    assert not audit([same[0], lure("A2", "black-plain", 2, "casting-jig", 10.0)], [], PALETTE).doubles
    assert not audit([lure(ref, "black-plain", 1, "casting-jig") for ref in ("A1", "A2")], [], PALETTE).doubles


def test_doubles_are_families():
    kinds = enumerate(("black", "plain", "red", "purple"))
    peppers = [lure(f"A{n}", f"green-pumpkin-{pepper}", 1, "casting-jig") for n, pepper in kinds]
    (double,) = audit(peppers, [], PALETTE).doubles
    assert (len(double.lures), double.over) == (4, 2)
    greens = [
        *peppers,
        lure("B1", "green-pumpkin-black", 1, "casting-jig"),
    ]
    (double,) = audit(greens, [], PALETTE).doubles
    assert len(double.lures) == 5
    pair = [lure("A1", "bone", 3, category="jerkbait"), lure("A2", "white-flat", 2, category="jerkbait")]
    assert not audit(pair, [], PALETTE).doubles


def test_two_of_a_family_that_look_further_apart_than_one_says_are_no_doubles():
    pair = [lure("A1", "bone", 3, category="popper"), lure("A2", "white-flat", 2, category="popper")]
    (double,) = audit(pair, [], PALETTE, same_within=40).doubles
    assert double.apart > 0
    assert not audit(pair, [], PALETTE, same_within=double.apart / 2).doubles


def test_from_below_white_and_bone_are_one():
    on_top = [lure("A1", "bone", 3, category="popper"), lure("A2", "white-flat", 2, category="popper")]
    assert audit(on_top, [], PALETTE).doubles
    shining = [on_top[0], lure("A2", "bone-silver", 2, category="popper")]
    assert not audit(shining, [], PALETTE).doubles


@pytest.mark.parametrize(
    ("one", "other", "category"),
    [
        ("green-pumpkin-plain", "green-pumpkin-orange", "casting-jig"),
        ("shad-matte", "shad-chrome", "jerkbait"),
        ("shad-matte", "shad-glass", "jerkbait"),
        ("crawfish-dull", "brown-craw", "shallow-crankbait"),
        ("watermelon-red", "green-pumpkin-red", "worm"),
        ("shad-dull", "shad-winter", "jerkbait"),
    ],
)
def test_orange_belly_finish_and_brightness_never_make_a_double(one, other, category):
    head = {"id": "all", "name": "All", "question": "What?", "short": "Anything.", "order": 9}
    tones = [tone.value for tone in Tone]
    book = read_rulebook({"school": head, "call": [call("any", category, {}, {"tone": tones})]}, "all.toml")
    request = Request(
        category=category, books=(book,), situations=(Situation(category, 40.0, Light.BRIGHT),), days=(9.0,)
    )
    pair = [lure("A1", one, 9, category=category), lure("A2", other, 9, category=category)]
    doubles = audit(pair, [Planned(request, make_plan(request, PALETTE))], PALETTE).doubles
    assert all(len({each.card.id for each in double.lures}) == 1 for double in doubles)


def test_short_is_below_par_and_only_what_the_plan_wants():
    crate = [lure("A1", "black-plain", 1), lure("A2", "watermelon-red", 1)]
    (short,) = audit(crate, [planned("black-plain", "watermelon-red")], PALETTE).short
    assert (short.lures[0].card.id, short.have, short.par, short.days) == ("black-plain", 1, 2, 10.0)
    assert audit(crate, [], PALETTE).short_elsewhere == 2


def test_par_counts_loud_ones_fewer():
    assert target_count("jerkbait", PALETTE.by_id["bone"]) == 3
    assert target_count("jerkbait", PALETTE.by_id["tiger"]) == 2
    assert target_count("worm", PALETTE.by_id["black-plain"]) == 2


def test_par_grows_with_the_days_a_colour_serves_up_to_a_limit():
    bone, tiger = PALETTE.by_id["bone"], PALETTE.by_id["tiger"]
    assert [target_count("jerkbait", bone, days) for days in (0, 14.9, 15, 30, 45, 400)] == [3, 3, 4, 5, 6, 6]
    assert target_count("jerkbait", tiger, 400) == 2


def test_a_price_of_one_colour_goes_before_that_of_its_category():
    prices = {("worm", ""): 5.0, ("worm", "black-plain"): 8.0}
    costs = {p.card.id: p.cost for p in shopping_list([], [planned()], PALETTE, prices).purchases}
    assert costs == {"green-pumpkin-black": 15.0, "black-plain": 16.0, "dark-purple-green": 10.0}


def test_the_shopping_list_adds_what_it_says_in_order():
    crate = [lure("A1", "green-pumpkin-black", 1)]
    found = shopping_list(crate, [planned("green-pumpkin-black")], PALETTE)
    assert [(p.card.id, p.adds, p.count) for p in found.purchases] == [
        ("black-plain", 10.0, 2), ("dark-purple-green", 5.0, 2), ("green-pumpkin-black", 0.0, 2),
    ]  # fmt: skip
    assert (found.owned["worm"].days, found.all_of_it["worm"].days, found.expected["worm"]) == (20.0, 35.0, 35.0)
    bought = [*crate, *(lure(p.card.id, p.card.id, p.count) for p in found.purchases)]
    again = shopping_list(bought, [planned(*(b.card.id for b in bought))], PALETTE)
    assert (again.purchases, again.owned["worm"].days) == ((), 35.0)


def test_a_budget_cuts_the_list_where_it_runs_out_and_says_what_is_lost():
    found = shopping_list([], [planned()], PALETTE, prices={("worm", ""): 5}, budget=25)
    assert [(p.card.id, p.within) for p in found.purchases] == [
        ("green-pumpkin-black", True), ("black-plain", True), ("dark-purple-green", False),
    ]  # fmt: skip
    assert (found.within["worm"].days, found.all_of_it["worm"].days) == (30.0, 35.0)
    assert not any(p.within for p in shopping_list([], [planned()], PALETTE, {("worm", ""): 5}, 0).purchases)


def jigs_and_trailers(*days):
    request = Request(
        "casting-jig", tuple(house_rulebooks().values()), tuple(one for one, _ in days), tuple(n for _, n in days),
        right=Fraction(9, 10), with_trailers=True,
    )  # fmt: skip
    return Planned(request, make_plan(request, PALETTE))


MUDDY = make_situation("casting-jig", visibility_in=8.0, light=Light.OVERCAST)
CLEAR = make_situation("casting-jig", visibility_in=48.0, light=Light.BRIGHT)


def test_a_trailer_is_idle_where_no_jig_of_the_plan_takes_it():
    mine = [lure("A1", "black-plain", 2, "jig-trailer"), lure("A2", "pearl-white", 2, "jig-trailer")]
    (idle,) = audit(mine, [jigs_and_trailers((MUDDY, 5.0), (CLEAR, 5.0))], PALETTE).idle
    assert [each.ref for each in idle.lures] == ["A2"]


def test_days_of_jigs_are_covered_by_jig_and_trailer_together_and_each_open_day_is_of_one_gap():
    plan = jigs_and_trailers((MUDDY, 5.0), (CLEAR, 7.0))
    bare = audit([], [plan], PALETTE)
    assert sum(dict(gap.of_days)["casting-jig"] for gap in bare.gaps) == 12.0 == bare.covered["casting-jig"].expected
    jigs = [
        lure(f"J{n}", piece.card.id, 3, "casting-jig")
        for n, piece in enumerate(plan.plan.pieces)
        if piece.category != "jig-trailer"
    ]
    half = audit(jigs, [plan], PALETTE)
    assert half.covered["casting-jig"].reached.days == 0.0
    assert {gap.category for gap in half.gaps} == {"jig-trailer"}
    assert sum(gap.days for gap in half.gaps) == 12.0
    threads = [
        lure(f"T{n}", piece.card.id, 4, "jig-trailer")
        for n, piece in enumerate(plan.plan.pieces)
        if piece.category == "jig-trailer"
    ]
    whole = audit([*jigs, *threads], [plan], PALETTE)
    assert whole.gaps == ()
    assert whole.covered["casting-jig"].reached.days == 12.0


def test_a_trailer_that_several_jigs_want_is_bought_once():
    plans = [jigs_and_trailers((MUDDY, 5.0), (CLEAR, 7.0))]
    football = replace(plans[0].request, category="structure-jig", situations=tuple(
        replace(one, category="structure-jig") for one in plans[0].request.situations
    ))  # fmt: skip
    plans.append(Planned(football, make_plan(football, PALETTE)))
    found = shopping_list([], plans, PALETTE)
    bought = [(one.category, one.card.id) for one in found.purchases]
    assert len(set(bought)) == len(bought)
    shared = {card for place, card in plans[0].wanted if place == "jig-trailer"} & {
        card for place, card in plans[1].wanted if place == "jig-trailer"
    }
    assert shared
    assert all(found.all_of_it[one].days == found.expected[one] for one in found.expected)


def test_what_cannot_be_thrown_answers_nothing_until_it_is_mended():
    torn = replace(lure("A1", "green-pumpkin-black", 5), condition="torn")
    spares = [lure("A2", "black-plain", 1), replace(lure("A3", "black-plain", 4), condition="melted")]
    found = audit([torn, *spares], [planned()], PALETTE)
    assert found.covered["worm"].reached.days == 10.0
    assert {mend.lure.ref: mend.gains.days for mend in found.mends} == {"A1": 20.0, "A3": 0.0}
    assert {mend.lure.ref: bool(mend.way) for mend in found.mends} == {"A1": True, "A3": False}
    assert found.doubles == ()
    assert [(short.lures[0].card.id, short.have) for short in found.short] == [("black-plain", 1)]
    worn = replace(torn, condition="worn")
    assert audit([worn, *spares], [planned()], PALETTE).covered["worm"].reached.days == 30.0


def test_of_one_family_it_is_one_colour_that_is_counted_and_bought():
    two = [lure("A1", "green-pumpkin-red", 1), lure("A2", "green-pumpkin-plain", 1)]
    found = audit(two, [planned()], PALETTE)
    assert {gap.card.id for gap in found.gaps} == {"black-plain", "dark-purple-green"}
    (short,) = found.short
    assert (short.have, short.par, short.days) == (2, 3, 20.0)
    bought = {one.card.id: (one.have, one.count) for one in shopping_list(two, [planned()], PALETTE).purchases}
    assert bought["green-pumpkin-black"] == (2, 1)


def test_dull_baits_for_winter_are_made_at_the_bench_and_not_bought():
    """Eight each of four natural and loud baits, and winter days in half-clear water."""
    days = [
        {"situation": {"visibility_in": sight, "light": light, "season": "winter", "month": 1, "water_temp_f": 38,
                       "forage": [food]}, "days": 3}
        for sight in (18, 22, 26) for light in ("overcast", "broken", "bright") for food in ("shad", "sunfish")
    ]  # fmt: skip
    asked = {"id": 1, "category": "shallow-crankbait", "schools": ["calendar"], "right": 0.9, "days": days}
    colours = ["shad-matte", "sunfish-orange", "brown-craw", "chartreuse-black"]
    lures = [
        {"ref": f"A{place}", "category": "shallow-crankbait", "colour": colour, "count": 8}
        for place, colour in enumerate(colours)
    ]
    told = {"lures": lures, "plans": [plan(asked)], "days": {"shallow-crankbait": days}, "schools": ["calendar"]}
    found = audit_answer({"id": 2, "right": 0.9, **told})
    made = [fix for fix in found["fixes"] if fix["makes"]["brightness"] == "muted"]
    assert {fix["ref"] for fix in made} == {"A0", "A1"}
    assert all(fix["makes"]["opacity"] == "semi" and fix["caution"] for fix in made)
    assert all(gap["repair"] for gap in found["gaps"])


def test_the_nearest_is_of_the_same_role():
    mine = [lure("A1", "green-pumpkin-plain"), lure("A2", "white-flat")]
    assert nearest(PALETTE.by_id["pearl-white"], mine).lure.ref == "A2"


def test_short_speaks_of_kinds_that_a_plan_asks_for():
    lures = [{"ref": "A1", "category": "popper", "colour": "bone", "count": 1}]
    found = audit_answer({"id": 1, "lures": lures, "plans": [], "days": {}})
    assert (found["short"], found["short_elsewhere"]) == ([], 1)


def test_the_last_of_a_family_that_alone_is_accepted_is_no_spare():
    """A rulebook of one's own may tell two of a family apart: then none goes with a day that only it covers."""
    head = {"id": "own", "name": "Own", "question": "What?", "short": "Red.", "order": 9}
    book = read_rulebook({"school": head, "call": [call("red", "worm", {}, {"flake_hues": "red"})]}, "own.toml")
    request = Request("worm", (book,), (Situation("worm", 40.0, Light.BRIGHT),), (6.0,))
    lures = [lure("A1", "green-pumpkin-red", 3), lure("A2", "green-pumpkin-plain", 90)]
    (double,) = audit(lures, [Planned(request, make_plan(request, PALETTE))], PALETTE).doubles
    assert dict(double.spare)["A1"] == 2


def test_of_soft_baits_that_are_eaten_a_seasons_worth_is_no_surplus():
    sticks = {"ref": "A1", "category": "finesse-stick", "colour": "green-pumpkin-black"}

    def over(count, **more):
        told = {"id": 1, "lures": [{**sticks, "count": 2}, {**sticks, "ref": "B1", "count": count}], "plans": []}
        return [double["over"] for double in audit_answer({**told, **more})["doubles"]]

    assert over(26) == [0]
    assert over(60) == [22]  # four a trip, for ten trips
    assert over(26, eaten={"finesse-stick": 1.5}) == [13]
    assert over(26, par={"finesse-stick": 4}) == [24]
    hard = {"category": "popper", "colour": "bone", "count": 14}
    found = audit_answer({"id": 1, "lures": [{**hard, "ref": "A1"}, {**hard, "ref": "B1"}], "plans": []})
    assert found["doubles"][0]["over"] > 20


def test_two_kinds_with_words_of_their_own_are_never_one():
    tube = {"ref": "A1", "category": "creature", "colour": "green-pumpkin-black", "count": 40, "name": "tube, gp"}
    lizard = {**tube, "ref": "B1", "name": "Lizard, green pumpkin"}
    assert audit_answer({"id": 1, "lures": [tube, lizard], "plans": []})["doubles"] == []
    other = {**tube, "ref": "B1", "name": "gp tubes"}
    assert len(audit_answer({"id": 1, "lures": [tube, other], "plans": []})["doubles"]) == 1
    named = [{**tube, "name": "", "as": "tube"}, {**lizard, "name": "", "as": "lizard"}]
    assert audit_answer({"id": 1, "lures": named, "plans": []})["doubles"] == []
