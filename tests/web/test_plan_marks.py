"""What a kept plan is marked with: the same in every process, and another where anything that bears on it is."""

import subprocess
import sys
from dataclasses import replace

import pytest

from tackle.schools.rulebook import Rulebook, house_rulebooks
from tests.owner import renewed
from web.plans.fingerprint import mark_of_book, marks_of_waters
from web.plans.reads import basis_of

MARKS = """
import django; django.setup()
from tackle.colours.palette import house_palette
from tackle.schools.rulebook import house_rulebooks
from web.plans.fingerprint import mark_of_book, mark_of_palette
print([mark_of_book(book) for book in house_rulebooks().values()], mark_of_palette(house_palette()))
"""


def test_marks_are_the_same_in_every_process(monkeypatch):
    said = set()
    for seed in ("1", "2"):
        monkeypatch.setenv("PYTHONHASHSEED", seed)
        run = subprocess.run([sys.executable, "-c", MARKS], check=True, capture_output=True, text=True)
        said.add(run.stdout)
    assert len(said) == 1


def test_another_call_is_another_mark():
    book = house_rulebooks()["ladder"]
    changed = replace(book.calls[0], why="For another reason.")
    other = Rulebook(book.id, book.name, book.question, book.short, book.order, (changed, *book.calls[1:]))
    assert mark_of_book(book) != mark_of_book(other)


@pytest.mark.django_db
def test_a_water_is_marked_by_what_bears_on_its_days(wren):
    before = marks_of_waters(basis_of(wren).days)
    tarn = wren.waters.get(name="Tarn Hollow")
    tarn.target = "something else"
    tarn.save()
    renewed(wren)
    assert marks_of_waters(basis_of(wren).days) == before
    tarn.forbids_trebles = True
    tarn.save()
    renewed(wren)
    after = marks_of_waters(basis_of(wren).days)
    assert {name for name in before if before[name] != after[name]} == {"Tarn Hollow"}
