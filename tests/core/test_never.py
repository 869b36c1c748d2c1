"""No school begins with what is never a first choice; and the list that says so bites."""

import pytest

from tackle.base.vocabulary import CATEGORIES
from tackle.colours.palette import house_palette
from tackle.schools.never import LADDERS, lattice, never_first, stepping_back
from tackle.schools.rulebook import house_rulebooks, read_rulebook

PALETTE = house_palette()
BOOKS = house_rulebooks()
HEAD = {"id": "made-up", "name": "Made up", "question": "?", "short": "x", "order": 9}


@pytest.mark.parametrize("category", CATEGORIES)
def test_no_school_begins_with_what_is_never_first(category):
    situations = lattice(category, (10.0, 18.0, 40.0, 130.0))[::3]
    assert len(situations) > 300
    wrong = [one for book in BOOKS.values() for one in never_first(book, category, PALETTE, situations)]
    assert [(one.book.id, one.call.id, one.card.id, one.rule.id) for one in wrong] == []


@pytest.mark.parametrize(
    ("category", "want", "rule"),
    [
        ("shallow-crankbait", {"opacity": "translucent"}, "see-through-in-murk"),
        ("popper", {"tone": "bone"}, "pale-on-top-in-murk"),
        ("popper", {"finish": "metallic"}, "metallic-on-top"),
        ("spinnerbait", {"opacity": "translucent"}, "see-through-skirt"),
        ("worm", {"tone": "green-pumpkin", "accents": "chartreuse-tail"}, "accent-in-clear-water"),
    ],
)
def test_a_school_that_does_is_found(category, want, rule):
    call = {"id": "wrong", "for": category, "want": want, "grade": "go-to", "why": "x"}
    book = read_rulebook({"school": HEAD, "call": [call]}, "made-up")
    found = list(never_first(book, category, PALETTE, lattice(category, (10.0, 18.0, 66.0))))
    assert rule in {one.rule.id for one in found}
    assert all(one.call.id == "wrong" and one.times > 0 for one in found)


def test_what_is_excepted_is_not_found():
    calls = [
        {"id": "odd", "for": "finesse-stick", "grade": "go-to", "why": "x",
         "want": {"tone": "red-bug", "accents": "orange-belly"}},
        {"id": "watched", "for": "swimbait", "grade": "go-to", "why": "x", "want": {"accents": "white-back"}},
    ]  # fmt: skip
    book = read_rulebook({"school": HEAD, "call": calls}, "made-up")
    for category in ("finesse-stick", "swimbait"):
        assert not list(never_first(book, category, PALETTE, lattice(category, (10.0,))))


def test_spark_is_never_quiet():
    call = {"id": "white", "for": "all", "want": {"tone": "white"}, "grade": "go-to", "why": "x"}
    book = read_rulebook({"school": {**HEAD, "id": "spark"}, "call": [call]}, "made-up")
    found = list(never_first(book, "spinnerbait", PALETTE, lattice("spinnerbait", (40.0,))))
    assert {one.rule.id for one in found} == {"quiet"}


@pytest.mark.parametrize("category", LADDERS)
@pytest.mark.parametrize("school", BOOKS)
def test_worms_and_sticks_only_lighten_as_the_water_clears(school, category):
    assert list(stepping_back(BOOKS[school], category, PALETTE)) == []


def test_a_step_back_is_found():
    calls = [
        {"id": "green", "for": "worm", "when": {"visibility_in": {"below": 30}}, "want": {"tone": "green-pumpkin"},
         "grade": "go-to", "why": "x"},
        {"id": "black", "for": "worm", "when": {"visibility_in": {"from": 30}}, "want": {"tone": "black"},
         "grade": "go-to", "why": "x"},
    ]  # fmt: skip
    back = list(stepping_back(read_rulebook({"school": HEAD, "call": calls}, "made-up"), "worm", PALETTE))
    assert back
    assert all((before.tone, card.tone) == ("green-pumpkin", "black") for _, before, _, card in back)
