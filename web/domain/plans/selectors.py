"""The door to plans: what one is computed from, and the answers to it."""

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from typing import Final

from tackle.base.store import STORE
from tackle.base.vocabulary import CATEGORIES, TRAILER
from tackle.check.reach import Planned
from tackle.check.workbench import reworkable
from tackle.colours.palette import Palette
from tackle.cover.plan import Point
from tackle.cover.sureness import Sureness, how_sure, visibility_factors
from tackle.cover.travel import TravelBox, travel_box
from tackle.schools.rulebook import Rulebook
from tackle.situations import kinds_by_month
from tackle.situations.expected_rows import ExpectedDays
from tackle.situations.kinds_by_month import ThrownMonth, months_thrown
from tackle.situations.situation import Situation
from tackle.situations.thrown import Thrown, thrown_by_default
from web.common.accounts.models import User
from web.common.watching.timing import timed
from web.domain.plans.answering import Answered, Terms, answered_on, curve_on, is_answered, select_expected
from web.domain.plans.basis import Basis, in_months
from web.domain.plans.models import Choice, Plan
from web.domain.plans.owned import Owned, get_basis, get_owned
from web.domain.waters.selectors import Days, get_known_year

__all__ = [
    "FEW", "Answered", "Basis", "Owned", "answer", "answers", "get_basis", "curve", "select_expected", "list_owned",
    "in_months",
    "get_owned", "planned", "select_situations", "sureness", "thrown_in", "travel", "unknown",
]  # fmt: skip

FEW: Final = 6  # categories: so many are planned by a page itself


def unknown(basis: Basis) -> list[str]:
    """The categories of the plan that have no answer kept."""
    return [category for category in basis.categories if not is_answered(_terms_for(basis, category))]


def _terms(basis: Basis, category: str, with_trailers: bool = False) -> Terms:
    """The terms for a category, alone or as jigs with trailers, with what is owned, locked and banned of it."""
    places = (category, TRAILER) if with_trailers else (category,)
    sold = frozenset[str]().union(*map(basis.palette.ids_in, places))
    choice = basis.choices.get(category) or Choice()
    owned = frozenset(basis.owned.get(category, {})) & sold
    return Terms(
        category=category,
        days=basis.days,
        books=basis.books,
        palette=basis.palette,
        agree_all=basis.plan.agree == Plan.Agree.ALL,
        right=Fraction(basis.plan.right if choice.right is None else choice.right),
        owned=owned,
        lock=frozenset(choice.lock) & sold,
        ban=frozenset(choice.ban) & sold,
        at_most=None if category in basis.with_trailers and not with_trailers else choice.at_most,
        crossover=basis.plan.crossover and basis.mixed,
        cents=basis.cents(category),
        thrown=thrown_in(basis, category),
        owned_trailers=frozenset(basis.owned.get(TRAILER, {})) & sold if with_trailers else None,
        reworkable=reworkable(frozenset(map(basis.palette.known, owned)), category, basis.palette) - owned,
    )


def thrown_in(basis: Basis, category: str) -> Thrown:
    """When a category is thrown, as the plan has it."""
    choice = basis.choices.get(category)
    return choice.thrown if choice else thrown_by_default(category)


def months_by_category(basis: Basis) -> dict[str, tuple[ThrownMonth, ...]]:
    """The months of each category that is thrown at all on the waters of the plan."""
    waters = [basis.core[water.pk] for water in basis.every_water if water.pk in basis.water_ids]
    every = {category: months_thrown(category, waters, thrown_in(basis, category)) for category in CATEGORIES}
    return {category: months for category, months in every.items() if months}


def in_season(basis: Basis, month: int) -> list[str]:
    """The categories thrown in a month on the waters of the plan, those at their best first."""
    return kinds_by_month.in_season(months_by_category(basis), month)


def select_situations(basis: Basis, category: str) -> tuple[ExpectedDays, Sequence[Situation]]:
    """The days of the plan on which a category is thrown, and may be, and these as situations."""
    expected = select_expected(basis.days, category, thrown_in(basis, category))
    return expected, expected.situations(category)


def answer(basis: Basis, category: str) -> Answered:
    """The plan for one category; a jig that is planned together with trailers, with them."""
    return answered_on(_terms_for(basis, category))


def answers(basis: Basis) -> list[Answered]:
    """The plan for each of its categories."""
    return [answer(basis, category) for category in basis.categories]


def list_owned(owner: User, category: str) -> tuple[frozenset[str], bool]:
    """What one has of a category that can be thrown, by the cards' ids, or where that is nothing, what the plan wants
    of it; and whether it is that."""
    owned = get_owned(owner)
    if mine := owned.counts.get(category):
        return frozenset(mine), False
    basis = owned.basis
    if category not in basis.categories or not basis.days.kept:
        return frozenset(), False
    pieces = answer(basis, category).answer.pieces
    return frozenset(piece.card.id for piece in pieces if piece.category == category), True


def curve(basis: Basis, category: str) -> tuple[Point, ...]:
    """The most that each number of colours, or pieces, can do."""
    terms = replace(_terms_for(basis, category), at_most=None)
    return curve_on(terms)


def planned(basis: Basis) -> list[Planned]:
    """The plan of each category as the check and the shopping list take it."""
    return [Planned(each.request, each.answer) for each in answers(basis)]


def _terms_for(basis: Basis, category: str) -> Terms:
    if category not in basis.terms:
        basis.terms[category] = _terms(basis, category, category in basis.with_trailers)
    return basis.terms[category]


@timed("sureness")
def _sure(answered: Answered, books: tuple[Rulebook, ...], factors: tuple[float, ...]) -> Sureness:
    return how_sure(answered.request, answered.answer, answered.terms.palette, books, factors)


def sureness(basis: Basis, category: str) -> Sureness:
    """How sure the plan for one category is: what would change at half and twice the sight, or, where all of its waters
    have records, within what these leave open."""
    answered = answer(basis, category)
    books = tuple(basis.every_book.values())
    known = [get_known_year(water) for water in basis.every_water if water.pk in basis.water_ids]
    factors = visibility_factors([one.level if one else None for one in known])
    return STORE.once("how sure", (answered.terms, books, factors), lambda: _sure(answered, books, factors))


def _boxed(every: list[Terms], days: Days, palette: Palette, most: int) -> TravelBox:
    kept = days.kept
    requests = [
        (terms.request, kept.places_on(kept.throwing(terms.category), terms.thrown).tolist()) for terms in every
    ]
    return travel_box(requests, list(enumerate(kept.counts)), palette, most)


def travel(basis: Basis) -> TravelBox:
    """The best box of so many pieces as the plan says, over all its categories, each colour for itself."""
    alone, most = [_terms(basis, category) for category in basis.categories], basis.plan.travel_most
    return STORE.once("travel box", (alone, most), lambda: _boxed(alone, basis.days, basis.palette, most))
