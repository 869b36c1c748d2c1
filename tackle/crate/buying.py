"""The shopping list: what to buy over all categories, in the order that answers most days soonest."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.pairs import PairPlan, Piece
from tackle.cover.planner import days_answered
from tackle.crate.lure import Lure, par_of
from tackle.crate.reach import Planned

__all__ = ["Purchase", "ShoppingList", "shopping_list"]


@dataclass(frozen=True, slots=True)
class Purchase:
    """One colour to buy: `count` more to par, the days it `adds` to what those before it answer, and its cost.

    `price` is of one, None where it was not told; `within` is False from where the budget runs out.
    """

    category: str
    card: Card
    adds: float
    serves: float
    have: int
    count: int
    price: float | None
    cost: float
    spent: float
    within: bool


@dataclass(frozen=True, slots=True)
class ShoppingList:
    """What to buy in order; the days answered by what is owned, with what the budget buys, and with all of it."""

    purchases: tuple[Purchase, ...]
    owned_days: float
    budget_days: float
    all_days: float
    expected_days: float


def shopping_list(
    lures: Sequence[Lure],
    planned: Sequence[Planned],
    palette: Palette,
    prices: Mapping[tuple[str, str], float] | None = None,
    budget: float | None = None,
    paired: Sequence[PairPlan] = (),
) -> ShoppingList:
    """The colours that plans want and the crate is short of: first what answers days that nothing owned answers, each
    time the one that adds most over all categories, then what only brings a colour to par, most days served first.

    A budget takes purchases in this order and passes over those that no longer fit. `prices`: of one, by category and
    card id, or by category and an empty id for all others of it. `paired`: plans of jigs with their trailers, for
    categories that are not in `planned`.
    """
    prices = prices or {}
    counts: dict[tuple[str, str], int] = {}
    for lure in lures:
        counts[lure.category, lure.card.id] = counts.get((lure.category, lure.card.id), 0) + lure.count
    ordered = [entry for each in planned for entry in _ordered(each, counts, palette)]
    ordered += [entry for each in paired for entry in _ordered_pairs(each, counts)]
    ordered.sort(key=lambda entry: (-entry[2], -entry[3]))
    purchases, spent, reached = [], 0.0, 0.0
    for category, card, adds, serves in ordered:
        have = counts.get((category, card.id), 0)
        count = par_of(category, card, serves) - have
        price = prices.get((category, card.id), prices.get((category, "")))
        cost = round((price or 0.0) * count, 2)
        within = budget is None or spent + cost <= budget + 1e-9
        spent, reached = (round(spent + cost, 2), reached + adds) if within else (spent, reached)
        purchases.append(Purchase(category, card, adds, serves, have, count, price, cost, spent, within))
    there = sum(each.answered_days - sum(adds for _, adds in each.to_buy) for each in paired)
    owned = round(sum(_reach(each, counts, palette, frozenset()) for each in planned) + there, 6)
    return ShoppingList(
        purchases=tuple(purchases),
        owned_days=owned,
        budget_days=round(owned + reached, 6),
        all_days=round(owned + sum(purchase.adds for purchase in purchases), 6),
        expected_days=round(
            sum(each.plan.expected_days for each in planned) + sum(each.expected_days for each in paired), 6
        ),
    )


def _ordered(
    planned: Planned, counts: Mapping[tuple[str, str], int], palette: Palette
) -> list[tuple[str, Card, float, float]]:
    """One category's colours below par, in the order to buy them, with the days each adds and serves."""
    category = planned.request.category
    chosen = {one.card.id: one for one in planned.plan.colours}
    left = [card_id for card_id in chosen if not counts.get((category, card_id))]
    bought: frozenset[str] = frozenset()
    reached = _reach(planned, counts, palette, bought)
    entries = []
    while left:
        then = [_reach(planned, counts, palette, bought | {card_id}) for card_id in left]
        best = max(range(len(left)), key=lambda place: then[place])
        card_id = left.pop(best)
        entries.append((category, chosen[card_id].card, round(then[best] - reached, 6), chosen[card_id].days))
        bought, reached = bought | {card_id}, then[best]
    for one in planned.plan.colours:
        if 0 < counts.get((category, one.card.id), 0) < par_of(category, one.card, one.days):
            entries.append((category, one.card, 0.0, one.days))
    return entries


def _ordered_pairs(plan: PairPlan, counts: Mapping[tuple[str, str], int]) -> list[tuple[str, Card, float, float]]:
    """The pieces of jigs and trailers below par; the first half of a pair stands with the days of the whole."""
    entries = []
    waiting: list[Piece] = []
    for piece, adds in plan.to_buy:
        if not adds:
            waiting.append(piece)
            continue
        for one in (*waiting, piece):
            entries.append((one.category, one.card, round(adds / (len(waiting) + 1), 6), one.days))
        waiting = []
    entries += [(one.category, one.card, 0.0, one.days) for one in waiting]
    for one in (*plan.jigs, *plan.trailers):
        if 0 < counts.get((one.category, one.card.id), 0) < par_of(one.category, one.card, one.days):
            entries.append((one.category, one.card, 0.0, one.days))
    return entries


def _reach(planned: Planned, counts: Mapping[tuple[str, str], int], palette: Palette, bought: frozenset[str]) -> float:
    category = planned.request.category
    owned = frozenset(card_id for (where, card_id), count in counts.items() if where == category and count)
    return days_answered(planned.request, palette, [owned | bought])[0]
