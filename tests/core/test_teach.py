"""Teaching: the drill says what the schools say, asks again when the scheduler does, and tells the plan as a story."""

import random
from datetime import UTC, datetime, timedelta
from fractions import Fraction
from itertools import pairwise

import pytest
from fsrs import Card as Remembered
from fsrs import Rating, Scheduler

from tackle.base.errors import DataError
from tackle.base.vocabulary import CATEGORIES, Forage, Light, Season, Stain, Wind
from tackle.colours.palette import house_palette
from tackle.commands.advise import advise
from tackle.cover.plan import Request
from tackle.cover.planner import make_plan
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.situation import read_situation
from tackle.teach.bites import Next, house_cases, load_cases
from tackle.teach.debates import house_debates, load_debates, of_side, voices
from tackle.teach.depth import STEPS, bias, fading
from tackle.teach.drill import Pick, draw
from tackle.teach.recall import answered, due_at, is_sure, known
from tackle.teach.story import tell

BOOKS = house_rulebooks()
NOON = datetime(2026, 5, 2, 12, tzinfo=UTC)


def told_situation(chance):
    return {
        "category": chance.choice(list(CATEGORIES)),
        "visibility_in": round(chance.lognormvariate(3.4, 0.8), 1),
        "light": chance.choice(list(Light)).value,
        "stain": chance.choice(list(Stain)).value,
        "wind": chance.choice(list(Wind)).value,
        "season": chance.choice(list(Season)).value,
        "forage": [chance.choice(list(Forage)).value],
    }


def test_a_thousand_draws_say_what_advise_says():
    chance = random.Random(1)
    drawn = 0
    while drawn < 1000:
        told = told_situation(chance)
        followed = chance.sample(list(BOOKS), chance.randint(1, 4))
        cards = house_palette().sold_in(told["category"])
        seed = chance.randrange(10_000)
        question = draw(read_situation(told), [BOOKS[one] for one in followed], cards, seed)
        verdicts = advise({"situation": told})["verdicts"]
        by = {school: {one["colour"]: one for one in verdicts[school]} for school in followed}
        best = {
            school: next((one["call"] for one in verdicts[school] if one["grade"] == "go-to"), None) for school in by
        }
        if question is None:
            assert not any(best.values())
            continue
        drawn += 1
        assert 4 <= len(question.offers) <= 6
        judges = [question.by.id] if question.by else [school for school in followed if best[school]]
        for offer in question.offers:
            firsts = []
            for heard in offer.heard:
                said = by[heard.book.id].get(offer.card.id)
                assert (heard.grade, heard.call and heard.call.why) == (
                    (said["grade"], said["reason"]) if said else (None, None)
                )
                first = bool(said) and said["grade"] == "go-to" and said["call"] == best[heard.book.id]
                assert heard.first == first
                firsts += [heard.book.id] if first else []
            silent = all(heard.grade in (None, "avoid") for heard in offer.heard)
            wanted = Pick.FIRST if set(firsts) & set(judges) else Pick.WRONG if silent else Pick.DOES
            assert offer.pick is wanted
        assert question.best
        assert question == draw(read_situation(told), [BOOKS[one] for one in followed], cards, seed)


def test_where_schools_have_no_colour_in_common_one_of_them_is_asked():
    day = read_situation({"category": "bladed-jig", "visibility_in": 6, "light": "broken", "stain": "silt"})
    cards, books = house_palette().sold_in("bladed-jig"), [BOOKS["ladder"], BOOKS["spark"]]
    asked = {draw(day, books, cards, seed).by for seed in range(20)}
    assert asked == set(books)
    assert draw(day, [BOOKS["ladder"]], cards, 1).by is None
    agreed = read_situation({"category": "worm", "visibility_in": 40, "light": "bright"})
    worms = house_palette().sold_in("worm")
    for seed in range(30):
        question = draw(agreed, [BOOKS["ladder"], BOOKS["menu"], BOOKS["short-list"]], worms, seed)
        if question.by is None:  # a colour that all reach for is there
            assert any(all(heard.first for heard in offer.heard) for offer in question.offers)


def test_the_scheduler_is_the_packages():
    theirs, state, at = Remembered(card_id=1), None, NOON
    for pick, rating in (
        (Pick.FIRST, Rating.Good),
        (Pick.WRONG, Rating.Again),
        (Pick.DOES, Rating.Hard),
        (Pick.FIRST, Rating.Good),
    ):
        theirs, _ = Scheduler(enable_fuzzing=False).review_card(theirs, rating, at)
        state = answered(state, pick, at)
        assert due_at(state) == max(theirs.due, at + timedelta(hours=1))  # not within the hour
        at += timedelta(days=2)
    assert known(state, at) < known(state, at - timedelta(days=2)) <= 1
    late = answered(state, Pick.FIRST, NOON)  # an older answer that comes last
    assert due_at(late) > NOON


def worms(owned=()):
    days = [
        (90, "bright", "shad", 20),
        (90, "overcast", "shad", 9),
        (20, "broken", "crawfish", 8),
        (10, "low", "unknown", 3.5),
    ]
    return Request(
        category="worm", books=tuple(BOOKS[one] for one in ("ladder", "menu", "sheen")), right=Fraction(9, 10),
        situations=tuple(
            read_situation({"category": "worm", "visibility_in": see, "light": light, "forage": [food]})
            for see, light, food, _ in days
        ),
        days=tuple(one[3] for one in days), owned=frozenset(owned),
    )  # fmt: skip


def test_the_story_tells_the_plan_from_its_first_colour_on():
    request = worms()
    plan = make_plan(request, house_palette())
    story = tell(request, plan, house_palette())
    assert {step.card for step in story.steps} | set(story.later) == {piece.card for piece in plan.pieces}
    assert [step.first for step in story.steps] == sorted(step.first for step in story.steps)
    assert story.steps[0].before is None
    alone = [
        make_plan(
            Request(**{**_fields(request), "ban": _all_but(piece.card), "lock": frozenset([piece.card.id])}),
            house_palette(),
        )
        for piece in plan.pieces
    ]
    assert max(one.first_choice_days + one.answered_days for one in alone) == pytest.approx(
        story.steps[0].first + story.steps[0].answered
    )
    for step in story.steps[1:]:
        if step.before:
            assert not step.before.is_first
    assert tell(worms(["black-plain"]), plan, house_palette()) == story


def _fields(request):
    return {name: getattr(request, name) for name in ("category", "books", "situations", "days", "right")}


def _all_but(card):
    return frozenset(one.id for one in house_palette().sold_in("worm")) - {card.id}


def levels(fade):
    return max(abs(int(fade.lure[at : at + 2], 16) - int(fade.water[at : at + 2], 16)) for at in (1, 3, 5))


@pytest.mark.parametrize("stain", list(Stain))
@pytest.mark.parametrize("light", ["bright", "overcast"])
def test_the_white_lure_is_gone_where_the_water_has_its_number(stain, light):
    fades = fading(house_palette().by_id["white-flat"], 30, stain, light)
    at_number = round(STEPS / 1.6)
    assert levels(fades[at_number]) <= 2
    assert levels(fades[at_number // 2]) >= 6
    assert all(levels(below) <= levels(above) + 1 for above, below in pairwise(fades))


def test_an_eye_that_is_off_is_found_and_chance_is_not():
    chance = random.Random(2)
    true = [chance.uniform(15, 60) for _ in range(12)]
    off = bias([(one, one * chance.uniform(1.15, 1.35)) for one in true])
    assert off is not None
    assert 3 < off.off_in < 15
    assert off.right(30) == pytest.approx(24, abs=2)
    assert bias([(one, one * chance.uniform(0.8, 1.25)) for one in true]) is None
    assert bias([(30, 45)] * 3) is None


def test_the_cases_hold_what_the_guide_says():
    cases = {case.id: case for case in house_cases()}
    assert cases["whole"].right == {Next.STAY}
    assert cases["outside"].right == {Next.NEAREST}
    assert cases["bumped-outside"].right == {Next.STAY}
    assert Next.PLACE in cases["nothing-after-roles"].right


def test_debates_have_the_sides_that_people_take():
    by_id = {one.id: one for one in house_debates()}
    side_of = {}
    for debate in by_id.values():
        days, found = voices(debate, {}, list(BOOKS.values()), house_palette())
        assert days == 0
        side_of[debate.id] = {voice.book.id: side for side, said in found.items() for voice in said}
        assert all(voice.why for said in found.values() for voice in said)
    assert side_of["dirty-water"] == {
        "ladder": "outline", "short-list": "outline", "menu": "loud", "calendar": "loud", "sheen": "block",
    }  # fmt: skip
    assert side_of["black-blue"]["short-list"] == "black-blue"
    assert side_of["black-blue"]["ladder"] == "natural"
    assert side_of["wind"]["sheen"] == "metallic"
    day = read_situation({"category": "jerkbait", "visibility_in": 48, "light": "broken", "wind": "chop"})
    calm = read_situation({"category": "jerkbait", "visibility_in": 48, "light": "broken", "wind": "calm"})
    hangs, _ = voices(by_id["wind"], {"jerkbait": [(day, 3.0), (calm, 5.0)]}, [BOOKS["sheen"]], house_palette())
    assert hangs == 3.0
    assert of_side(by_id["wind"], house_palette().by_id["shad-chrome"]).id == "metallic"


@pytest.mark.parametrize(
    ("load", "text", "said"),
    [
        (load_cases, "", "no \\[\\[case\\]\\]"),
        (load_cases, '[[case]]\nid="a"\nthrown="worm"\ncard="nonesuch"\nsays="x"\nright=["stay"]\nwhy="y"', "a: card"),
        (load_cases, '[[case]]\nid="a"\nthrown="worm"\ncard="black-plain"\nsays="x"\nright=["run"]\nwhy="y"', "right"),
        (load_debates, "", "no \\[\\[debate\\]\\]"),
        (load_debates, '[[debate]]\nid="a"\nsides=[]', "a: sides"),
    ],
)
def test_broken_files_say_where(tmp_path, load, text, said):
    path = tmp_path / "file.toml"
    path.write_text(text)
    with pytest.raises(DataError, match=said):
        load(path)


def test_only_a_right_answer_that_lasted_is_sure_and_nothing_is_due_again_within_the_hour():
    at = datetime(2026, 5, 2, 7, tzinfo=UTC)
    wrong, right = answered(None, Pick.WRONG, at), answered(None, Pick.FIRST, at)
    assert not is_sure(wrong, at)
    assert not is_sure(right, at)  # right once says little
    for state in (wrong, right):
        assert due_at(state) >= at + timedelta(hours=1)
    again = answered(right, Pick.FIRST, at + timedelta(hours=2))
    assert is_sure(again, at + timedelta(hours=3))
    assert not is_sure(again, at + timedelta(days=400))
    assert not is_sure(answered(again, Pick.WRONG, at + timedelta(hours=4)), at + timedelta(hours=4))
