"""The travel box against plain enumeration, crossover, and what a plan hangs on."""

from itertools import combinations

import pytest

from tackle.colours.palette import house_palette
from tackle.cover.planner import Request, days_answered, make_plan
from tackle.cover.sureness import how_sure
from tackle.cover.travel import travel_box
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.situation import Situation
from tackle.vocabulary import Light

PALETTE = house_palette()
BOOKS = house_rulebooks()
DAYS = [
    ("clear sun", 90.0, Light.BRIGHT, 20.0), ("fair cloud", 45.0, Light.OVERCAST, 12.0),
    ("stained", 20.0, Light.BROKEN, 9.0), ("mud", 5.0, Light.OVERCAST, 6.0), ("night", 40.0, Light.NIGHT, 4.0),
]  # fmt: skip


def request(category: str, schools=("ladder", "sheen"), **more) -> Request:
    situations = tuple(Situation(category, inches, light) for _, inches, light, _ in DAYS)
    books = tuple(BOOKS[school] for school in schools)
    return Request(category, books, situations, tuple(days for *_, days in DAYS), **more)


def box(most: int, *requests: Request):
    keys = [name for name, *_ in DAYS]
    return travel_box([(one, keys) for one in requests], [(name, days) for name, _, _, days in DAYS], PALETTE, most)


@pytest.mark.parametrize("most", [1, 2, 3])
def test_no_other_box_of_that_size_answers_more_days(most):
    worm, jerkbait = request("worm"), request("jerkbait")
    found = box(most, worm, jerkbait)
    pieces = [(one, card.id) for one in (worm, jerkbait) for card in PALETTE.sold_in(one.category)]
    met = {}
    for one, card in pieces:
        plan = make_plan(Request(**{**_fields(one), "lock": frozenset({card}), "at_most": 1}), PALETTE)
        met[one.category, card] = {served.index for served in plan.served}
    best = max(
        sum(DAYS[row][3] for row in set().union(*(met[one.category, card] for one, card in picked)))
        for picked in combinations(pieces, most)
    )
    assert found.proved
    assert len(found.pieces) <= most
    assert found.layers[0] == best


def _fields(one: Request) -> dict:
    return {name: getattr(one, name) for name in Request.__dataclass_fields__}


def test_pieces_left_over_give_a_second_answer_by_another_category():
    found = box(12, request("worm"), request("jerkbait"))
    assert len(found.layers) > 1
    first = {piece.category for piece in found.pieces if piece.layer == 1}
    assert first
    assert sum(piece.days for piece in found.pieces if piece.layer == 1) == pytest.approx(found.layers[0])
    assert all(layer <= found.expected_days for layer in found.layers)


def test_a_banned_colour_stays_at_home():
    first = box(1, request("worm")).pieces[0].card.id
    assert first not in {piece.card.id for piece in box(9, request("worm", ban=frozenset({first}))).pieces}


def test_crossover_prefers_what_serves_in_fresh_water_and_in_salt():
    plain = request("jerkbait")
    salt = (False, True, False, True, False)
    mixed = request("jerkbait", salt=salt)

    def both(plan):
        ids = [frozenset({chosen.card.id}) for chosen in plan.colours]
        per_water = []
        for side in (True, False):
            days = tuple(d if s is side else 0.0 for d, s in zip(mixed.days, salt, strict=True))
            per_water.append(days_answered(Request(**{**_fields(mixed), "days": days}), PALETTE, ids))
        return sum(a >= 1 and b >= 1 for a, b in zip(*per_water, strict=True))

    before, after = make_plan(plain, PALETTE), make_plan(mixed, PALETTE)
    assert (len(after.colours), after.answered_days) == (len(before.colours), before.answered_days)
    assert both(after) >= both(before)


def test_sureness_adds_up_and_agreement_satisfies_all():
    asked = request("worm")
    plan = make_plan(asked, PALETTE)
    sure = how_sure(asked, plan, PALETTE, list(BOOKS.values()))
    assert sum(hangs.days for _, hangs in sure.one_school) <= plan.answered_days
    assert [shift.factor for shift in sure.shifts] == [0.5, 2.0]
    before = {chosen.card for chosen in plan.colours}
    assert all(set(shift.went) <= before and not set(shift.came) & before for shift in sure.shifts)
    agreed = make_plan(request("worm", schools=tuple(BOOKS), agree_all=True), PALETTE)
    assert (len(agreed.colours) - len(plan.colours), agreed.answered_days) == (
        sure.agreement.more, sure.agreement.answered_days,
    )  # fmt: skip


def test_days_answered_by_one_school_are_those_the_other_would_lose():
    asked = request("casting-jig")
    plan = make_plan(asked, PALETTE)
    sure = dict(how_sure(asked, plan, PALETTE, list(BOOKS.values())).one_school)
    ids = frozenset(chosen.card.id for chosen in plan.colours)
    for book in asked.books:
        other = tuple(one for one in asked.books if one is not book)
        without = days_answered(Request(**{**_fields(asked), "books": other}), PALETTE, [ids])[0]
        assert plan.answered_days - without == pytest.approx(sure[book].days if book in sure else 0.0)


def test_equal_sets_are_told_apart_by_price():
    asked = request("worm")
    plan = make_plan(asked, PALETTE)
    dear = frozenset((chosen.card.id, 900) for chosen in plan.colours)
    cheaper = make_plan(Request(**{**_fields(asked), "cents": dear}), PALETTE)
    assert len(cheaper.colours) == len(plan.colours)
    cents = dict(dear)
    assert sum(cents.get(c.card.id, 0) for c in cheaper.colours) <= sum(cents.values())
