"""Rods that are told: which lures they carry, and the best that can be tied on them."""

from itertools import combinations, permutations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tackle.base.errors import InvalidInput
from tackle.colours.palette import house_palette
from tackle.day.rods import RodRow, carried_by, tie_on
from tackle.intake.rods import read_rods

KINDS = ("worm", "popper", "jerkbait")
CARDS = house_palette().sold_in("worm")[:5]


def possible(rods, lures):
    """Whether some order of the rods carries the lures, one each."""
    return any(
        all(not kinds or lure in kinds for lure, kinds in zip(lures, order, strict=False))
        for order in permutations(rods, len(lures))
    )


@given(
    st.lists(st.frozensets(st.sampled_from(KINDS), max_size=2), max_size=5),
    st.lists(st.sampled_from(KINDS), max_size=5),
)
def test_a_rod_each_is_found_where_there_is_one(rods, lures):
    found = carried_by(rods, lures)
    assert (found is not None) == (len(lures) <= len(rods) and possible(rods, lures))
    if found is not None:
        assert len(set(found)) == len(lures)
        assert all(not rods[rod] or lure in rods[rod] for rod, lure in zip(found, lures, strict=True))


@settings(deadline=None)
@given(
    st.lists(st.tuples(st.sampled_from(KINDS), st.lists(st.integers(0, 3), min_size=3, max_size=3)),
             min_size=1, max_size=5),
    st.lists(st.frozensets(st.sampled_from(KINDS), max_size=2), min_size=1, max_size=3),
)  # fmt: skip
def test_what_is_tied_on_is_the_best_that_the_rods_carry(told, own):
    rows = [
        RodRow(kind, card, None, 1, tuple(right), tuple(right))
        for (kind, right), card in zip(told, CARDS, strict=False)
    ]
    tied = tie_on(rows, len(own), [1.0] * len(rows), own)
    best = 0
    for size in range(len(own) + 1):
        for some in combinations(rows, size):
            if possible(own, [row.category for row in some]):
                worth = [max((r.right[hour] for r in some if r.category == kind), default=0)
                         for kind in KINDS for hour in range(3)]  # fmt: skip
                best = max(best, sum(worth))
    assert sum(one.right for one in tied) == best
    assert len({one.rod for one in tied}) == len(tied)
    assert all(not own[one.rod] or rows[one.place].category in own[one.rod] for one in tied)


@pytest.mark.parametrize(
    ("text", "where"), [("medium: soup", "line 1"), ("medium\n: worm", "line 2"), ("x\n" * 47, "rods")]
)
def test_a_rod_that_makes_no_sense_is_named(text, where):
    with pytest.raises(InvalidInput) as refused:
        read_rods(text)
    assert where in refused.value.field
