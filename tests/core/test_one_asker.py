"""One question, one answer: Ask, advise, the day's first and what is begun with on the water, from one asker.

The phone's evaluator is held against the same in tests/browser/test_phone_asks.py.
"""

import random
from datetime import date

import pytest

from tackle.base.vocabulary import CATEGORIES, TRAILER, Cover, Light, Season, Stain, Wind, ids
from tackle.colours.palette import house_palette
from tackle.commands.advise import advise
from tackle.commands.day import day
from tackle.commands.turns import turns
from tackle.day.forecast import Sky, make_hour_situation
from tackle.schools.counsel import counsel
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.conditions import CONDITIONS
from tackle.situations.expected import expected_days
from tackle.situations.regions import region_at
from tackle.situations.situation import make_situation, read_situation
from tackle.situations.starting import first_guess, kinds

PALETTE, BOOKS = house_palette(), house_rulebooks()
WATERS = [first_guess(kind, region_at(28.0 + 3 * place)) for place, kind in enumerate(kinds().values())]


def told(situation):
    """A situation as a request tells it."""
    found = {name: getattr(situation, row.field) for name, row in CONDITIONS.items()}
    return {
        name: list(value) if isinstance(value, tuple) else value for name, value in found.items() if value is not None
    }


def some_hours(count, seed):
    scatter = random.Random(seed)
    for place in range(count):
        water = scatter.choice(WATERS)
        category = list(CATEGORIES)[place % len(CATEGORIES)]
        sky = Sky(scatter.randrange(24), scatter.choice(list(Light)), scatter.choice([None, *Wind]))
        inches = round(2 ** scatter.uniform(1.5, 8), 1)
        when = date(2026, scatter.randint(1, 12), scatter.randint(1, 28))
        yield make_hour_situation(category, sky, inches, scatter.choice(list(Stain)), water, when)


@pytest.mark.parametrize("seed", range(4))
def test_ask_advise_and_what_is_begun_with_on_the_water_are_one(seed):
    """Two thousand waters, trips and hours, with every card of the kind in the tray."""
    books = list(BOOKS.values())
    for situation in some_hours(500, seed):
        category, asked = situation.category, told(situation)
        assert read_situation(asked, category) == situation
        said = advise({"situation": {**asked, "category": category}})
        answer = counsel(situation, PALETTE, books, books).start
        tray = [{"category": category, "colour": card.id, "count": 1} for card in PALETTE.sold_in(category)]
        if category == TRAILER:
            continue
        now = turns({"categories": [category], "at": "2026-05-02T07:00", "now": asked, "tray": tray})
        start = said["start"]
        if start is None:
            assert answer is None
            continue
        assert now["do"] == "begin"
        assert start["colour"] == answer.card.id == now["colour"]
        assert start["school"] == answer.book.id == now["from"]
        assert start["why"] == answer.verdict.call.why == now["why"]
        verdict = next(one for one in said["verdicts"][start["school"]] if one["colour"] == start["colour"])
        assert verdict["reason"] == start["why"]  # the reason is of the very card that is named


# What one and the same hour was told of, where the places once said different things.
HOURS = (
    {"category": "jerkbait", "visibility_in": 34, "light": "overcast"},
    {"category": "shallow-crankbait", "visibility_in": 30, "light": "overcast"},
    {"category": "swim-jig", "visibility_in": 14, "light": "bright", "season": "spawn", "forage": ["shad"]},
    {"category": "inshore-paddletail", "visibility_in": 24, "light": "low", "month": 4, "target": "red-drum"},
    {"category": "shallow-crankbait", "visibility_in": 14, "stain": "silt", "light": "broken", "month": 3},
)


@pytest.mark.parametrize("hour", HOURS, ids=lambda one: one["category"])
def test_the_evening_the_water_and_ask_agree(hour):
    category = hour["category"]
    have = [{"category": category, "colour": card.id, "count": 2} for card in PALETTE.sold_in(category)]
    evening = day({"categories": [category], "room": 4, "rods": 4, "hours": [{"at": "7:00", "situation": hour}],
                   "have": have})  # fmt: skip
    first = evening["hours"][0]["first"][category]
    tray = [{name: one[name] for name in ("category", "colour", "count")} for one in evening["tray"]]
    water = turns({"categories": [category], "at": "2026-05-02T07:00", "now": hour, "tray": tray, "aboard": have})
    assert (water["do"], water["colour"], water["why"]) == ("begin", first["colour"], first["why"])
    assert water["colour"] in {one["colour"] for one in tray}  # only what was packed is begun with
    assert first["colour"] == advise({"situation": hour})["start"]["colour"]


@pytest.mark.parametrize("category", [one for one in CATEGORIES if one != TRAILER])
def test_a_plans_days_ask_what_the_day_asks(category):
    """Of one water, sky, food and season: the row of the days to expect is what the day's hour is, as deep as the kind
    works there, with its target and its usual sight."""
    water = next(one for one in WATERS if one.throws(category))
    for row in list(expected_days([water], [5]))[:40]:
        planned = row.situation(category)
        made = make_situation(
            category, water, visibility_in=row.visibility_in, light=row.light, stain=row.stain, wind=row.wind,
            season=row.season, water_temp_f=row.temp_f, cover=row.cover, forage=(row.food,),
        )  # fmt: skip
        assert planned == made
    assert {*ids(Cover)} >= {one.value for one in water.cover}
    assert row.season in Season
