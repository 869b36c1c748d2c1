"""Every part of the bench can be run: the smallest there is of each that needs no server, and all of them are there."""

import importlib

import pytest

from bench import measure
from bench.parts import PARTS

# What makes a part small: its own numbers.
SMALL = {
    "evaluation": {},
    "waters": {},
    "search": {"PROBLEMS": ((60, 20, (0,), 3.0),), "LARGEST_NODES": 200},
    "right": {"SCHOOLS": 2},
    "day": {},
    "phone": {},
    "sight": {},
    "learn": {"SEASONS": 2, "DAYS": 4},
    "records": {"COUNTS": (5,), "WATERS": 3, "PLANNED": 1},
}


@pytest.fixture(autouse=True)
def once(monkeypatch):
    """Everything is timed once."""
    monkeypatch.setattr(measure, "best_of", lambda times, work: measure._taken(work))
    monkeypatch.setattr(measure, "best_of_both", lambda times, a, b: (measure._taken(a), measure._taken(b)))


@pytest.mark.parametrize("part", list(SMALL))
def test_a_part_runs_to_its_end(part, monkeypatch, capsys):
    module = importlib.import_module(f"bench.{part}")
    for name, number in SMALL[part].items():
        monkeypatch.setattr(module, name, number)
    for name in ("best_of", "best_of_both"):
        if hasattr(module, name):
            monkeypatch.setattr(module, name, getattr(measure, name))
    if part == "right":
        every = module._requests
        monkeypatch.setattr(module, "_requests", lambda schools: [
            one for one in every(schools) if one.category in ("worm", "casting-jig")
        ])  # fmt: skip
        monkeypatch.setattr(
            module, "with_firsts", lambda seed, rows, colours, make=module.with_firsts: make(seed, 40, 12)
        )
    if part == "search":
        made = module.shaped
        monkeypatch.setattr(module, "shaped", lambda seed, rows, colours: made(seed, min(rows, 60), min(colours, 20)))
    assert module.run() in (True, False)  # how fast is the bench's own question
    assert capsys.readouterr().out


@pytest.mark.parametrize("part", PARTS)
def test_every_part_is_there(part):
    assert callable(importlib.import_module(f"bench.{part}").run)
