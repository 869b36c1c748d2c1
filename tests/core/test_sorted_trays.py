"""A heap of lures sorted into trays."""

from hypothesis import given
from hypothesis import strategies as st

from tackle.base.vocabulary import CATEGORIES, Group
from tackle.colours.palette import house_palette
from tackle.crate.lure import Lure
from tackle.crate.sorted_trays import sort_into_trays

PALETTE = house_palette()
KINDS = ("worm", "popper", "jerkbait", "creature", "spinnerbait")
STACKS = st.lists(
    st.tuples(st.sampled_from(KINDS), st.integers(0, 5), st.sampled_from([None, 0.25, 0.375, 1.0])), max_size=90
)


def heap(told):
    return [
        Lure(str(n), kind, PALETTE.sold_in(kind)[card], "", 1, None, ounces)
        for n, (kind, card, ounces) in enumerate(told)
    ]


@given(STACKS, st.lists(st.integers(1, 24), max_size=5))
def test_every_stack_has_a_compartment_kinds_together_and_soft_ones_apart(told, rooms):
    lures = heap(told)
    trays = sort_into_trays(lures, rooms, 18)
    assert sorted((one.ref for tray in trays for one in tray.lures), key=int) == [one.ref for one in lures]
    assert all(0 < len(tray.lures) <= tray.room for tray in trays)
    assert len({tray.owned for tray in trays if tray.owned is not None}) == sum(t.owned is not None for t in trays)
    for tray in trays:
        assert len({CATEGORIES[one.category].group is Group.SOFT for one in tray.lures}) == 1
        for kind in tray.categories:
            mine = [one.weight_oz or 0 for one in tray.lures if one.category == kind]
            assert mine == sorted(mine)
    for kind in KINDS:
        stacks = sum(one.category == kind for one in lures)
        if 0 < stacks <= 18 and not rooms:
            assert sum(kind in tray.categories for tray in trays) == 1
        assert sum(kind in tray.categories for tray in trays) <= stacks


def test_two_hundred_stacks_take_as_many_trays_as_they_need():
    lures = heap([("worm", n % 6, None) for n in range(100)] + [("popper", n % 6, None) for n in range(100)])
    assert [len(tray.lures) for tray in sort_into_trays(lures, [], 18)].count(18) == 10
    assert len(sort_into_trays(lures, [18, 18], 18)) == 12
