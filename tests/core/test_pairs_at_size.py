"""Jigs and trailers of the whole palette against CP-SAT, in count and in what is not owned."""

from dataclasses import replace
from itertools import product

import pytest
from ortools.sat.python import cp_model

from tackle.base.vocabulary import TRAILER, Forage, Grade, Light, Season
from tackle.colours.palette import house_palette
from tackle.cover.plan import Request
from tackle.cover.planner import make_plan
from tackle.schools.evaluation import evaluate
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.columns import tabulate
from tackle.situations.situation import Situation

PALETTE = house_palette()
PLACES = tuple(
    product((5.0, 12.0, 22.0, 45.0, 90.0), (Light.BRIGHT, Light.OVERCAST, Light.NIGHT), (Season.WINTER, Season.SUMMER))
)


def request(category: str, schools: tuple[str, ...], owned: frozenset[str]) -> Request:
    situations = tuple(
        Situation(category, inches, light, season=season, forage=(food,))
        for (inches, light, season), food in product(PLACES, (Forage.CRAWFISH, Forage.SUNFISH))
    )
    books = tuple(house_rulebooks()[school] for school in schools)
    return Request(
        category, books, situations, tuple(1.0 + n % 3 for n in range(len(situations))), owned=owned, with_trailers=True
    )


def accepted(asked: Request, category: str, cards, situations) -> list[list[list[bool]]]:
    """For each school, situation and card, whether it accepts the card there."""
    columns = tabulate(situations)
    found = []
    for book in asked.books:
        good = [call.grade is not Grade.AVOID for call in book.calls] + [False]
        deciding_rules = evaluate(book, category, cards, columns)
        found.append([[good[place] for place in deciding_rules[:, row]] for row in range(len(situations))])
    return found


def answering_pairs(asked: Request) -> list[set[tuple[int, int]]]:
    """For each situation the pairs of a jig and a trailer that one school accepts, either face of the trailer up."""
    jigs, trailers = PALETTE.sold_in(asked.category), PALETTE.sold_in(TRAILER)
    of_jigs = accepted(asked, asked.category, jigs, asked.situations)
    pairs = [set() for _ in asked.situations]
    for tone in {jig.tone for jig in jigs}:
        on_it = [replace(one, category=TRAILER, with_tone=tone) for one in asked.situations]
        up = accepted(asked, TRAILER, trailers, on_it)
        down = accepted(asked, TRAILER, [PALETTE.by_id[t.other_face] if t.other_face else t for t in trailers], on_it)
        for school, row in product(range(len(asked.books)), range(len(asked.situations))):
            fit = [t for t in range(len(trailers)) if up[school][row][t] or down[school][row][t]]
            for j, jig in enumerate(jigs):
                if jig.tone is tone and of_jigs[school][row][j]:
                    pairs[row].update((j, t) for t in fit)
    return pairs


def by_cp_sat(asked: Request) -> tuple[float, int, int]:
    """The days that can be answered, the fewest pieces for them, and of those the fewest not owned."""
    jigs, trailers = PALETTE.sold_in(asked.category), PALETTE.sold_in(TRAILER)
    model = cp_model.CpModel()
    take_jig = [model.new_bool_var(f"j{j}") for j in range(len(jigs))]
    take_trailer = [model.new_bool_var(f"t{t}") for t in range(len(trailers))]
    both = {}
    days = 0.0
    for row, pairs in enumerate(answering_pairs(asked)):
        if not pairs:
            continue
        days += asked.days[row]
        for j, t in pairs - both.keys():
            both[j, t] = model.new_bool_var(f"b{j}-{t}")
            model.add_implication(both[j, t], take_jig[j])
            model.add_implication(both[j, t], take_trailer[t])
        model.add_bool_or(both[pair] for pair in pairs)
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    size = sum(take_jig) + sum(take_trailer)
    new = sum(
        take for take, card in zip(take_jig + take_trailer, jigs + trailers, strict=True) if card.id not in asked.owned
    )
    reached = []
    for goal in (size, new):
        model.minimize(goal)
        assert solver.solve(model) == cp_model.OPTIMAL
        reached.append(round(solver.objective_value))
        model.add(goal == reached[-1])
    return days, reached[0], reached[1]


@pytest.mark.parametrize(
    ("category", "schools"),
    [
        ("casting-jig", ("ladder",)),
        ("casting-jig", ("menu", "calendar")),
        ("structure-jig", ("ladder", "sheen", "spark")),
    ],
)
def test_equals_cp_sat(category, schools):
    owned = frozenset({"black-blue-fleck", "green-pumpkin-orange", "brown-plain"})
    asked = request(category, schools, owned)
    plan = make_plan(asked, PALETTE)
    assert plan.proved
    days, pieces, new = by_cp_sat(asked)
    assert plan.answered_days == days
    assert plan.size == pieces
    assert sum(not piece.owned for piece in plan.pieces) == new
    assert sum(step.adds for step in plan.order) == days
