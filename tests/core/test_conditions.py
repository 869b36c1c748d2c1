"""Every condition of the table goes all the way: read, tabulated, held by a rule, kept by a house rule."""

import re
from dataclasses import replace
from pathlib import Path

import pytest

from tackle.base.errors import InvalidInput
from tackle.base.vocabulary import Light, Tone, ids
from tackle.colours.palette import house_palette
from tackle.schools.evaluation import rank
from tackle.schools.own_rule import conditions_like
from tackle.schools.rulebook import read_rulebook
from tackle.situations.columns import tabulate
from tackle.situations.conditions import CHOICES, CONDITIONS, DERIVED, NUMBERS
from tackle.situations.situation import Situation, read_situation

ROOT = Path(__file__).parents[2]
BASE = {"category": "jig-trailer", "visibility_in": 40, "light": "overcast"}
ROWS = list(CONDITIONS.values())


def sample(row):
    """A value that is not what stands where nobody says anything."""
    if row.words:
        word = next(one for one in reversed(ids(row.words)) if row.unsaid not in (one, (one,)))
        return [word] if row.several else word
    return round((row.low + row.high) / 20 + row.low) if row.whole else row.low + (row.high - row.low) / 40


@pytest.mark.parametrize("row", ROWS, ids=lambda row: row.id)
def test_a_condition_is_read_strictly(row):
    read = read_situation({**BASE, row.id: sample(row)})
    told = getattr(read, row.field)
    assert told == (tuple(sample(row)) if row.several else sample(row))
    for odd in (True, "no such", {"a": 1}, float("nan"), -1, 10**9):
        with pytest.raises(InvalidInput) as refused:
            read_situation({**BASE, row.id: odd})
        assert refused.value.field == f"situation.{row.id}"
        assert refused.value.allowed
    if not row.needed:
        unsaid = Tone.GREEN_PUMPKIN if row.id == "with" else row.unsaid  # a trailer's jig, where it is not known
        assert getattr(read_situation({**BASE, row.id: None}), row.field) == unsaid
    assert row.field in Situation.__dataclass_fields__


@pytest.mark.parametrize("row", ROWS, ids=lambda row: row.id)
def test_a_rule_made_from_a_situation_holds_there(row):
    situation = read_situation({**BASE, row.id: sample(row)})
    when = conditions_like(situation)
    if row.id != "month":  # a month is kept as its season
        assert (row.id if row.id in (*NUMBERS, *CHOICES) else "norm_ratio") in when
    call = {"id": "x", "for": "all", "when": when, "want": {"tone": "black-blue"}, "grade": "works", "why": "x"}
    head = {"id": "made-up", "name": "Made up", "question": "?", "short": "x", "order": 9}
    book = read_rulebook({"school": head, "call": [call]}, "made-up")
    cards = house_palette().sold_in("jig-trailer")
    assert rank(book, cards, situation)
    elsewhere = replace(situation, visibility_in=500.0, light=Light.NIGHT)
    assert not rank(book, cards, elsewhere)
    columns = tabulate([situation])
    assert set(columns.numbers) == set(NUMBERS)
    assert {*columns.choices, "forage"} == set(CHOICES)


def test_what_follows_from_the_others_is_no_condition_of_its_own():
    assert not set(DERIVED) & set(CONDITIONS)
    assert set(DERIVED) < set(NUMBERS)


def test_situations_have_one_maker():
    places = [
        path
        for folder in ("tackle", "web")
        for path in (ROOT / folder).rglob("*.py")
        if re.search(r"(?<!class )\bSituation\(", path.read_text())
    ]
    assert [path.name for path in places] == ["situation.py"]
