"""A plan told as plain data comes back as the same plan, and not with other colours or rulebooks."""

import json
import random
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tackle.base.vocabulary import Forage, Light
from tackle.colours.palette import house_palette
from tackle.cover.plan import Request
from tackle.cover.planner import make_plan
from tackle.cover.written import plan_from_dict, plan_to_dict
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.situation import read_situation

BOOKS = house_rulebooks()


def request_of(seed, category, paired):
    chance = random.Random(seed)
    sold = [card.id for card in house_palette().sold_in(category)]
    count = chance.randint(1, 12)
    return Request(
        category=category,
        books=tuple(BOOKS[one] for one in chance.sample(list(BOOKS), chance.randint(1, 4))),
        situations=tuple(
            read_situation({
                "category": category, "visibility_in": chance.uniform(3, 160),
                "light": chance.choice(list(Light)).value,
                "forage": [chance.choice(list(Forage)).value],
            })
            for _ in range(count)
        ),
        days=tuple(chance.uniform(0.3, 12) for _ in range(count)),
        agree_all=chance.random() < 0.4,
        owned=frozenset(chance.sample(sold, 2)),
        ban=frozenset(chance.sample(sold, chance.randint(0, 4))),
        at_most=chance.choice([None, None, 1, 2]),
        right=Fraction(chance.randint(0, 10), 10),
        with_trailers=paired,
    )  # fmt: skip


@given(st.integers(0, 10_000), st.sampled_from(["worm", "jerkbait", "swimbait"]))
def test_it_comes_back_the_same(seed, category):
    request = request_of(seed, category, paired=False)
    plan = make_plan(request, house_palette())
    told = json.loads(json.dumps(plan_to_dict(plan)))
    assert plan_from_dict(told, house_palette(), request.books, request.days) == plan


@pytest.mark.parametrize("seed", range(6))
def test_so_do_jigs_with_their_trailers(seed):
    request = request_of(seed, "casting-jig", paired=True)
    plan = make_plan(request, house_palette())
    assert (
        plan_from_dict(json.loads(json.dumps(plan_to_dict(plan))), house_palette(), request.books, request.days) == plan
    )


def test_with_other_rulebooks_it_is_none():
    request = request_of(1, "worm", paired=False)
    told = plan_to_dict(make_plan(request, house_palette()))
    with pytest.raises(KeyError):
        plan_from_dict(told, house_palette(), [], request.days)
