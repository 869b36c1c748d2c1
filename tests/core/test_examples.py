"""The examples in the docstrings of what a newcomer calls first."""

import doctest
import importlib

import pytest

FIRST = (
    "tackle.check.audit", "tackle.commands.advise", "tackle.commands.learn", "tackle.cover.planner",
    "tackle.intake.line", "tackle.sight.look",
)  # fmt: skip


@pytest.mark.parametrize("name", FIRST)
def test_what_the_docstrings_show_is_so(name):
    found = doctest.testmod(importlib.import_module(name))
    assert found.attempted >= 2
    assert not found.failed
