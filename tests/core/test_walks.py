"""The walks of docs/change.md, as far as a test can go."""

import re
import tomllib
from dataclasses import fields
from enum import StrEnum
from pathlib import Path

import pytest

from tackle.base.errors import DataError, InvalidInput
from tackle.base.typed import Record
from tackle.base.vocabulary import Light
from tackle.check.audit import Audit
from tackle.colours.palette import house_palette
from tackle.data import FOLDER
from tackle.intake.limits import load_limits
from tackle.schools.evaluation import rank
from tackle.schools.rulebook import read_rulebook
from tackle.situations import conditions
from tackle.situations.conditions import Condition
from tackle.situations.depth import load_depths
from tackle.situations.situation import make_situation

ROOT = Path(__file__).parents[2]
PAGE = (ROOT / "docs/change.md").read_text(encoding="utf-8")


class Moon(StrEnum):
    FULL = "full"
    NEW = "new"


def test_every_file_that_a_walk_names_is_there():
    named = re.findall(r"`((?:tackle|web|tests)/[\w./]+)`", PAGE)
    assert len(named) > 10
    assert [name for name in named if not (ROOT / name).exists()] == []


def test_a_condition_is_read_by_its_row():
    row = Condition("moon", Moon, asked="moon")
    reader = Record({**conditions.CONDITIONS, row.id: row})
    told = reader.read({"visibility_in": 40, "light": "bright", "moon": "full"}, "ask")
    assert told["moon"] is Moon.FULL
    with pytest.raises(InvalidInput, match=r"ask\.moon: 'half' is not allowed; allowed: one of full, new"):
        reader.read({"visibility_in": 40, "light": "bright", "moon": "half"}, "ask")


def test_a_kind_that_is_left_out_of_its_file_is_refused(tmp_path):
    told = (FOLDER / "limits.toml").read_text(encoding="utf-8")
    without = tmp_path / "limits.toml"
    without.write_text(re.sub(r"\[popper\][^\[]*(\[[\d ,.]*\][^\[]*)*(?=\[frog\])", "", told), encoding="utf-8")
    assert "popper" not in tomllib.loads(without.read_text(encoding="utf-8"))
    for load in (load_limits, load_depths):
        with pytest.raises(DataError, match=r"limits\.toml"):
            load(without)


def test_the_school_of_the_page_is_a_school():
    written = re.search(r"```toml\n(.*?)```", PAGE, re.S)
    assert written
    book = read_rulebook(tomllib.loads(written[1]), "heron.toml")
    mud = make_situation("worm", visibility_in=6.0, light=Light.BRIGHT)
    said = rank(book, house_palette().sold_in("worm"), mud)
    assert {verdict.card.tone for verdict in said} == {"black"}


def test_a_finding_has_a_field_and_a_template():
    shown = {path.stem.removeprefix("finding_") for path in ROOT.glob("web/pages/crate/templates/crate/finding_*.html")}
    found = {field.name for field in fields(Audit)}
    assert shown
    assert [name for name in shown if not found & {name, f"{name}s", f"{name}es"}] == []
