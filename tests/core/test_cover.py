"""The exact set against plain enumeration on small instances, and against CP-SAT on larger ones."""

from fractions import Fraction
from functools import reduce
from itertools import combinations, product
from operator import or_

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from ortools.sat.python import cp_model

from tackle.cover.curve import compute_curve
from tackle.cover.instance import Instance, bits
from tackle.cover.right_search import fewest_right
from tackle.cover.search import smallest_cover
from tackle.cover.solution import right_target, solve, stand_ins


@st.composite
def instances(draw, most_colours: int = 7, with_firsts: bool = False) -> Instance:
    colours = draw(st.integers(1, most_colours))
    rows = draw(st.integers(1, 8))
    agree_all = draw(st.booleans())
    suits, needs = [], []
    for _ in range(rows):
        groups = []
        for _ in range(draw(st.integers(1, 4)) if agree_all else 1):
            groups.append(draw(st.integers(1, (1 << colours) - 1)))
        union = reduce(or_, groups)
        suits.append([draw(st.sampled_from([60, 100])) if union >> c & 1 else 0 for c in range(colours)])
        needs.append(tuple(groups))
    firsts = draw(st.lists(st.integers(1, (1 << colours) - 1), max_size=6, unique=True)) if with_firsts else []
    return Instance(
        firsts=tuple(firsts),
        weights=tuple(draw(st.integers(1, 6)) for _ in firsts),
        days=np.array([draw(st.integers(1, 5)) * 1000 for _ in range(rows)], dtype=np.int64),
        needs=tuple(needs),
        suits=np.array(suits, dtype=np.int64),
        owned=draw(st.integers(0, (1 << colours) - 1)),
        locked=draw(st.sampled_from([0, 0, 0, 1])),
        prized=draw(st.just(0) | st.integers(0, (1 << colours) - 1)),
        costs=draw(st.just(()) | st.lists(st.integers(0, 3), min_size=colours, max_size=colours).map(tuple)),
    )


def days_of(instance: Instance, chosen: int) -> int:
    return sum(int(d) for d, done in zip(instance.days, instance.answered(chosen), strict=True) if done)


def all_sets(instance: Instance, most: int | None = None) -> list[int]:
    """Every set with the locked colours in it, of at most so many."""
    limit = instance.colours if most is None else most
    sets = (
        sum(1 << c for c in picked) for n in range(limit + 1) for picked in combinations(range(instance.colours), n)
    )
    return [chosen for chosen in sets if chosen & instance.locked == instance.locked]


def rest_of_the_order(instance: Instance, s: int):
    money = sum(instance.costs[c] for c in bits(s)) if instance.costs else 0
    return -(s & instance.prized).bit_count(), -instance.value(s), money, tuple(bits(s))


def by_enumeration(instance: Instance, at_most: int | None, share: Fraction = Fraction(0)) -> int:
    """The best of all sets, in the order that the plan promises."""
    sets = all_sets(instance)
    if not share:
        within = [s for s in sets if at_most is None or s.bit_count() <= at_most]
        return min(
            within,
            key=lambda s: (-days_of(instance, s), s.bit_count(), instance.new(s), *rest_of_the_order(instance, s)),
        )
    most = max(instance.right(s) for s in sets)
    everything = max(days_of(instance, s) for s in sets)
    enough = [s for s in sets if days_of(instance, s) == everything and instance.right(s) >= share * most]
    best = min(
        enough,
        key=lambda s: (s.bit_count(), instance.new(s), -instance.right(s), *rest_of_the_order(instance, s)),
    )
    if at_most is None or best.bit_count() <= at_most:
        return best
    return min(
        (s for s in sets if s.bit_count() <= at_most),
        key=lambda s: (
            -days_of(instance, s), -instance.right(s), s.bit_count(), instance.new(s), *rest_of_the_order(instance, s)
        ),
    )  # fmt: skip


@settings(max_examples=300, deadline=None)
@given(instances(), st.none() | st.integers(1, 4))
def test_equals_enumeration(instance, at_most):
    found = solve(instance, at_most)
    assert found.proved
    assert found.chosen == by_enumeration(instance, at_most)


def test_a_colour_that_suits_one_side_alone_serves_no_day_that_both_must_agree_on():
    suits = np.array([[60, 0, 0], [0, 60, 0], [60, 0, 100]])
    both = Instance(np.array([1000, 1000, 1000]), ((1,), (2,), (4, 5)), suits, 0, 0, 0, (), (), ())
    assert solve(both, 1).chosen == 4


SHARES = st.sampled_from([Fraction(part) for part in ("0.1", "0.5", "0.75", "0.9", "1")])


@settings(max_examples=300)
@given(instances(with_firsts=True), st.none() | st.integers(1, 4), SHARES)
def test_right_on_a_share_equals_enumeration(instance, at_most, share):
    found = solve(instance, at_most, share)
    assert found.proved
    assert found.chosen == by_enumeration(instance, at_most, share)


@settings(max_examples=100)
@given(instances() | instances(with_firsts=True))
def test_the_curve_is_the_best_of_each_size_and_ends_where_both_are_at_their_most(instance):
    curve = compute_curve(instance)
    sets = all_sets(instance)
    for point in curve:
        assert point.proved
        best = max((days_of(instance, s), instance.right(s)) for s in sets if s.bit_count() <= point.size)
        assert (point.days, point.right) == best
    everything = (int(instance.days.sum()), sum(instance.weights))
    assert [(p.days, p.right) == everything for p in curve] == [False] * (len(curve) - 1) + [True]


def test_what_is_out_of_work_claims_no_proof():
    instance = like_ours(1, rows=120, colours=40)
    assert not all(point.proved for point in compute_curve(instance, work=400_000))
    firsts = Instance(instance.days, instance.needs, instance.suits, firsts=(1, 6, 24), weights=(5, 5, 5))
    assert not fewest_right(firsts, 15, work=200_000)[2]


@pytest.mark.parametrize("seed", range(3))
def test_the_best_of_many_equal_sets(seed):
    """Each of three days has eight colours of its own: 512 sets of three, told apart by value, money and place."""
    random = np.random.default_rng(seed)
    needs = [(0xFF << 8 * row,) for row in range(3)]
    suits = np.array([[random.choice([60, 100]) if c // 8 == row else 0 for c in range(24)] for row in range(3)])
    instance = Instance(
        days=np.array([3000, 2000, 1000], dtype=np.int64),
        needs=tuple(needs),
        suits=suits.astype(np.int64),
        owned=int(random.integers(0, 1 << 24)) if seed else 0,
        costs=tuple(int(cost) for cost in random.integers(0, 4, 24)),
    )
    sets = [sum(1 << 8 * row + at for row, at in enumerate(places)) for places in product(range(8), repeat=3)]
    best = min(
        sets,
        key=lambda s: (
            instance.new(s), -instance.value(s), sum(instance.costs[c] for c in bits(s)), tuple(bits(s)),
        ),
    )  # fmt: skip
    found = smallest_cover(instance)
    assert (found.chosen, found.proved) == (best, True)


def like_ours(seed: int, rows: int, colours: int) -> Instance:
    """A random instance shaped like a category's: each colour covers 10 to 35 % of the situations."""
    random = np.random.default_rng(seed)
    covers = random.random((rows, colours)) < random.uniform(0.10, 0.35, colours)
    covers[np.arange(rows), random.integers(0, colours, rows)] = True
    suits = np.where(covers, random.choice([60, 100], (rows, colours)), 0)
    return Instance(
        days=random.integers(1, 500, rows).astype(np.int64) * 10_000,
        needs=tuple((sum(1 << int(c) for c in np.flatnonzero(row)),) for row in covers),
        suits=suits.astype(np.int64),
        owned=sum(1 << c for c in range(colours) if random.random() < 0.4),
    )


def by_cp_sat(instance: Instance) -> tuple[int, int, int]:
    """Fewest colours, fewest new, greatest value, each step fixed before the next."""
    model = cp_model.CpModel()
    take = [model.new_bool_var(f"take{c}") for c in range(instance.colours)]
    value = []
    for row, (need,) in enumerate(instance.needs):
        covering = list(bits(need))
        model.add_bool_or(take[c] for c in covering)
        serves = {c: model.new_bool_var(f"serves{row}-{c}") for c in covering}
        model.add_exactly_one(serves.values())
        for c in covering:
            model.add_implication(serves[c], take[c])
            value.append(int(instance.suits[row, c]) * int(instance.days[row]) // 10_000 * serves[c])
    size, new = sum(take), sum(take[c] for c in range(instance.colours) if not instance.owned >> c & 1)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    reached = []
    for goal, sense in ((size, 1), (new, 1), (sum(value), -1)):
        model.minimize(sense * goal)
        assert solver.solve(model) == cp_model.OPTIMAL
        reached.append(sense * round(solver.objective_value))
        model.add(goal == reached[-1])
    return reached[0], reached[1], reached[2]


@pytest.mark.parametrize("seed", range(4))
def test_equals_cp_sat(seed):
    instance = like_ours(seed, rows=60, colours=25)
    found = solve(instance)
    assert found.proved
    count, new, value = by_cp_sat(instance)
    assert found.chosen.bit_count() == count
    assert instance.new(found.chosen) == new
    assert instance.value(found.chosen) // 10_000 == value


@settings(max_examples=100, deadline=None)
@given(instances(), st.integers(0, 6))
def test_a_stand_in_leaves_no_day_unanswered(instance, place):
    chosen = solve(instance).chosen
    if chosen >> place & 1:
        for other in range(instance.colours):
            swapped = chosen & ~(1 << place) | 1 << other
            keeps = not chosen >> other & 1 and all(instance.answered(swapped))
            assert bool(stand_ins(instance, chosen, place) >> other & 1) == keeps


@settings(max_examples=100)
@given(instances(with_firsts=True), st.integers(0, 6), SHARES)
def test_a_stand_in_is_right_on_as_many_days_as_asked(instance, place, share):
    chosen, target = solve(instance, None, share).chosen, right_target(instance, share)
    for other in range(instance.colours) if chosen >> place & 1 else ():
        swapped = chosen & ~(1 << place) | 1 << other
        keeps = not chosen >> other & 1 and all(instance.answered(swapped)) and instance.right(swapped) >= target
        assert bool(stand_ins(instance, chosen, place, target) >> other & 1) == keeps
