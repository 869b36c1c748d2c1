"""The shopping list: what to buy over all categories, in the order that gives most days a first choice soonest."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Hashable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations

from tackle.check.held import Held, Thing, held
from tackle.check.reach import Planned, Reached
from tackle.colours.colour import Colour
from tackle.colours.family import family
from tackle.colours.palette import Palette
from tackle.crate.lure import Lure, target_count

__all__ = ["Purchase", "ShoppingList", "shopping_list"]

Where = tuple[str, str]  # category and card id


@dataclass(frozen=True, slots=True)
class Purchase:
    """One colour to buy: `count` more to par, what it adds to those before it, and its cost.

    `adds` days, `adds_right` right days and `adds_first` first-choice days; where it takes others to add anything,
    `bundle` counts all of them, and each stands with its part. `price` is of one, None where it was not told; `within`
    tells whether the budget takes it, a bundle whole or not at all.
    """

    category: str
    card: Colour
    adds: float
    adds_right: float
    adds_first: float
    bundle: int
    serves: float
    have: int
    count: int
    price: float | None
    cost: float
    spent: float
    within: bool


@dataclass(frozen=True, slots=True)
class ShoppingList:
    """What to buy in order; what is reached of each category's days with what is owned, with what the budget buys, and
    with all of it."""

    purchases: tuple[Purchase, ...]
    owned: Mapping[str, Reached]
    within: Mapping[str, Reached]
    all_of_it: Mapping[str, Reached]
    expected: Mapping[str, float]


@dataclass(frozen=True, slots=True)
class _Wanted:
    """A colour that a plan wants, and the days it serves there."""

    category: str
    card: Colour
    days: float

    @property
    def thing(self) -> Thing:
        return self.category, self.card

    @property
    def where(self) -> Where:
        return self.category, self.card.id


@dataclass(frozen=True, slots=True)
class _Step:
    """Colours to be bought together, and what they add to those before them, over all plans that want them."""

    wanted: tuple[_Wanted, ...]
    adds: Reached

    @property
    def worth(self) -> tuple[float, ...]:
        """What a step adds for each of its colours: first-choice days, then right days, then days."""
        return tuple(one / len(self.wanted) for one in self.adds.worth)


@dataclass(frozen=True, slots=True)
class _Shop:
    """Plans with what they want of whose family nothing is owned; a trailer may be wanted by several."""

    plans: tuple[tuple[Held, tuple[_Wanted, ...]], ...]

    def steps(self, owned: frozenset[Thing]) -> Iterator[_Step]:
        """What is missing, in the order to buy it: always what adds most for each of its colours."""
        have = owned
        heads = [self._next(index, have) for index in range(len(self.plans))]
        while there := [head for head in heads if head is not None]:
            best = max(there, key=lambda head: head.worth)
            yield best
            things = {one.thing for one in best.wanted}
            have |= things
            for place, (_, wanted) in enumerate(self.plans):
                if any(one.thing in things for one in wanted):
                    heads[place] = self._next(place, have)

    def _next(self, place: int, have: frozenset[Thing]) -> _Step | None:
        """What of one plan to buy next, alone or with what it takes for that; None where nothing adds anything."""
        left = [one for one in self.plans[place][1] if one.thing not in have]
        for size in range(1, min(len(left), 3) + 1):
            steps = [_Step(some, self._adds(some, have)) for some in combinations(left, size)]
            best = max(steps, key=lambda step: step.worth)
            if best.adds:
                return best
        together = _Step(tuple(left), self._adds(left, have))
        return together if together.adds else None

    def _adds(self, some: Sequence[_Wanted], have: frozenset[Thing]) -> Reached:
        things, adds = {one.thing for one in some}, Reached(0.0, 0.0)
        for plan, wanted in self.plans:
            if any(one.thing in things for one in wanted):
                adds += plan.reached(have | things) - plan.reached(have)
        return adds


def shopping_list(
    lures: Sequence[Lure],
    planned: Sequence[Planned],
    palette: Palette,
    prices: Mapping[Where, float] | None = None,
    budget: float | None = None,
) -> ShoppingList:
    """The colours that plans want and of whose family the crate has nothing, or too few: first what adds days with a
    first choice, or right days, or days that nothing owned answers; then what only brings a family to par, most days
    served first.

    The plans' orders are merged by their heads: each time the step that adds most for each of its colours. A budget
    takes steps in this order and passes over those that no longer fit; what it reaches is worked out from what it
    takes. `prices`: of one, by category and card id, or by category and an empty id for all others of it.
    """
    prices = prices or {}
    usable = [lure for lure in lures if lure.count and lure.is_usable]
    owned = frozenset((lure.category, lure.card) for lure in usable)
    counts: Counter[Hashable] = Counter()
    for lure in usable:
        counts[_family(lure.category, lure.card)] += lure.count
    days: dict[Thing, float] = {}  # a colour that several plans want is one purchase
    for each in planned:
        for thing, its in each.wanted.items():
            days[thing] = max(its, days.get(thing, 0.0))
    wants = {thing: _Wanted(*thing, its) for thing, its in days.items()}
    plans = [(held(each, palette), each) for each in planned]
    missing = {thing: one for thing, one in wants.items() if not counts[_family(*thing)]}
    shop = _Shop(tuple((plan, tuple(missing[one] for one in each.wanted if one in missing)) for plan, each in plans))
    purchases: list[Purchase] = []
    spent, taken, whole = 0.0, set(owned), set(owned)
    for step in (*shop.steps(owned), *_to_par(wants.values(), counts)):
        lines = [_priced(one, counts, prices) for one in step.wanted]
        cost = round(sum(cost for _, _, cost in lines), 2)
        within = budget is None or spent + cost <= budget + 1e-9
        for one, (count, price, its_cost) in zip(step.wanted, lines, strict=True):
            whole.add(one.thing)
            if within:
                spent = round(spent + its_cost, 2)
                taken.add(one.thing)
            first, right, adds = (round(part, 6) for part in step.worth)
            purchases.append(
                Purchase(
                    one.category, one.card, adds, right, first, len(step.wanted), one.days,
                    counts[_family(*one.thing)], count, price, its_cost, spent, within,
                )
            )  # fmt: skip
    return ShoppingList(
        purchases=tuple(purchases),
        owned=_by_category(plans, owned),
        within=_by_category(plans, taken),
        all_of_it=_by_category(plans, whole),
        expected={each.request.category: each.plan.expected_days for each in planned},
    )


def _family(category: str, card: Colour) -> Hashable:
    return category, family(card, category)


def _to_par(wants: Iterable[_Wanted], counts: Mapping[Hashable, int]) -> list[_Step]:
    """What is owned, wanted, and below par, most days served first."""
    short = [
        want for want in wants if 0 < counts[_family(*want.thing)] < target_count(want.category, want.card, want.days)
    ]
    return [_Step((one,), Reached(0.0, 0.0)) for one in sorted(short, key=lambda one: -one.days)]


def _priced(
    one: _Wanted, counts: Mapping[Hashable, int], prices: Mapping[Where, float]
) -> tuple[int, float | None, float]:
    """How many to buy, the price of one where it was told, and the cost of all."""
    count = target_count(one.category, one.card, one.days) - counts[_family(*one.thing)]
    price = prices.get(one.where, prices.get((one.category, "")))
    return count, price, round((price or 0.0) * count, 2)


def _by_category(plans: Sequence[tuple[Held, Planned]], have: Collection[Thing]) -> dict[str, Reached]:
    return {each.request.category: plan.reached(have) for plan, each in plans}
