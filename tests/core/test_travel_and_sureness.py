"""The travel box against plain enumeration, crossover, and what a plan hangs on."""

from dataclasses import replace
from fractions import Fraction
from itertools import combinations

import pytest

from tackle.base.vocabulary import Light
from tackle.colours.palette import Palette, house_palette
from tackle.cover.plan import Request
from tackle.cover.planner import make_plan
from tackle.cover.sureness import how_sure
from tackle.cover.travel import travel_box
from tackle.schools.rulebook import house_rulebooks, read_rulebook
from tackle.situations.situation import Situation

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


def school(**wanted):
    """A made-up school: under each light the tones it reaches for."""
    calls = [
        {
            "id": light,
            "for": "jerkbait",
            "when": {"light": light},
            "want": {"tone": list(tones)},
            "grade": "go-to",
            "why": "x",
        }
        for light, tones in wanted.items()
    ]
    head = {"id": "made-up", "name": "Made up", "question": "?", "short": "x", "order": 9}
    return read_rulebook({"school": head, "call": calls}, "made-up")


def made_up(book, **options):
    """Four days, one under each light, asked of four colours: the first two by tone, then what goes across."""
    lights = ("bright", "broken", "overcast", "low")
    asked = tuple(Situation("jerkbait", 40.0, Light(light)) for light in lights)
    return Request("jerkbait", (book,), asked, (2.0, 2.0, 2.0, 2.0), **options)


def four_colours():
    tones = ("white", "bone", "black", "gold")
    cards = [next(c for c in PALETTE.sold_in("jerkbait") if c.tone == tone) for tone in tones]
    return Palette(cards)


def test_crossover_prefers_what_serves_in_fresh_water_and_in_salt():
    # White answers both fresh days, bone both salt ones; black and gold one of each.
    book = school(bright=["white", "black"], broken=["white", "gold"], overcast=["bone", "black"], low=["bone", "gold"])
    palette = four_colours()
    plain, mixed = make_plan(made_up(book), palette), make_plan(made_up(book, salt=(False, False, True, True)), palette)
    assert {chosen.card.tone for chosen in plain.pieces} == {"white", "bone"}
    assert {chosen.card.tone for chosen in mixed.pieces} == {"black", "gold"}


def test_a_tie_goes_to_what_is_owned_and_then_to_what_can_be_made():
    # White and bone answer all days as black and gold do; the first pair comes first where nothing else is told.
    book = school(bright=["white", "black"], broken=["white", "gold"], overcast=["bone", "black"], low=["bone", "gold"])
    palette = four_colours()
    ids = {card.tone: card.id for card in palette.sold_in("jerkbait")}

    def tones(**options):
        options = {name: frozenset(ids[one] for one in told) for name, told in options.items()}
        return {chosen.card.tone for chosen in make_plan(made_up(book, **options), palette).pieces}

    assert tones() == {"white", "bone"}
    assert tones(reworkable={"gold"}) == {"black", "gold"}
    assert tones(reworkable={"gold", "black"}, owned={"white"}) == {"white", "bone"}


def test_sureness_adds_up_and_agreement_satisfies_all():
    asked = request("worm")
    plan = make_plan(asked, PALETTE)
    sure = how_sure(asked, plan, PALETTE, list(BOOKS.values()))
    assert sure.one_school
    assert [shift.factor for shift in sure.shifts] == [0.5, 2.0]
    before = {chosen.card for chosen in plan.pieces}
    for shift in sure.shifts:
        clearer = tuple(replace(one, visibility_in=one.visibility_in * shift.factor) for one in asked.situations)
        after = {chosen.card for chosen in make_plan(replace(asked, situations=clearer), PALETTE).pieces}
        assert (set(shift.went), set(shift.came)) == (before - after, after - before)
    assert any(shift.went for shift in sure.shifts)
    assert any(shift.came for shift in sure.shifts)
    agreed = make_plan(request("worm", schools=tuple(BOOKS), agree_all=True), PALETTE)
    assert (len(agreed.pieces) - len(plan.pieces), agreed.answered_days) == (
        sure.agreement.more, sure.agreement.answered_days,
    )  # fmt: skip


def test_days_answered_by_one_school_are_those_the_other_would_lose():
    asked = request("casting-jig")
    plan = make_plan(asked, PALETTE)
    sure = dict(how_sure(asked, plan, PALETTE, list(BOOKS.values())).one_school)
    ids = frozenset(chosen.card.id for chosen in plan.pieces)
    for book in asked.books:
        other = tuple(one for one in asked.books if one is not book)
        kept = Request(**{**_fields(asked), "books": other, "lock": ids, "at_most": len(ids)})
        without = make_plan(kept, PALETTE).answered_days
        assert plan.answered_days - without == pytest.approx(sure[book].days if book in sure else 0.0)


def test_what_two_schools_answer_hangs_on_neither():
    one = school(bright=["white"], broken=["white"])
    other = school(broken=["white"], overcast=["bone"], low=["bone"])
    asked = replace(made_up(one), books=(one, other))
    sure = how_sure(asked, make_plan(asked, four_colours()), four_colours(), [one, other])
    assert [(book, hangs.indexes, hangs.days) for book, hangs in sure.one_school] == [
        (other, (2, 3), 4.0), (one, (0,), 2.0),
    ]  # fmt: skip


def test_equal_sets_are_told_apart_by_price():
    book = school(bright=["white", "bone"], broken=["white", "bone"], overcast=["white", "bone"], low=["white", "bone"])
    palette = four_colours()
    white, bone = palette.cards[:2]
    dear, cheap = (frozenset({(white.id, cents), (bone.id, 500)}) for cents in (900, 100))
    assert [c.card for c in make_plan(made_up(book, cents=dear), palette).pieces] == [bone]
    assert [c.card for c in make_plan(made_up(book, cents=cheap), palette).pieces] == [white]


def test_a_travel_box_is_right_by_any_of_the_categories_in_it():
    book = school(bright=["white"], broken=["bone"], overcast=["white"], low=["black"])
    asked = made_up(book, right=Fraction(1))
    days = [(place, 2.0) for place in range(4)]
    for most, right in ((1, 4.0), (2, 6.0), (3, 8.0)):
        found = travel_box([(asked, range(4))], days, four_colours(), most)
        assert (len(found.pieces), found.right_days) == (most, right)
