"""The audit against plain reckoning on random crates: what it promises is what happens."""

import json
from collections import Counter
from itertools import combinations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tackle.base.errors import DataError
from tackle.base.vocabulary import Light
from tackle.check.audit import audit
from tackle.check.doubles import find_groups
from tackle.check.reach import Planned
from tackle.check.repairs import REPAIRS, load_repairs, repaired
from tackle.check.workbench import lay_out
from tackle.colours.palette import house_palette
from tackle.commands.audit import audit_answer
from tackle.commands.lines import answer_line
from tackle.cover.plan import Request
from tackle.cover.planner import make_plan
from tackle.crate.lure import Lure
from tackle.crate.storage import storage_cautions
from tackle.schools.evaluation import rank
from tackle.schools.rulebook import house_rulebooks, read_rulebook
from tackle.situations.situation import Situation

PALETTE = house_palette()
BOOKS = house_rulebooks()
CATEGORIES = ("worm", "jerkbait", "casting-jig")


def accepted(book, card, situation, accept_works=True):
    good = ("go-to", "works") if accept_works else ("go-to",)
    return any(v.grade in good for v in rank(book, [card], situation))


def plainly_answered(request: Request, cards) -> float:
    """The days some cards answer, asked of every school one by one."""
    total = 0.0
    for situation, days in zip(request.situations, request.days, strict=True):
        verdicts = []
        for book in request.books:
            speaks = bool(rank(book, PALETTE.sold_in(request.category), situation))
            if speaks or not request.agree_all:
                verdicts.append(any(accepted(book, card, situation) for card in cards))
        answered = (bool(verdicts) and all(verdicts)) if request.agree_all else any(verdicts)
        total += days if answered else 0.0
    return total


def accepts(request: Request, card) -> bool:
    return any(accepted(book, card, situation) for book in request.books for situation in request.situations)


@st.composite
def crates(draw, most_plans=2):
    """Lures of one category, and one plan or two for it."""
    category = draw(st.sampled_from(CATEGORIES))
    sold = PALETTE.sold_in(category)
    cards = draw(st.lists(st.sampled_from(sold), max_size=6))
    lures = [
        Lure(f"A{n}", category, card, card.name, draw(st.integers(1, 6)), draw(st.sampled_from([None, 4.0])))
        for n, card in enumerate(cards)
    ]
    owned = frozenset(card.id for card in cards)
    return lures, [draw(plans(category, owned)) for _ in range(draw(st.integers(1, most_plans)))]


@st.composite
def plans(draw, category, owned):
    places = st.tuples(st.sampled_from([5, 12, 20, 45, 90, 200]), st.sampled_from(list(Light)), st.integers(1, 9))
    rows = draw(st.lists(places, min_size=1, max_size=4))
    schools = draw(st.lists(st.sampled_from(list(BOOKS)), min_size=1, max_size=2, unique=True))
    request = Request(
        category=category,
        books=tuple(BOOKS[school] for school in schools),
        situations=tuple(Situation(category, float(inches), light) for inches, light, _ in rows),
        days=tuple(float(days) for *_, days in rows),
        agree_all=draw(st.booleans()),
        owned=owned,
    )
    return Planned(request, make_plan(request, PALETTE))


@settings(max_examples=40, deadline=None)
@given(crates(), st.sampled_from([None, 0.0, 6.0]))
def test_what_the_audit_promises_happens(crate, same_within):
    lures, planned = crate
    found = audit(lures, planned, PALETTE, same_within)

    def days_of(cards):
        return sum(plainly_answered(request, cards) for request in {each.request: None for each in planned})

    owned = [lure.card for lure in lures]
    now = days_of(owned)
    (of_it,) = found.covered.values()
    assert of_it.reached.days == pytest.approx(now)

    spare = {ref: count for double in found.doubles for ref, count in double.spare}
    left = [lure.card for lure in lures if spare.get(lure.ref, 0) < lure.count]
    assert days_of(left) == pytest.approx(now)
    assert all(double.over == sum(count for _, count in double.spare) for double in found.doubles)

    missing = [gap.card for gap in found.gaps]
    together = days_of([*owned, *missing])
    assert sum(gap.days for gap in found.gaps) == pytest.approx(together - now)
    assert of_it.no_colour == pytest.approx(of_it.expected - together)
    for gap in found.gaps:
        then = days_of([*owned, gap.card])
        without = days_of([*owned, *(card for card in missing if card is not gap.card)])
        # Whatever only it would answer is its own, or is said of one of those it must come with; nothing is that it
        # would not answer with all the others.
        with_it = [
            other for other in found.gaps if other is gap or other.card in gap.beside or gap.card in other.beside
        ]
        assert together - without - 1e-6 <= sum(other.days for other in with_it)
        assert gap.days <= max(then - now, together - now) + 1e-6
        if gap.beside:  # alone it gains nothing, with these it does
            assert then == pytest.approx(now)
            gains = days_of([*owned, gap.card, *gap.beside]) > days_of([*owned, *gap.beside])
            assert gains or gap.right_days or gap.first_choice_days

    for fix in found.fixes:
        same = [lure for lure in lures if lure.card is fix.lure.card]
        rest = owned if sum(lure.count for lure in same) > 1 else [c for c in owned if c is not fix.lure.card]
        assert days_of([*rest, fix.made]) - now == pytest.approx(fix.gains)

    idle = {lure.ref for idle in found.idle for lure in idle.lures}
    for lure in lures:
        if lure.category in {each.request.category for each in planned}:
            accepted = any(accepts(each.request, lure.card) for each in planned)
            assert (lure.ref in idle) == (not accepted)


@settings(max_examples=40, deadline=None)
@given(crates(most_plans=1), st.data())
def test_the_bench_does_what_it_says(crate, data):
    lures, planned = crate
    home = [lure for lure in lures if data.draw(st.booleans())]
    aboard = [lure for lure in lures if lure not in home]
    (each,) = planned
    laid = lay_out(aboard, home, planned, planned, PALETTE)
    assert all(lure in aboard and not accepts(each.request, lure.card) for one in laid.out for lure in one.lures)
    for one in laid.bring:
        assert 0 < one.count <= sum(lure.count for lure in home if lure.card is one.card)
        assert one.aboard + one.count <= one.par
        assert (one.category, one.card) in each.wanted
    now = plainly_answered(each.request, [lure.card for lure in aboard] + [one.card for one in laid.bring])
    made = Counter(one.lure.card for one in laid.make)
    left = Counter({lure.card: 0 for lure in aboard} | {one.card: 0 for one in laid.bring})
    for lure in lures:
        if lure.card in left:
            left[lure.card] += lure.count
    kept = [card for card, count in left.items() if count > made[card]]
    then = plainly_answered(each.request, [*kept, *(one.made for one in laid.make)])
    assert then - now == pytest.approx(sum(one.days for one in laid.make))


SHINY = [
    card for card in PALETTE.sold_in("jerkbait") if card.finish == "metallic" and "orange-belly" not in card.accents
]


@pytest.mark.parametrize("card", SHINY, ids=lambda card: card.id)
@pytest.mark.parametrize("count", [1, 2])
def test_a_repair_gains_the_days_that_it_says(card, count):
    """A school that takes shiny baits in sun and flat ones under cloud: what is sanded answers the second, and where
    it was the last, the first no more."""
    call = {"for": "jerkbait", "grade": "go-to", "why": "x"}
    calls = [
        {**call, "id": light, "when": {"light": light}, "want": {"finish": finish}}
        for light, finish in (("bright", "metallic"), ("overcast", "matte"))
    ]
    head = {"id": "made-up", "name": "Made up", "question": "?", "short": "x", "order": 9}
    book = read_rulebook({"school": head, "call": calls}, "made-up")
    asked = (Situation("jerkbait", 30.0, Light.BRIGHT), Situation("jerkbait", 30.0, Light.OVERCAST))
    request = Request("jerkbait", (book,), asked, (3.0, 4.0), owned=frozenset({card.id}))
    found = audit([Lure("A1", "jerkbait", card, "", count)], [Planned(request, make_plan(request, PALETTE))], PALETTE)
    now = plainly_answered(request, [card])
    assert found.fixes
    for fix in found.fixes:
        left = [card] if count > 1 else []
        assert fix.gains == pytest.approx(plainly_answered(request, [*left, fix.made]) - now)
        assert fix.gains == (4.0 if count > 1 else 1.0)


def bones(*forms):
    return [Lure(f"A{n}", "jerkbait", PALETTE.by_id["bone"], "", 3, **form) for n, form in enumerate(forms)]


@pytest.mark.parametrize(
    ("one", "other", "differ", "whatever_size"),
    [
        ({"weight_oz": 0.375}, {"weight_oz": 0.5}, True, False),
        ({"weight_oz": 0.5}, {"weight_oz": 0.45}, False, False),  # a tenth of the larger, and not over it
        ({"weight_oz": 0.5}, {"weight_oz": 0.44}, True, False),
        ({"size_in": 4.5}, {"size_in": 4.0}, True, False),
        ({"size_in": 4.5}, {"size_in": 4.3}, False, False),
        ({"depth_ft": 3.0}, {"depth_ft": 8.0}, True, False),
        ({"sound": "rattle"}, {"sound": "silent"}, True, True),
        ({"weight_oz": 0.5, "sound": "rattle"}, {"size_in": 4.0}, False, False),  # neither tells what the other does
    ],
)
def test_another_size_weight_depth_or_sound_is_no_double(one, other, differ, whatever_size):
    for form in (one, other), (other, one):
        assert bool(audit(bones(*form), [], PALETTE).doubles) != differ
        assert bool(audit(bones(*form), [], PALETTE, sizes_same=True).doubles) != whatever_size


@given(st.lists(st.tuples(st.sampled_from([None, 0.25, 0.27, 0.375, 0.5]), st.sampled_from(["", "rattle", "knock"]))))
def test_no_group_holds_two_that_differ_and_none_is_in_two(told):
    lures = bones(*({"weight_oz": weight, "sound": sound} for weight, sound in told))
    groups = find_groups(lures, None, False)
    for group in groups:
        for one, other in combinations(group.lures, 2):
            weights = sorted((one.weight_oz or 0, other.weight_oz or 0))
            assert not weights[0] or weights[1] - weights[0] <= weights[1] / 10
            assert not one.sound or not other.sound or one.sound == other.sound
    refs = [lure.ref for group in groups for lure in group.lures]
    assert len(set(refs)) == len(refs)
    alone = [lure for lure in lures if lure.ref not in refs]
    assert not any(lure.form == (None, None, None, "") for lure in alone[1:])  # untold, it joins the first it fits


def test_an_idle_lure_says_where_it_would_serve():
    request = Request("worm", (BOOKS["ladder"],), (Situation("worm", 90.0, Light.BRIGHT),), (5.0,))
    planned = Planned(request, make_plan(request, PALETTE))
    black = [Lure(ref, "worm", PALETTE.by_id["black-plain"], "", 2, size) for ref, size in (("A1", 4.0), ("B2", 6.0))]
    (idle,) = audit(black, [planned], PALETTE).idle
    assert [lure.ref for lure in idle.lures] == ["A1", "B2"]  # told by colour, not by lure
    assert idle.serves is not None
    assert idle.serves.band in ("mud", "dirty", "stained")


def test_repairs_change_what_they_say_and_warn():
    chrome = PALETTE.by_id["silver-blue"]
    ways = {repair.id: made for repair, made in repaired(chrome, "jerkbait", PALETTE)}
    assert ways["sand"].finish == "matte"
    assert ways["pearl-coat"].finish == "pearl"
    assert "dye-tail" not in ways
    faced = PALETTE.by_id["two-green-black"]
    assert "turn" in {repair.id for repair, _ in repaired(faced, "jig-trailer", PALETTE)}
    assert all(repair.caution or repair.id == "turn" for repair in REPAIRS)


def test_a_wrong_repair_is_named(tmp_path):
    path = tmp_path / "repairs.toml"
    path.write_text(
        '[[repair]]\nid = "sand"\nwords = "Sand it"\ngroups = ["hart"]\nminutes = 5\nsteps = []\ncaution = ""'
    )
    with pytest.raises(DataError, match=r"repairs.toml: sand: groups: 'hart' is not allowed; allowed: one of"):
        load_repairs(path)
    path.write_text('[[repair]]\nid = "melt"\n')
    with pytest.raises(DataError, match=r"repairs.toml: melt: id: 'melt' is not allowed; allowed: one of sand"):
        load_repairs(path)


def test_storage_cautions_name_what_harms_what():
    tray = [
        Lure("A1", "worm", PALETTE.by_id["black-plain"], "", 2),
        Lure("A2", "swimbait", PALETTE.by_id["white-flat"], "", 2),
        Lure("A3", "jerkbait", PALETTE.by_id["bone"], "", 2),
    ]
    words = [caution.words for caution in storage_cautions(tray)]
    assert len(words) == 2
    assert not storage_cautions(tray[2:])


DAYS = [{"situation": {"visibility_in": 10, "light": "bright"}, "days": 10}]


def command(**changes):
    lures = [{"ref": "A3", "category": "worm", "colour": "watermelon-red", "count": 2}]
    plan = {"colours": [{"colour": "black-plain", "days": 10.0, "alone": 8.0}]}
    return {"id": "x", "lures": lures, "plans": [plan], "days": {"worm": DAYS}, "par": {"worm": 3}, **changes}


def test_the_command_answers_from_the_plans_own_numbers():
    answer = answer_line(audit_answer, json.dumps(command()))
    assert answer["id"] == "x"
    (gap,) = answer["gaps"]
    assert (gap["colour"], gap["days"], gap["nearest"]["ref"]) == ("black-plain", 8.0, "A3")
    exact = audit_answer(command(schools=["ladder"]))
    assert exact["gaps"][0]["days"] == 10.0
    assert [idle["ref"] for idle in exact["idle"]] == ["A3"]


def test_the_command_tells_weights_apart_unless_it_is_told_not_to():
    lures = [
        {"ref": ref, "category": "casting-jig", "colour": "black-blue-plain", "count": 4, "weight_oz": weight,
         "condition": "worn"}
        for ref, weight in (("A1", 0.375), ("A2", 0.5))
    ]  # fmt: skip
    asked = command(lures=lures, plans=[], days={}, par={})
    assert not audit_answer(asked)["doubles"]
    (double,) = audit_answer({**asked, "sizes_same": True})["doubles"]
    assert double["refs"] == ["A1", "A2"]


def test_the_command_knows_the_trailers_of_a_plan_and_several_plans_of_one_category():
    jig = {"colour": "black-blue-plain", "days": 10.0, "alone": 10.0}
    paired = {"category": "casting-jig", "colours": [jig], "trailers": [{"colour": "black-blue-plain", "days": 10.0}]}
    days = {"worm": DAYS, "casting-jig": DAYS}
    worm = {"category": "worm", "colours": [{"colour": "black-plain", "days": 10.0}]}
    answer = audit_answer(command(plans=[worm, paired, worm], days=days, schools=["ladder"]))
    assert {gap["category"] for gap in answer["gaps"]} == {"worm", "casting-jig", "jig-trailer"}
    for category in ("worm", "casting-jig"):
        assert sum(gap["of"].get(category, 0.0) for gap in answer["gaps"]) == 10.0
        assert answer["categories"][category] == {
            "expected_days": 10.0,
            "answered_days": 0.0,
            "first_choice_days": 0.0,
            "right_days": 0.0,
            "no_colour": 0.0,
        }
    assert answer["expected_days"] == 20.0


@pytest.mark.parametrize(
    ("wrong", "field"),
    [
        ({"lures": 3}, "lures"), ({"lures": [{"ref": "A"}]}, "lures[0].category"), ({"par": {"spear": 1}}, "par.spear"),
        ({"lures": [{"ref": "A", "category": "worm", "colour": {"tone": "black"}}]}, "lures[0].colour"),
        ({"sizes_same": 1}, "sizes_same"),
        ({"days": {}}, "plans[0].category"), ({"colour": 1}, "colour"), ({"schools": ["guess"]}, "schools"),
    ],
)  # fmt: skip
def test_the_command_says_what_is_wrong_and_where(wrong, field):
    assert answer_line(audit_answer, json.dumps(command(**wrong)))["error"].startswith(field)
