"""What a plan is computed from, and the answers to it."""

import json
import zlib
from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass, fields, replace
from decimal import Decimal
from fractions import Fraction
from typing import ClassVar, Final

from tackle.cache import Cache
from tackle.check.reach import Planned
from tackle.colours.palette import Palette
from tackle.cover.plan import TRAILER, Point, Request
from tackle.cover.plan import Plan as Answer
from tackle.cover.planner import make_plan, plan_curve
from tackle.cover.sureness import Sureness, how_sure
from tackle.cover.travel import TravelBox, travel_box
from tackle.cover.written import plan_from, plan_told
from tackle.schools.rulebook import Rulebook
from tackle.situations.expected_rows import ExpectedDays
from tackle.situations.situation import Situation
from tackle.situations.water import Water as CoreWater
from tackle.vocabulary import CATEGORIES
from web.accounts.as_of import as_of
from web.accounts.models import User
from web.buy.reads import prices_of
from web.colours.reads import palette_of
from web.crate.reads import counts_owned
from web.plans.models import Choice, Plan
from web.plans.stored import first_plan, stored_plan_of
from web.schools.reads import books_of
from web.ui.marks import mark_of
from web.ui.shared import SHARED
from web.watched.timing import timed
from web.waters.models import Water
from web.waters.reads import Days, core_water, days_to_expect, expected_on, whole_waters_of


@dataclass(frozen=True, slots=True)
class Basis:
    """All that the answers of one plan depend on, read once."""

    weighs: ClassVar[int] = 20_000  # see tackle.cache: a share of its parts, for each is kept by itself as well

    plan: Plan
    palette: Palette
    every_book: Mapping[str, Rulebook]
    books: tuple[Rulebook, ...]  # those the plan follows
    every_water: list[Water]
    water_ids: frozenset[int]  # those the plan is for
    days: Days
    owned: dict[str, dict[str, int]]  # category -> card id -> count
    choices: Mapping[str, Choice]
    prices: dict[tuple[str, str], Decimal]
    rare_days: float

    @property
    def with_trailers(self) -> list[str]:
        """The jig categories of the plan that are planned together with what is threaded on them."""
        return [c for c in self.plan.categories if c in self.choices and self.choices[c].trailers]

    @property
    def mixed(self) -> bool:
        """Whether the plan has fresh waters and salt ones."""
        return len({water.salinity == "fresh" for water in self.every_water if water.pk in self.water_ids}) > 1

    def cents(self, category: str) -> frozenset[tuple[str, int]]:
        """What a category's colours cost, where some of them cost other than the rest."""
        rest = self.prices.get((category, ""), Decimal(0))
        told = {card: amount for (where, card), amount in self.prices.items() if where == category and card}
        if not told:
            return frozenset()
        sold = self.palette.sold_in(category)
        return frozenset((card.id, int(told.get(card.id, rest) * 100)) for card in sold)

    def left_out(self, category: str) -> list[tuple[str, float, str]]:
        """The waters where a category is forbidden: the name, the days, and why."""
        return [
            (water.name, total, why)
            for water, total in self.days.kept.by_water()
            if water.throws(category) and (why := water.forbidden.forbids(category))
        ]


@dataclass(frozen=True, slots=True)
class Terms:
    """All that one category's answer depends on. Books and palette are one object for one content."""

    category: str
    days: Days
    books: tuple[Rulebook, ...]
    palette: Palette
    agree_all: bool
    right: Fraction
    owned: frozenset[str]
    lock: frozenset[str]
    ban: frozenset[str]
    at_most: int | None
    crossover: bool
    cents: frozenset[tuple[str, int]]
    owned_trailers: frozenset[str] | None

    @property
    def weighs(self) -> int:
        """See tackle.cache: their days are kept by themselves too, and by all that is kept of the plan."""
        return 2_000 + self.days.weighs // 16

    @property
    def mark(self) -> str:
        """Of all of it, the same in every process; it holds none of its days."""
        rest = (getattr(self, one.name) for one in fields(self) if one.name not in ("days", "right"))
        return mark_of((self.days.kept.mark.hex(), str(self.right), *rest))

    @property
    def here(self) -> Hashable:
        """The same within this process, where two rulebooks are one only if they are one object."""
        return self.mark, self.books, self.palette


@dataclass(frozen=True, slots=True, eq=False)
class Answered:
    """The terms of one category, and the answer: a set of colours, or jigs with trailers."""

    terms: Terms
    answer: Answer

    @property
    def weighs(self) -> int:
        """See tackle.cache."""
        answer = self.answer
        return self.terms.weighs + answer.served.weighs + 200 * len(answer.unanswered) + 1_500 * len(answer.pieces)

    @property
    def expected(self) -> ExpectedDays:
        """Its days."""
        return expected_of(self.terms.days, self.category)

    @property
    def request(self) -> Request:
        """What was asked of its days."""
        return _asked(self.terms)

    @property
    def category(self) -> str:
        return self.terms.category

    @property
    def paired(self) -> bool:
        return self.terms.owned_trailers is not None


@as_of(megabytes=5)
def basis_of(owner: User) -> Basis:
    """What the owner's plan is computed from; read once for all that is owned as it is now."""
    ground = _ground(owner)
    stored = _stored(owner)
    every = frozenset(water.pk for water in ground.waters)
    water_ids = every if stored.water_ids is None else stored.water_ids
    waters = tuple(ground.core[water.pk] for water in ground.waters if water.pk in water_ids)
    return Basis(
        plan=stored.plan,
        palette=ground.palette,
        every_book=ground.books,
        books=tuple(ground.books[school] for school in stored.plan.schools if school in ground.books),
        every_water=ground.waters,
        water_ids=water_ids,
        days=expected_on(waters, tuple(stored.plan.months), owner.rare_days),
        owned=counts_owned(owner),
        choices=_choices(owner),
        prices=ground.prices,
        rare_days=owner.rare_days,
    )


@dataclass(frozen=True, slots=True)
class _Stored:
    """The plan as it is stored. `water_ids`: None where it is for all that there are."""

    weighs: ClassVar[int] = 4_000  # see tackle.cache: through the row all of Django hangs on it

    plan: Plan
    water_ids: frozenset[int] | None


@as_of(megabytes=3)
def _stored(owner: User) -> _Stored:
    plan = stored_plan_of(owner) or first_plan(owner)
    water_ids = frozenset(plan.waters.values_list("pk", flat=True).order_by()) if plan.pk else None
    return _Stored(plan, water_ids)


@as_of(megabytes=3)
def _choices(owner: User) -> Mapping[str, Choice]:
    """What is settled for the categories of the plan."""
    return {choice.category: choice for choice in Choice.objects.filter(plan=_stored(owner).plan.pk)}


@dataclass(frozen=True, slots=True)
class _Ground:
    """What changes seldom of what a plan follows from."""

    palette: Palette
    books: Mapping[str, Rulebook]
    waters: list[Water]
    core: dict[int, CoreWater]
    prices: dict[tuple[str, str], Decimal]

    @property
    def weighs(self) -> int:
        """See tackle.cache: through the rows all of Django hangs on it."""
        return 2_000 + sum(1_800 * (1 + len(one.year.all()) + len(one.readings.all())) for one in self.waters)


@as_of(megabytes=16)
def _ground(owner: User) -> _Ground:
    waters = list(whole_waters_of(owner))
    core = {water.pk: core_water(water) for water in waters}
    return _Ground(palette_of(owner), books_of(owner), waters, core, prices_of(owner))


_ON_SOME: Final = Cache[ExpectedDays](megabytes=7)


def expected_of(days: Days, category: str) -> ExpectedDays:
    """The days on waters where a category is thrown, and may be: one object for all categories of the same waters."""
    waters = days.kept.throwing(category)
    if all(waters):
        return days.kept
    return _ON_SOME.once((days.kept.mark, waters), lambda: days.kept.on(waters))


def _asked(terms: Terms) -> Request:
    expected = expected_of(terms.days, terms.category)
    return Request(
        category=terms.category,
        books=terms.books,
        situations=expected.situations(terms.category),
        days=expected.counts,
        agree_all=terms.agree_all,
        owned=terms.owned,
        lock=terms.lock,
        ban=terms.ban,
        at_most=terms.at_most,
        salt=expected.salt if terms.crossover else (),
        cents=terms.cents,
        right=terms.right,
        with_trailers=terms.owned_trailers is not None,
        owned_trailers=terms.owned_trailers,
    )


FEW: Final = 6  # categories: so many are planned by a page itself
_ANSWERED = Cache[Answered](megabytes=18)
_CURVES = Cache[tuple[Point, ...]](megabytes=1)


def answered_on(terms: Terms) -> Answered:
    """The plan on some terms. Kept by all that it depends on, so that it is never stale: in this process, and packed
    for all."""
    return _ANSWERED.once(terms.here, lambda: Answered(terms, _found(terms)))


def _found(terms: Terms) -> Answer:
    told = SHARED.get(*_shelved(terms))
    if told:
        plan = json.loads(zlib.decompress(told))
        return plan_from(plan, terms.palette, terms.books, expected_of(terms.days, terms.category).counts)
    plan = _made(terms)
    SHARED.put(*_shelved(terms), packed(plan))
    return plan


@timed("plan")
def _made(terms: Terms) -> Answer:
    return make_plan(_asked(terms), terms.palette)


def _shelved(terms: Terms) -> tuple[str, str]:
    return f"plan {terms.mark}", ""


def packed(plan: Answer) -> bytes:
    """A plan as bytes, for another process."""
    return zlib.compress(json.dumps(plan_told(plan)).encode(), 1)


def hold(basis: Basis, category: str, told: bytes) -> None:
    """Holds what was planned for a category, packed, wherever that was done."""
    SHARED.put(*_shelved(_terms_of(basis, category)), told)


def unknown(basis: Basis) -> list[str]:
    """The categories of the plan that have no answer kept."""
    every = {category: _terms_of(basis, category) for category in basis.plan.categories if category in CATEGORIES}
    return [
        category
        for category, terms in every.items()
        if _ANSWERED.get(terms.here) is None and SHARED.get(*_shelved(terms)) is None
    ]


@timed("curve")
def _curve(terms: Terms) -> tuple[Point, ...]:
    return plan_curve(replace(_asked(terms), at_most=None), terms.palette)


def _terms(basis: Basis, category: str, with_trailers: bool = False) -> Terms:
    """The terms for a category, alone or as jigs with trailers, with what is owned, locked and banned of it."""
    places = (category, TRAILER) if with_trailers else (category,)
    sold = frozenset[str]().union(*map(basis.palette.ids_in, places))
    choice = basis.choices.get(category) or Choice()
    return Terms(
        category=category,
        days=basis.days,
        books=basis.books,
        palette=basis.palette,
        agree_all=basis.plan.agree == Plan.Agree.ALL,
        right=Fraction(basis.plan.right if choice.right is None else choice.right),
        owned=frozenset(basis.owned.get(category, {})) & sold,
        lock=frozenset(choice.lock) & sold,
        ban=frozenset(choice.ban) & sold,
        at_most=None if choice.trailers and not with_trailers else choice.at_most,
        crossover=basis.plan.crossover and basis.mixed,
        cents=basis.cents(category),
        owned_trailers=frozenset(basis.owned.get(TRAILER, {})) & sold if with_trailers else None,
    )


def in_months(basis: Basis, months: Sequence[int]) -> Basis:
    """The same plan for some months alone."""
    waters = [water for water in basis.every_water if water.pk in basis.water_ids]
    return replace(basis, days=days_to_expect(waters, months, basis.rare_days))


def situations_of(basis: Basis, category: str) -> tuple[ExpectedDays, Sequence[Situation]]:
    """The days of the plan on which a category is thrown, and may be, and these as situations."""
    expected = expected_of(basis.days, category)
    return expected, expected.situations(category)


def answer(basis: Basis, category: str) -> Answered:
    """The plan for one category; a jig that is planned together with trailers, with them."""
    return answered_on(_terms_of(basis, category))


def answers(basis: Basis) -> list[Answered]:
    """The plan for each of its categories."""
    return [answer(basis, category) for category in basis.plan.categories if category in CATEGORIES]


def curve(basis: Basis, category: str) -> tuple[Point, ...]:
    """The most that each number of colours, or pieces, can do."""
    terms = replace(_terms_of(basis, category), at_most=None)
    return _CURVES.once(terms.mark, lambda: _curve(terms))


def planned(basis: Basis) -> list[Planned]:
    """The plan of each category as the check and the shopping list take it."""
    return [Planned(each.request, each.answer) for each in answers(basis)]


def _terms_of(basis: Basis, category: str) -> Terms:
    return _terms(basis, category, category in basis.with_trailers)


_SURE = Cache[Sureness](megabytes=4)


@timed("sureness")
def _sure(answered: Answered, books: tuple[Rulebook, ...]) -> Sureness:
    return how_sure(answered.request, answered.answer, answered.terms.palette, books)


def sureness(basis: Basis, category: str) -> Sureness | None:
    """How sure the plan for one category is; None for jigs with trailers."""
    answered = answer(basis, category)
    if answered.paired:
        return None
    books = tuple(basis.every_book.values())
    return _SURE.once((answered.terms.mark, books), lambda: _sure(answered, books))


_BOXES = Cache[TravelBox](megabytes=4)


def _boxed(every: list[Terms], days: Days, palette: Palette, most: int) -> TravelBox:
    kept = days.kept
    requests = [(_asked(terms), kept.places_on(kept.throwing(terms.category)).tolist()) for terms in every]
    return travel_box(requests, list(enumerate(kept.counts)), palette, most)


def travel(basis: Basis) -> TravelBox:
    """The best box of so many pieces as the plan says, over all its categories, each colour for itself."""
    alone, most = [_terms(basis, category) for category in basis.plan.categories], basis.plan.travel_most
    asked = tuple(terms.mark for terms in alone), most
    return _BOXES.once(asked, lambda: _boxed(alone, basis.days, basis.palette, most))
