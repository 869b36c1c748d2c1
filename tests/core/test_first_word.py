"""The first word over all who are heard, on every page the same."""

import random

import pytest

from tackle.base.errors import DataError
from tackle.base.vocabulary import CATEGORIES, Forage, Grade, Light, Season, ids
from tackle.colours.palette import house_palette
from tackle.commands.advise import advise
from tackle.commands.day import day
from tackle.cover.opinions import gather_opinions
from tackle.data import FOLDER
from tackle.schools.counsel import counsel
from tackle.schools.rulebook import house_rulebooks, read_rulebook
from tackle.schools.top_choice import ask, load_weights, named_of_told
from tackle.situations.situation import read_situation

BOOKS = house_rulebooks()
PALETTE = house_palette()
HEAD = {"id": "made-up", "name": "Made up", "question": "?", "short": "x", "order": 9}


def of(said, category="worm", **when):
    calls = [
        {"id": f"call-{tone}", "for": category, "want": {"tone": tone}, "grade": "go-to", "why": tone,
         **({"when": when[tone]} if when.get(tone) else {})}
        for tone in said
    ]  # fmt: skip
    return read_rulebook({"school": {**HEAD, "id": "-".join(said)}, "call": calls}, "made-up")


def start(books, **told):
    situation = read_situation({"category": "worm", "visibility_in": 40, "light": "bright", **told})
    cards = PALETTE.sold_in("worm")
    return ask(books, cards, situation).start()


def test_what_names_more_of_what_was_told_is_heard_first():
    plain = of(["black"])
    told = of(["watermelon"], watermelon={"forage": ["sunfish"], "season": "summer"})
    assert start([plain, told], forage=["sunfish"], season="summer").card.tone == "watermelon"
    assert start([plain, told]).card.tone == "black"  # where nobody says so, its call does not hold


def test_what_rests_on_unknown_counts_for_nothing():
    rests = of(["black"], black={"forage": ["unknown"]})
    says = of(["watermelon"], watermelon={"visibility_in": {"from": 30}})
    assert start([rests, says]).card.tone == "watermelon"
    situation = read_situation({"category": "worm", "visibility_in": 40, "light": "bright"})
    assert named_of_told(rests.calls[0], situation) == 0
    assert named_of_told(says.calls[0], situation) == 1


def test_schools_that_reach_for_the_same_add_up():
    one, two = of(["watermelon"]), of(["black"])
    other = read_rulebook({"school": {**HEAD, "id": "third"}, "call": [{
        "id": "c", "for": "worm", "want": {"tone": "black"}, "grade": "go-to", "why": "x"}]}, "made-up")  # fmt: skip
    found = start([one, two, other])
    assert found.card.tone == "black"
    assert {found.book.id, *(book.id for book in found.supporters)} == {"black", "third"}
    assert start([]) is None


def test_a_rule_of_ones_own_goes_before_the_books():
    from tackle.schools.rulebook import on_top, read_calls

    own = read_calls(
        [{"id": "mine", "for": "worm", "want": {"tone": "pink", "accents": "chartreuse-tail"}, "grade": "go-to",
          "why": "Mine."}], "mine", lifted=True,
    )  # fmt: skip
    situation = read_situation({"category": "finesse-worm", "visibility_in": 40, "light": "bright"})
    cards = PALETTE.sold_in("finesse-worm")
    books = [on_top(BOOKS["ladder"], tuple(own)), BOOKS["menu"]]

    assert ask(books, cards, situation).start().verdict.call.why != "Mine."  # it is one for worms
    worm = read_situation({"category": "worm", "visibility_in": 40, "light": "bright"})
    mine = read_calls(
        [{"id": "mine", "for": "worm", "want": {"tone": "brown"}, "grade": "go-to", "why": "Mine."}], "m", lifted=True
    )
    books = [on_top(BOOKS["ladder"], tuple(mine)), *list(BOOKS.values())[1:]]

    assert ask(books, PALETTE.sold_in("worm"), worm).start().verdict.call.why == "Mine."


@pytest.mark.parametrize("seed", range(40))
def test_ask_the_command_the_tray_and_the_plan_say_the_same(seed):
    scatter = random.Random(seed)
    asked = {
        "category": scatter.choice([one for one in CATEGORIES if one != "jig-trailer"]),
        "visibility_in": scatter.choice((6, 13, 18, 27, 44, 80, 150)),
        "light": scatter.choice(ids(Light)),
        "season": "summer",
        "forage": [scatter.choice(ids(Forage))],
    }
    if scatter.random() < 0.5:
        asked["season"] = scatter.choice(ids(Season)[2:])
    situation = read_situation(asked)
    cards = PALETTE.sold_in(situation.category)
    said = advise({"situation": asked})["start"]
    answer = counsel(situation, PALETTE, list(BOOKS.values()), list(BOOKS.values())).start
    opinions = gather_opinions(situation.category, tuple(BOOKS.values()), (situation,), False, Grade.WORKS, PALETTE)
    leader = opinions.leader(0, range(len(cards))) if opinions.votes.most[0] else None
    planned = None if leader is None else opinions.cards[leader]
    have = [{"category": situation.category, "colour": card.id, "count": 1} for card in cards]
    told = day({
        "categories": [situation.category], "room": len(cards), "hours": [{"at": "6:00", "situation": asked}],
        "have": have,
    })  # fmt: skip
    if said is None:
        assert answer is None
        assert planned is None
        return
    assert said["colour"] == answer.card.id == planned.id
    assert said["why"] == answer.verdict.call.why
    first = told["hours"][0]["first"][situation.category]
    in_tray = {one["colour"] for one in told["tray"]}
    if first and said["colour"] in in_tray:
        assert first["colour"] == said["colour"]


def test_a_wrong_weight_is_named(tmp_path):
    path = tmp_path / "first-word.toml"
    path.write_text((FOLDER / "first-word.toml").read_text().replace("power = 3", 'power = "steep"'))
    with pytest.raises(DataError, match=r"first-word\.toml: file: power: 'steep' is not allowed"):
        load_weights(path)
