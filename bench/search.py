"""The exact search against a general integer solver."""

import time

from ortools.sat.python import cp_model

from bench.measure import best_of, peak_mb, report
from bench.shaped import shaped
from tackle.cover.instance import Instance, bits, reduced
from tackle.cover.search import smallest_cover

PROBLEMS = ((300, 60, (0, 1, 2, 3), 0.2), (1500, 120, (1,), 3.0))  # situations, colours, seeds, seconds for each
LARGEST_NODES = 100_000
PATIENCE_S = 60.0  # what the general solver may take; where it is still at work then, the ratio is at least that


def whole_order(instance: Instance) -> int:
    """Fewest colours, fewest new, greatest value, proved."""
    small, _ = reduced(instance)
    found = smallest_cover(small)
    assert found.proved
    return found.chosen.bit_count()


def by_cp_sat(instance: Instance) -> int | None:
    """The first two steps alone, with one worker; returns the number of colours, None where patience ran out."""
    model = cp_model.CpModel()
    take = [model.new_bool_var(f"take{colour}") for colour in range(instance.colours)]
    for (need,) in instance.needs:
        model.add_bool_or(take[colour] for colour in bits(need))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.max_time_in_seconds = PATIENCE_S
    model.minimize(sum(take))
    if solver.solve(model) != cp_model.OPTIMAL:
        return None
    size = round(solver.objective_value)
    model.add(sum(take) == size)
    model.minimize(sum(take[colour] for colour in range(instance.colours) if not instance.owned >> colour & 1))
    return size if solver.solve(model) == cp_model.OPTIMAL else None


def run() -> bool:
    good = True
    for situations, colours, seeds, limit in PROBLEMS:
        instances = [shaped(seed, situations, colours) for seed in seeds]
        sizes = [whole_order(one) for one in instances]
        general, times, taken = [], [], 0.0
        for instance in instances:  # in turns: a machine that slows down for a while slows both
            start = time.perf_counter()
            general.append(by_cp_sat(instance))
            taken += time.perf_counter() - start
            times.append(best_of(3, lambda one=instance: whole_order(one)))
        assert all(theirs in (ours, None) for ours, theirs in zip(sizes, general, strict=True))
        needed = ", ".join(map(str, sizes))
        good &= report(
            f"the exact set, {situations} situations x {colours} colours ({needed} needed)",
            max(times),
            "CP-SAT on steps 1 and 2" + (", which was not done" if None in general else ""),
            taken * max(times) / sum(times),
            most=0.1,
            limit_s=limit,
        )
        print(f"     peak memory {peak_mb(lambda one=instances[0]: whole_order(one)):.1f} MB (at most 300)")
    largest = shaped(1, 6000, 400)
    start = time.perf_counter()
    found = smallest_cover(reduced(largest)[0], nodes=LARGEST_NODES)
    words = "proved" if found.proved else f"{found.at_least} not ruled out"
    print(f"     6000 x 400: {found.chosen.bit_count()} colours, {words}, {time.perf_counter() - start:.1f} s")
    return good
