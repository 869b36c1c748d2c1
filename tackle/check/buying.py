"""The shopping list: what to buy over all categories, in the order that makes most days right soonest."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import combinations

from tackle.check.reach import Planned, Reached, reached_of
from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.planner import problem_of
from tackle.crate.lure import Lure, par_of
from tackle.situations.rows import MILLION

__all__ = ["Purchase", "ShoppingList", "shopping_list"]

Where = tuple[str, str]  # category and card id


@dataclass(frozen=True, slots=True)
class Purchase:
    """One colour to buy: `count` more to par, what it adds to those before it, and its cost.

    `adds` days and `adds_right` right days; where it takes others to add anything, `bundle` counts all of them, and
    each stands with its part. `price` is of one, None where it was not told; `within` tells whether the budget takes
    it, a bundle whole or not at all.
    """

    category: str
    card: Card
    adds: float
    adds_right: float
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
    """What to buy in order; what is reached with what is owned, with what the budget buys, and with all of it."""

    purchases: tuple[Purchase, ...]
    owned: Reached
    within: Reached
    all_of_it: Reached
    expected_days: float


@dataclass(frozen=True, slots=True)
class _Wanted:
    """A colour that a plan wants, and the days it serves there."""

    category: str
    card: Card
    days: float

    @property
    def where(self) -> Where:
        return self.category, self.card.id


@dataclass(slots=True)
class _Step:
    """Colours to be bought together, and what they add to those before them."""

    wanted: tuple[_Wanted, ...]
    adds: Reached

    @property
    def worth(self) -> tuple[float, float]:
        """What a step adds for each of its colours."""
        return self.adds.right / len(self.wanted), self.adds.days / len(self.wanted)


@dataclass(slots=True)
class _Queue:
    """One plan: what it still wants, and what a set of owned colours reaches of its days."""

    wanted: list[_Wanted]
    reached: Callable[[frozenset[Where]], Reached]
    owned: frozenset[Where]
    expected_days: float
    steps: list[_Step] = field(default_factory=list)

    def fill(self) -> None:
        """Puts what is missing into the order to buy it: what adds most first, and with it what it takes for that."""
        left = [one for one in self.wanted if one.where not in self.owned]
        have, now = self.owned, self.reached(self.owned)
        while left:
            step = self._next(left, have, now)
            if step is None:
                return  # what is left adds nothing, alone or together: nobody needs it
            self.steps.append(step)
            have, now = have | {one.where for one in step.wanted}, self._with(have, step.wanted)
            left = [one for one in left if one not in step.wanted]

    def _with(self, have: frozenset[Where], some: Sequence[_Wanted]) -> Reached:
        return self.reached(have | {one.where for one in some})

    def _next(self, left: list[_Wanted], have: frozenset[Where], now: Reached) -> _Step | None:
        for size in range(1, min(len(left), 3) + 1):
            steps = [_Step(some, self._with(have, some) - now) for some in combinations(left, size)]
            best = max(steps, key=lambda step: (step.adds.right, step.adds.days))
            if best.adds:
                return best
        together = _Step(tuple(left), self._with(have, left) - now)
        return together if together.adds else None


def shopping_list(
    lures: Sequence[Lure],
    planned: Sequence[Planned],
    palette: Palette,
    prices: Mapping[Where, float] | None = None,
    budget: float | None = None,
) -> ShoppingList:
    """The colours that plans want and the crate is short of: first what makes days right that nothing owned is right
    on, or answers what nothing owned answers; then what only brings a colour to par, most days served first.

    The plans' orders are merged by their heads: each time the step that adds most for each of its colours. A budget
    takes steps in this order and passes over those that no longer fit; what it reaches is worked out from what it
    takes. `prices`: of one, by category and card id, or by category and an empty id for all others of it.
    """
    prices = prices or {}
    counts: dict[Where, int] = {}
    for lure in lures:
        counts[lure.category, lure.card.id] = counts.get((lure.category, lure.card.id), 0) + lure.count
    owned = frozenset(where for where, count in counts.items() if count)
    queues = [_queue(each, owned, palette) for each in planned]
    for queue in queues:
        queue.fill()
    purchases: list[Purchase] = []
    spent, taken = 0.0, set(owned)
    for step in (*_merged(queues), *_to_par(queues, counts)):
        lines = [_priced(one, counts, prices) for one in step.wanted]
        cost = round(sum(cost for _, _, cost in lines), 2)
        within = budget is None or spent + cost <= budget + 1e-9
        for one, (count, price, its_cost) in zip(step.wanted, lines, strict=True):
            if within:
                spent = round(spent + its_cost, 2)
                taken.add(one.where)
            right, days = step.worth
            purchases.append(
                Purchase(
                    one.category, one.card, round(days, 6), round(right, 6), len(step.wanted), one.days,
                    counts.get(one.where, 0), count, price, its_cost, spent, within,
                )
            )  # fmt: skip
    whole = owned | {(one.category, one.card.id) for one in purchases}
    return ShoppingList(
        purchases=tuple(purchases),
        owned=_all_reached(queues, owned),
        within=_all_reached(queues, frozenset(taken)),
        all_of_it=_all_reached(queues, whole),
        expected_days=round(sum(queue.expected_days for queue in queues), 6),
    )


def _queue(planned: Planned, owned: frozenset[Where], palette: Palette) -> _Queue:
    wanted = [_Wanted(category, card, days) for (category, card), days in planned.wanted.items()]
    if planned.request.with_trailers:
        problem = problem_of(planned.request, palette)

        def reached(have: frozenset[Where]) -> Reached:
            mine = problem.mask_of(have)
            right = problem.right(mine) / problem.share if planned.request.right else 0.0
            return Reached(problem.reach(mine) / MILLION, right)

        return _Queue(wanted, reached, owned, planned.plan.expected_days)
    category, reached_by = planned.request.category, reached_of(planned.request, palette)

    def reached_alone(have: frozenset[Where]) -> Reached:
        return reached_by(card for card in palette.sold_in(category) if (category, card.id) in have)

    return _Queue(wanted, reached_alone, owned, planned.plan.expected_days)


def _merged(queues: Sequence[_Queue]) -> Iterator[_Step]:
    """The steps of all queues: always the head that adds most for each of its colours."""
    heads = [list(queue.steps) for queue in queues]
    while any(heads):
        best = max((head for head in heads if head), key=lambda head: head[0].worth)
        yield best.pop(0)


def _to_par(queues: Sequence[_Queue], counts: Mapping[Where, int]) -> list[_Step]:
    """What is owned, wanted, and below par, most days served first."""
    short = {
        one.where: one
        for queue in queues
        for one in queue.wanted
        if 0 < counts.get(one.where, 0) < par_of(one.category, one.card, one.days)
    }
    return [_Step((one,), Reached(0.0, 0.0)) for one in sorted(short.values(), key=lambda one: -one.days)]


def _priced(
    one: _Wanted, counts: Mapping[Where, int], prices: Mapping[Where, float]
) -> tuple[int, float | None, float]:
    """How many to buy, the price of one where it was told, and the cost of all."""
    count = par_of(one.category, one.card, one.days) - counts.get(one.where, 0)
    price = prices.get(one.where, prices.get((one.category, "")))
    return count, price, round((price or 0.0) * count, 2)


def _all_reached(queues: Sequence[_Queue], have: frozenset[Where]) -> Reached:
    each = [queue.reached(have) for queue in queues]
    return Reached(round(sum(one.days for one in each), 6), round(sum(one.right for one in each), 6))
