"""What a plan that is right on a share of the days costs: the set against a general integer solver, the curve, how sure
it is, and everything the vocabulary can plan with every school."""

import time
from dataclasses import replace
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray
from ortools.sat.python import cp_model

from bench.measure import best_of, report
from bench.shaped import LATTICE, shaped
from tackle.base.vocabulary import CATEGORIES
from tackle.colours.palette import house_palette
from tackle.cover.curve import compute_curve
from tackle.cover.instance import Instance, bits, reduced
from tackle.cover.plan import Request
from tackle.cover.planner import make_plan, plan_curve
from tackle.cover.planner import make_problem as read
from tackle.cover.problem import Colours
from tackle.cover.solution import right_target, solve
from tackle.cover.sureness import how_sure
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.expected import expected_days
from tackle.situations.regions import region_at
from tackle.situations.starting import first_guess, kinds

RIGHT = Fraction(9, 10)
SCHOOLS, CALLS = 3, 16
WATERS = (("lowland-reservoir", 38.0), ("tidal-creek", 31.0))
FEW = ("ladder", "menu", "sheen")


def with_firsts(seed: int, situations: int, colours: int) -> Instance:
    """A shaped problem with three schools: each reaches by its narrowest call that holds, of 16 drawn as boxes of the
    lattice, for two to five colours."""
    random = np.random.default_rng(seed + 1_000)
    instance = shaped(seed, situations, colours)
    points = np.array(np.unravel_index(random.choice(int(np.prod(LATTICE)), situations), LATTICE)).T
    firsts: dict[int, int] = {}
    for _ in range(SCHOOLS):
        calls = sorted((_call(random, points, colours) for _ in range(CALLS)), key=lambda call: -int(call[0].sum()))
        reached = [0] * situations
        for inside, mask in calls:  # the narrowest last, over the others
            for place in np.flatnonzero(inside):
                reached[place] = mask
        for mask, days in zip(reached, instance.days.tolist(), strict=True):
            if mask:
                firsts[mask] = firsts.get(mask, 0) + days
    return replace(instance, firsts=tuple(firsts), weights=tuple(firsts.values()))


def _call(random: np.random.Generator, points: NDArray[np.int64], colours: int) -> tuple[NDArray[np.bool_], int]:
    inside = np.ones(len(points), dtype=np.bool_)
    for axis, size in enumerate(LATTICE):
        width = random.integers(max(1, size // 2), size + 1)
        low = random.integers(0, size - width + 1)
        inside &= (points[:, axis] >= low) & (points[:, axis] < low + width)
    wanted = random.choice(colours, int(random.integers(2, 6)), replace=False)
    return inside, sum(1 << int(colour) for colour in wanted)


def by_cp_sat(instance: Instance) -> tuple[int, int]:
    """The fewest colours that are right on the share, then the fewest new ones, with one worker."""
    model = cp_model.CpModel()
    take = [model.new_bool_var(f"take{colour}") for colour in range(instance.colours)]
    for needs in instance.needs:
        for need in needs:
            model.add_bool_or(take[colour] for colour in bits(need))
    met = []
    for first, weight in zip(instance.firsts, instance.weights, strict=True):
        right = model.new_bool_var("")
        model.add_bool_or([right.negated(), *(take[colour] for colour in bits(first))])
        met.append(weight * right)
    model.add(sum(met) >= right_target(instance, RIGHT))
    for colour in bits(instance.locked):
        model.add(take[colour] == 1)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    model.minimize(sum(take))
    assert solver.solve(model) == cp_model.OPTIMAL
    size = round(solver.objective_value)
    new = sum(take[colour] for colour in range(instance.colours) if not instance.owned >> colour & 1)
    model.add(sum(take) == size)
    model.minimize(new)
    assert solver.solve(model) == cp_model.OPTIMAL
    return size, round(solver.objective_value)


def run() -> bool:
    good = _sets("real problems at 90 %", [_instance(one) for one in _requests(FEW)], 1.0, 0.2)
    made = [with_firsts(0, 300, 60)]
    good &= _sets("shaped problems, 300 x 60 x 3 schools", made, 0.2, 10.0)
    start = time.perf_counter()
    curve = compute_curve(reduced(made[0])[0])
    taken = time.perf_counter() - start
    proved = sum(point.proved for point in curve)
    print(f"     the curve of the first: {taken:.2f} s, {proved} of {len(curve)} points proved (at most 1 s)")
    good &= taken <= 1
    palette, books = house_palette(), tuple(house_rulebooks().values())
    one = _requests(FEW)[0]
    plan = make_plan(one, palette)
    sure = best_of(3, lambda: how_sure(one, plan, palette, books))
    good &= report("how sure one category is", sure, "its plan", best_of(3, lambda: make_plan(one, palette)), 60, 1.0)
    jig = next(asked for asked in _requests(FEW) if asked.category == "casting-jig")
    shifts = iter(range(1, 10_000))  # days that were not asked about before, each time

    def anew(with_trailers: bool) -> None:
        shift = next(shifts) / 1000
        there = tuple(replace(one, visibility_in=one.visibility_in + shift) for one in jig.situations)
        make_plan(replace(jig, situations=there, with_trailers=with_trailers), palette)

    pairs, alone = best_of(3, lambda: anew(True)), best_of(3, lambda: anew(False))
    good &= report("a jig with its trailers", pairs, "the jig alone", alone, 20, 1.0)
    start = time.perf_counter()
    for asked in _requests(tuple(house_rulebooks())):
        make_plan(asked, palette)
        plan_curve(asked, palette)
    taken = time.perf_counter() - start
    print(f"     all {len(CATEGORIES)} categories, six schools, sets and curves: {taken:.2f} s (at most 5)")
    return good and taken <= 5


def _instance(request: Request) -> Instance:
    problem = read(replace(request, with_trailers=False), house_palette())
    assert isinstance(problem, Colours)
    return problem.instance


def _requests(schools: tuple[str, ...]) -> list[Request]:
    """Every category that is sold, for a year on a lowland reservoir and a tidal creek."""
    books = tuple(house_rulebooks()[school] for school in schools)
    waters = [first_guess(kinds()[kind], region_at(latitude)) for kind, latitude in WATERS]
    days = expected_days(waters)
    return [
        Request(
            category,
            books,
            tuple(row.situation(category) for row in days),
            tuple(row.days for row in days),
            right=RIGHT,
        )
        for category in CATEGORIES
        if house_palette().sold_in(category)
    ]


def _sets(what: str, instances: list[Instance], most: float, limit_s: float) -> bool:
    """Our sets against the general solver's first two steps, in turns: a machine that slows down slows both."""
    ours = theirs = 0.0
    for instance in instances:
        small = reduced(instance)[0]
        start = time.perf_counter()
        size, new = by_cp_sat(small)
        theirs += time.perf_counter() - start
        start = time.perf_counter()
        found = solve(small, None, RIGHT)
        ours += time.perf_counter() - start
        assert found.proved
        assert (found.chosen.bit_count(), small.new(found.chosen)) == (size, new)
    return report(f"{what} ({len(instances)} of them)", ours, "CP-SAT on steps 1 and 2", theirs, most, limit_s)
