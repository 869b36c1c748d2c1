"""What a plan is computed from, read once for all that is owned as it is now."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import ClassVar

from tackle.colours.palette import Palette
from tackle.schools.rulebook import Rulebook
from tackle.situations.water import Water as CoreWater
from tackle.vocabulary import CATEGORIES, TRAILER
from web.accounts.as_of import as_of
from web.accounts.models import User
from web.buy.reads import prices_of
from web.colours.reads import palette_of
from web.crate.reads import counts_owned
from web.plans.models import Choice, Plan
from web.plans.stored import first_plan, stored_plan_of
from web.schools.reads import books_of
from web.waters.models import Water
from web.waters.reads import Days, core_water, expected_on, whole_waters_of


@dataclass(frozen=True, slots=True)
class Basis:
    """All that the answers of one plan depend on, read once."""

    weighs: ClassVar[int] = 20_000  # see tackle.cache: a share of its parts, for each is kept by itself as well

    plan: Plan
    palette: Palette
    every_book: Mapping[str, Rulebook]
    books: tuple[Rulebook, ...]  # those the plan follows
    every_water: list[Water]
    core: Mapping[int, CoreWater]  # the same, as the core reads them
    water_ids: frozenset[int]  # those the plan is for
    days: Days
    owned: dict[str, dict[str, int]]  # category -> card id -> count
    choices: Mapping[str, Choice]
    prices: dict[tuple[str, str], Decimal]
    rare_days: float

    @property
    def with_trailers(self) -> list[str]:
        """The jig categories of the plan that are planned together with what is threaded on them: those of which jigs
        and trailers are owned, where nothing else is said."""
        return [one for one in self.plan.categories if one in CATEGORIES and self._paired(one)]

    def _paired(self, category: str) -> bool:
        choice = self.choices.get(category)
        said = choice.trailers if choice else None
        owned = bool(self.owned.get(TRAILER) and self.owned.get(category))
        return CATEGORIES[category].takes_trailer and (owned if said is None else said)

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
        core=ground.core,
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


def in_months(basis: Basis, months: Sequence[int]) -> Basis:
    """The same plan for some months alone."""
    return replace(basis, days=days_on(basis, basis.water_ids, months))


def days_on(basis: Basis, water_ids: Collection[int], months: Sequence[int]) -> Days:
    """The situations to expect on some of the owner's waters in some months."""
    waters = tuple(basis.core[water.pk] for water in basis.every_water if water.pk in water_ids)
    return expected_on(waters, tuple(months), basis.rare_days)
