"""A plan in other years, without one rulebook, and the colour that leads over some days."""

from dataclasses import replace
from fractions import Fraction

from tackle.base.vocabulary import Forage, Grade, Light
from tackle.colours.family import family
from tackle.colours.palette import house_palette
from tackle.cover.begin import leading_over
from tackle.cover.opinions import gather_opinions
from tackle.cover.plan import Request
from tackle.cover.planner import make_plan
from tackle.cover.stability import drawn_waters, stays_in, without_one
from tackle.schools.rulebook import house_rulebooks
from tackle.schools.top_choice import ask
from tackle.situations.expected import expected_days
from tackle.situations.regions import region_at
from tackle.situations.situation import make_situation
from tackle.situations.starting import first_guess, kinds

PALETTE, BOOKS = house_palette(), tuple(house_rulebooks().values())
POND = first_guess(kinds()["pond"], region_at(38.0))


def request_on(waters, books=BOOKS):
    days = expected_days(waters)
    return Request("worm", books, days.situations("worm"), days.counts, right=Fraction(9, 10))


def test_the_other_years_are_always_the_same_and_near_this_one():
    one, other = list(drawn_waters([POND], 20)), list(drawn_waters([POND], 20))
    assert one == other
    days = [water.months[6].days / POND.months[6].days for (water,) in one]
    usual = [water.months[6].spread.usual_in / POND.months[6].spread.usual_in for (water,) in one]
    for factors in (days, usual):
        assert 0.9 < sum(factors) / len(factors) < 1.1
        assert 0.03 < max(factors) - min(factors) < 0.8


def test_a_colour_stays_where_its_family_does_and_what_came_instead_is_told():
    plan, told = make_plan(request_on([POND]), PALETTE), []
    years = [request_on(waters) for waters in drawn_waters([POND], 3)]
    # In one more year nothing but gin-clear water: what is for murk goes.
    clear = tuple(make_situation("worm", visibility_in=200.0, light=light) for light in (Light.BRIGHT, Light.BROKEN))
    years.append(replace(years[0], situations=clear, days=(5.0, 5.0)))
    stays = stays_in(plan, years, PALETTE, told.append)
    assert told == [1, 2, 3, 4]
    for one in stays:
        mine = family(one.card, "worm")
        there = [any(family(p.card, "worm") == mine for p in make_plan(year, PALETTE).pieces) for year in years]
        assert (one.times, one.of) == (sum(there), 4)
    assert any(one.times < 4 for one in stays)


def test_without_one_rulebook_what_goes_and_what_comes():
    ladder, spark = (next(book for book in BOOKS if book.id == school) for school in ("ladder", "spark"))
    request = request_on([POND], (ladder, spark))
    plan = make_plan(request, PALETTE)
    mine = {piece.card for piece in plan.pieces}
    for exchange in without_one(request, plan, PALETTE):
        rest = tuple(book for book in request.books if book is not exchange.book)
        then = {piece.card for piece in make_plan(replace(request, books=rest), PALETTE).pieces}
        assert {family(card, "worm") for card in (mine - set(exchange.went)) | set(exchange.came)} == {
            family(card, "worm") for card in then
        }
    assert not list(without_one(replace(request, books=(ladder,)), plan, PALETTE))


def test_what_leads_over_some_days_is_what_one_begins_with_on_most_of_them():
    told = [(40.0, Light.BRIGHT, 5.0), (8.0, Light.OVERCAST, 3.0), (44.0, Light.BRIGHT, 2.0)]
    situations = tuple(
        make_situation("swimbait", visibility_in=inches, light=light, forage=(Forage.SHAD,))
        for inches, light, _ in told
    )
    days = [many for *_, many in told]
    opinions = gather_opinions("swimbait", BOOKS, situations, False, Grade.WORKS, PALETTE)
    for have in ((), ("shad-soft", "white-flat", "black-plain"), ("black-plain",)):
        starts = [ask(BOOKS, PALETTE.sold_in("swimbait"), one).start(have).card for one in situations]
        total = {card: sum(d for d, c in zip(days, starts, strict=True) if c is card) for card in starts}
        assert leading_over(opinions, days, have).card is max(total, key=total.get)
