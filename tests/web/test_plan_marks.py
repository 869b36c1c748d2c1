"""What a kept plan is marked with: another where anything that bears on it is, and compared with its like alone."""

import copy

import pytest

from tests.owner import renewed
from web.domain.plans.selectors import get_basis
from web.domain.plans.snapshot import changed_since, snapshot

pytestmark = pytest.mark.django_db


def marks_of_waters(owner):
    return snapshot(get_basis(owner))["made_from"]["marks"]["waters"]


def test_a_water_is_marked_by_what_bears_on_its_days(wren):
    before = marks_of_waters(wren)
    tarn = wren.waters.get(name="Tarn Hollow")
    tarn.target = "something else"
    tarn.save()
    renewed(wren)
    assert marks_of_waters(wren) == before
    tarn.forbids_trebles = True
    tarn.save()
    renewed(wren)
    after = marks_of_waters(wren)
    assert {name for name in before if before[name] != after[name]} == {"Tarn Hollow"}


def test_a_plan_with_marks_of_an_older_form_is_not_told_to_differ(wren):
    now = snapshot(get_basis(wren))
    older = copy.deepcopy(now)
    older["made_from"]["marks"] = {
        "waters": {},
        "books": dict.fromkeys(now["made_from"]["schools"], "x"),
        "palette": "x",
    }
    assert changed_since(older, now) == []
    other = copy.deepcopy(now)
    other["made_from"]["marks"]["palette"] = "x"
    assert changed_since(other, now) == ["The palette changed."]
