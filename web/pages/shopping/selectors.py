"""The shopping list of an angler's plan."""

from tackle.check.buying import ShoppingList, shopping_list
from web.common.accounts.models import User
from web.domain.plans.selectors import Basis, get_basis, get_owned, planned
from web.domain.shopping.selectors import BUDGET


def list_for(owner: User) -> tuple[Basis, ShoppingList]:
    """The plan's basis with the prices it reckons with, and what to buy for it."""
    basis = get_basis(owner)
    lures = [one.lure for one in get_owned(owner).stock]
    budget = basis.prices.get(BUDGET)
    known = {where: float(amount) for where, amount in basis.prices.items() if where != BUDGET}
    return basis, shopping_list(lures, planned(basis), basis.palette, known, None if budget is None else float(budget))
