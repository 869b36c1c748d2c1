"""What a plan is computed from."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from decimal import Decimal

from tackle.base.vocabulary import CATEGORIES, TRAILER
from tackle.colours.palette import Palette
from tackle.schools.rulebook import Rulebook
from tackle.situations.water import Water as CoreWater
from web.domain.plans.answering import Terms
from web.domain.plans.models import Choice, Plan
from web.domain.waters.models import Water
from web.domain.waters.selectors import Days, expected_on


@dataclass(frozen=True)
class Basis:
    """All that the answers of one plan depend on."""

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
    terms: dict[str, Terms] = field(default_factory=dict, init=False, compare=False)  # of categories, once asked for

    @property
    def with_trailers(self) -> list[str]:
        """The jig categories of the plan that are planned together with what is threaded on them, unless it is said
        otherwise."""
        return [category for category in self.categories if self._paired(category)]

    @property
    def categories(self) -> list[str]:
        """The categories of the plan; trailers are planned with their jigs, and are none."""
        return [category for category in self.plan.categories if category in CATEGORIES and category != TRAILER]

    def _paired(self, category: str) -> bool:
        choice = self.choices.get(category)
        return CATEGORIES[category].takes_trailer and (choice is None or choice.trailers is not False)

    @property
    def mixed(self) -> bool:
        """Whether the plan has fresh waters and salt ones."""
        return len({water.salinity == "fresh" for water in self.every_water if water.pk in self.water_ids}) > 1

    def cents(self, category: str) -> frozenset[tuple[str, int]]:
        """What a category's colours cost, where some of them cost other than the rest."""
        rest = self.prices.get((category, ""), Decimal(0))
        data = {card: amount for (where, card), amount in self.prices.items() if where == category and card}
        if not data:
            return frozenset()
        sold = self.palette.sold_in(category)
        return frozenset((card.id, int(data.get(card.id, rest) * 100)) for card in sold)

    def left_out(self, category: str) -> list[tuple[str, float, str]]:
        """The waters where a category is forbidden: the name, the days, and why."""
        return [
            (water.name, total, why)
            for water, total in self.days.kept.by_water()
            if water.throws(category) and (why := water.forbidden.forbids(category))
        ]


def in_months(basis: Basis, months: Sequence[int]) -> Basis:
    """The same plan for some months alone."""
    return replace(basis, days=days_on(basis, basis.water_ids, months))


def days_on(basis: Basis, water_ids: Collection[int], months: Sequence[int]) -> Days:
    """The situations to expect on some of the owner's waters in some months."""
    waters = tuple(basis.core[water.pk] for water in basis.every_water if water.pk in water_ids)
    return expected_on(waters, tuple(months), basis.rare_days)
