"""The day's tray against every tray there could be, by what the schools say one hour at a time."""

import random
from fractions import Fraction
from itertools import combinations

import pytest

from tackle.base.errors import InvalidInput
from tackle.colours.family import family
from tackle.colours.palette import house_palette
from tackle.colours.role import find_role
from tackle.commands.advise import advise
from tackle.commands.day import day

PALETTE = house_palette()
WORTH = {"go-to": 100, "works": 60}


def a_day(seed):
    scatter = random.Random(seed)
    categories = scatter.sample(["worm", "jerkbait", "spinnerbait", "swim-jig", "popper"], scatter.randint(1, 3))
    have = [
        {"category": category, "colour": card.id, "count": scatter.randint(1, 3)}
        for category in categories
        for card in scatter.sample(PALETTE.sold_in(category), 4 if len(categories) > 1 else 6)
    ]
    hours = [
        {
            "at": f"{6 + at:02}:00",
            "hours": scatter.choice((0.5, 1, 2)),
            "situation": {
                "visibility_in": scatter.choice((8, 20, 40, 90)),
                "light": scatter.choice(("bright", "broken", "overcast", "low", "night")),
                "season": scatter.choice(("winter", "prespawn", "summer", "fall")),
                "forage": [scatter.choice(("shad", "crawfish", "sunfish"))],
            },
        }
        for at in range(scatter.randint(2, 5))
    ]
    schools = scatter.sample(["ladder", "menu", "sheen", "calendar"], scatter.randint(1, 3))
    return {"schools": schools, "categories": categories, "room": scatter.randint(1, 6), "hours": hours, "have": have}


# As anglers have it: from how warm a water each is thrown, and how warm it mostly is in a season.
THROWN_FROM = {"popper": 55, "swim-jig": 55, "spinnerbait": 42}
USUAL = {"winter": 42, "prespawn": 54, "summer": 78, "fall": 62}


def shad(hour):
    return "shad" in hour["situation"]["forage"]


def said(request):
    """For each hour and category: each card's best worth, and each school's first choices."""
    table = {}
    for place, hour in enumerate(request["hours"]):
        for category in request["categories"]:
            worth, firsts = {}, []
            table[place, category] = worth, firsts
            if THROWN_FROM.get(category, 0) > USUAL[hour["situation"]["season"]]:
                continue
            if category == "swim-jig" and hour["situation"]["visibility_in"] >= 36 and not shad(hour):
                continue
            verdicts = advise({"situation": {**hour["situation"], "category": category}, "schools": request["schools"]})
            for cards in (verdicts["verdicts"][school] for school in request["schools"]):
                for card in cards:
                    worth[card["colour"]] = max(worth.get(card["colour"], 0), WORTH.get(card["grade"], 0))
                if cards and cards[0]["grade"] == "go-to":
                    firsts.append(
                        {c["colour"] for c in cards if c["grade"] == "go-to" and c["call"] == cards[0]["call"]}
                    )
            kin = {card: family(PALETTE.by_id[card], category) for card in worth}
            for first in firsts:
                mine = {kin[card] for card in first}
                first |= {card for card in worth if worth[card] and kin[card] in mine}
    return table


def best_by_trying_all(request):
    table = said(request)
    owned = sorted(
        ((one["category"], one["colour"]) for one in request["have"]),
        key=lambda one: (request["categories"].index(one[0]), [c.id for c in PALETTE.sold_in(one[0])].index(one[1])),
    )
    best = None
    for size in range(min(request["room"], len(owned)) + 1):
        for places in combinations(range(len(owned)), size):
            answered = right = suit = Fraction(0)
            for (place, category), (worth, firsts) in table.items():
                hours = Fraction(str(request["hours"][place]["hours"]))
                mine = {owned[at][1] for at in places if owned[at][0] == category}
                most = max((worth.get(card, 0) for card in mine), default=0)
                answered += hours * (most > 0)
                suit += hours * most
                if firsts:
                    right += hours * Fraction(sum(bool(first & mine) for first in firsts), len(firsts))
            key = (answered, right, -size, suit, tuple(-at for at in places))
            if best is None or key > best[0]:
                best = key, {owned[at] for at in places}
    return best


def added(request, told, colours):
    """What is in the tray beside the best colours: at most one of each category, of another family, in room left."""
    more = [one for one in told["tray"] if (one["category"], one["colour"]) not in colours]
    assert len({one["category"] for one in more}) == len(more) <= request["room"] - len(colours)
    for one in more:
        mine = {family(PALETTE.by_id[card], where) for where, card in colours if where == one["category"]}
        assert family(PALETTE.by_id[one["colour"]], one["category"]) not in mine
        assert one["hours"] or one["fallback"]
    return more


@pytest.mark.parametrize("seed", range(60))
def test_the_tray_is_the_best_of_all(seed):
    request = a_day(seed)
    told = day(request)
    (answered, right, *_), colours = best_by_trying_all(request)
    assert told["status"] == "optimal"
    assert told["answered_hours"] == pytest.approx(float(answered))
    assert told["right_hours"] >= float(right) - 1e-5
    tray = {(one["category"], one["colour"]) for one in told["tray"]}
    assert tray - {(one["category"], one["colour"]) for one in added(request, told, colours)} == colours
    assert sum(one["count"] for one in told["tray"]) <= request["room"]
    assert sum(one["hours"] for one in told["tray"]) == pytest.approx(told["answered_hours"])


@pytest.mark.parametrize("seed", range(25))
def test_the_rods_are_the_best_of_all(seed):
    request = {**a_day(seed), "rods": 1 + seed % 4}
    told = day(request)
    tray = [(one["category"], one["colour"]) for one in told["tray"] if not one.get("fallback")]
    table, best = said(request), None
    for places in combinations(range(len(tray)), min(request["rods"], len(tray))):
        right = answered = Fraction(0)
        for (place, category), (worth, firsts) in table.items():
            hours = Fraction(str(request["hours"][place]["hours"]))
            mine = [tray[at][1] for at in places if tray[at][0] == category]
            answered += hours * any(worth.get(card, 0) for card in mine)
            if firsts:
                most = max((sum(card in first for first in firsts) for card in mine), default=0)
                right += hours * Fraction(most, len(firsts))
        roles = len({find_role(PALETTE.by_id[tray[at][1]]) for at in places})
        key = (right, answered, roles, tuple(-at for at in places))
        if best is None or key > best[0]:
            best = key, [tray[at] for at in places], right, answered
    rods = [(one["category"], one["colour"]) for one in told["rods"]]
    assert sorted(rods) == sorted(best[1] if best else [])
    if best:
        assert sum(one["right_hours"] for one in told["rods"]) == pytest.approx(float(best[2]), abs=1e-5)
        assert sum(one["hours"] for one in told["rods"]) == pytest.approx(float(best[3]))


SKY = {"visibility_in": 30, "season": "summer"}


def simple(**changed):
    hours = [
        {"at": "06:00", "hours": 2, "situation": {**SKY, "light": "low"}},
        {"at": "08:00", "hours": 2, "situation": {**SKY, "light": "bright"}},
    ]
    have = [{"category": "jerkbait", "colour": one, "count": 3} for one in ("shad-glass", "shad-matte", "shad-chrome")]
    return {"schools": ["sheen"], "categories": ["jerkbait"], "room": 9, "hours": hours, "have": have, **changed}


def test_spares_fill_the_room_and_none_lies_idle():
    told = day(simple())
    assert all(one["hours"] > 0 or one["right_hours"] > 0 or one["fallback"] for one in told["tray"])
    assert all(one["count"] <= 3 for one in told["tray"])
    assert day(simple(room=1))["tray"][0]["count"] == 1
    assert day(simple(room=0))["tray"] == []


def test_a_change_of_sky_is_told_with_its_hour_and_reason():
    told = day(simple())
    firsts = [hour["first"]["jerkbait"]["colour"] for hour in told["hours"]]
    assert [(c["from"], c["to"]) for c in told["changes"]] == ([(firsts[0], firsts[1])] if len({*firsts}) > 1 else [])
    assert all("light bright" in change["why"] for change in told["changes"])


def test_nothing_owned_answers_nothing_and_a_card_may_be_told_by_its_traits():
    assert day(simple(have=[]))["answered_hours"] == 0
    assert day(simple(have=[]))["hours"][0]["first"] == {"jerkbait": None}
    card = PALETTE.by_id["shad-matte"]
    traits = {**card.traits(), "back": card.back, "side": card.side, "belly": card.belly}
    told = day(simple(have=[{"category": "jerkbait", "colour": traits, "count": 1}]))
    assert told["answered_hours"] == day(simple(have=[simple()["have"][1]]))["answered_hours"]


@pytest.mark.parametrize(
    "changed",
    [{"room": -1}, {"room": 2.5}, {"hours": []}, {"categories": []},
     {"schools": ["guesswork"]}, {"have": [{"category": "x"}]},
     {"hours": [{"at": 6}]}, {"moon": "full"}, {"have": [{"category": "worm", "colour": "shad-matte"}]}],
)  # fmt: skip
def test_a_day_that_makes_no_sense_is_refused(changed):
    with pytest.raises(InvalidInput):
        day(simple(**changed))
