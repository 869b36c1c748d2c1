"""All that somebody owns that plans and checks follow from, read whole for one version of it."""

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from functools import cached_property

from tackle.base.store import STORE
from tackle.colours.palette import Palette
from tackle.schools.rulebook import Rulebook
from tackle.situations.water import Water as CoreWater
from web.common.accounts.changing import is_changing
from web.common.accounts.models import User
from web.domain.colours.selectors import get_palette
from web.domain.crate.selectors import Stock, list_shelf, with_known_card
from web.domain.plans.basis import Basis
from web.domain.plans.models import Choice, Plan
from web.domain.plans.stored import first_plan, get_stored_plan
from web.domain.rulebooks.selectors import list_rulebooks
from web.domain.shopping.selectors import list_prices
from web.domain.waters.models import Water
from web.domain.waters.selectors import core_water, expected_on, list_whole_waters


@dataclass(frozen=True)
class Owned:
    """What one reads of somebody at once; nobody may change it. `shelf`: all lures, those too whose card is gone."""

    palette: Palette
    books: Mapping[str, Rulebook]
    waters: list[Water]
    core: Mapping[int, CoreWater]  # the same, as the core reads them
    prices: dict[tuple[str, str], Decimal]
    plan: Plan
    water_ids: frozenset[int]  # those the plan is for
    choices: Mapping[str, Choice]  # what is settled for its categories
    shelf: tuple[Stock, ...]
    rare_days: float

    @property
    def weighs(self) -> int:
        """See tackle.base.store: through rows all of Django hangs on it, which takes longer to weigh than to read."""
        rows = sum(
            1 + len(water.year.all()) + len(water.readings.all()) + len(water.sightings.all()) for water in self.waters
        )
        return 50_000 + 1_800 * rows + 400 * len(self.shelf)

    @cached_property
    def stock(self) -> tuple[Stock, ...]:
        """All lures whose card is known."""
        return with_known_card(self.shelf, self.palette)

    @cached_property
    def counts(self) -> dict[str, dict[str, int]]:
        """How many of each colour are owned and can be thrown: category -> card id -> count."""
        found: dict[str, dict[str, int]] = {}
        for one in self.shelf:
            if not one.lure.is_usable:
                continue
            cards, card = found.setdefault(one.lure.category, {}), one.lure.card.id
            cards[card] = cards.get(card, 0) + one.lure.count
        return found

    @cached_property
    def basis(self) -> Basis:
        """What the plan is computed from."""
        waters = tuple(self.core[water.pk] for water in self.waters if water.pk in self.water_ids)
        return Basis(
            plan=self.plan,
            palette=self.palette,
            every_book=self.books,
            books=tuple(self.books[school] for school in self.plan.schools if school in self.books),
            every_water=self.waters,
            core=self.core,
            water_ids=self.water_ids,
            days=expected_on(waters, tuple(self.plan.months), self.rare_days),
            owned=self.counts,
            choices=self.choices,
            prices=self.prices,
            rare_days=self.rare_days,
        )


def get_basis(owner: User) -> Basis:
    """What somebody's plan is computed from, of all that they own as it is now."""
    return get_owned(owner).basis


def get_owned(owner: User) -> Owned:
    """All that somebody owns as it is now; within a change of it, as it is there by then."""
    if is_changing(owner):
        return _read(owner)
    return STORE.once("owned", owner.pk, lambda: _read(owner), version=owner.version)


def _read(owner: User) -> Owned:
    # Whatever is changed between these queries is of a later version: nobody who has that finds this.
    palette, waters = get_palette(owner), list(list_whole_waters(owner))
    plan = get_stored_plan(owner) or first_plan(owner)
    every = frozenset(water.pk for water in waters)
    return Owned(
        palette=palette,
        books=list_rulebooks(owner),
        waters=waters,
        core={water.pk: core_water(water) for water in waters},
        prices=list_prices(owner),
        plan=plan,
        water_ids=frozenset(plan.waters.values_list("pk", flat=True).order_by()) if plan.pk else every,
        choices={choice.category: choice for choice in Choice.objects.filter(plan=plan.pk)},
        shelf=list_shelf(owner, palette),
        rare_days=owner.rare_days,
    )
