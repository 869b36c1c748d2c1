"""Marks stand for contents: one for each, and the same in every process."""

import json
import os
import subprocess
import sys
from dataclasses import dataclass

from hypothesis import given
from hypothesis import strategies as st

from tackle.base.hashing import content_hash
from tackle.colours.palette import house_palette


@dataclass(frozen=True)
class Pair:
    one: object
    other: object


plain = st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text(max_size=3)
contents = st.recursive(
    plain,
    lambda parts: st.tuples(parts) | st.tuples(parts, parts) | st.builds(Pair, parts, parts),
    max_leaves=6,
)


@given(contents, contents)
def test_what_is_written_alike_has_one_mark_and_nothing_else(one, other):
    assert (content_hash(one) == content_hash(other)) == (repr(one) == repr(other))


@given(st.frozensets(plain.filter(lambda one: one == one), max_size=5))
def test_a_set_has_no_order(some):
    assert content_hash(some) == content_hash(frozenset(sorted(some, key=repr, reverse=True)))


@given(st.frozensets(plain.filter(lambda one: one == one), max_size=3), st.frozensets(st.text(max_size=2), max_size=3))
def test_sets_are_told_apart_by_what_is_in_them(some, words):
    alike = {json.dumps(one) for one in some} == {json.dumps(one) for one in words}
    assert (content_hash(some) == content_hash(words)) == alike


def test_a_number_in_a_set_is_no_word():
    assert content_hash(frozenset([1])) != content_hash(frozenset(["1"]))
    assert content_hash(frozenset(["1"])) != content_hash(frozenset(['"1"']))


def test_a_card_that_is_painted_otherwise_has_another_mark():
    cards = house_palette().cards
    assert len({content_hash((card, 1)) for card in cards}) == len(cards)


def test_other_processes_find_the_same():
    told = "frozenset('abcdefgh'), house_palette(), {'one': house_palette().cards[3]}"
    imports = "from tackle.colours.palette import house_palette; from tackle.base.hashing import content_hash"
    script = f"{imports}; print(content_hash(({told})))"
    found = {
        subprocess.run(
            [sys.executable, "-c", script],
            env={**os.environ, "PYTHONHASHSEED": seed},
            check=True,
            capture_output=True,
        ).stdout
        for seed in ("1", "2")
    }
    assert len(found) == 1
