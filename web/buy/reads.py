"""The shopping list of an angler's plan."""

from decimal import Decimal

from tackle.crate.audit import Planned
from tackle.crate.buying import ShoppingList, shopping_list
from web.accounts.models import User
from web.buy.models import Price
from web.crate.reads import core_lures, trays_of
from web.plans.reads import Basis, answers, basis_of


def prices_of(owner: User) -> dict[str, Decimal]:
    """What the angler said lures cost, by category; the budget under an empty one."""
    return dict(Price.objects.filter(owner=owner).values_list("category", "amount"))


def list_for(owner: User) -> tuple[Basis, ShoppingList, dict[str, Decimal]]:
    """The plan's basis, what to buy for it, and the prices it reckons with."""
    basis, prices = basis_of(owner), prices_of(owner)
    planned = [Planned(each.request, each.answer) for each in answers(basis)]
    lures = core_lures(list(trays_of(owner)), basis.palette)
    budget = prices.get("")
    known = {category: float(amount) for category, amount in prices.items() if category}
    return basis, shopping_list(lures, planned, basis.palette, known, None if budget is None else float(budget)), prices
