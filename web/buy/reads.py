"""The shopping list of an angler's plan."""

from tackle.crate.buying import ShoppingList, shopping_list
from tackle.crate.reach import Planned
from web.accounts.models import User
from web.buy.prices import BUDGET
from web.crate.reads import stock_of
from web.plans.reads import Basis, answers, basis_of, pairs


def list_for(owner: User) -> tuple[Basis, ShoppingList]:
    """The plan's basis with the prices it reckons with, and what to buy for it."""
    basis = basis_of(owner)
    every = [each for each in answers(basis) if each.category not in basis.with_trailers]
    planned = [Planned(each.request, each.answer) for each in every]
    paired = [pairs(basis, category).answer for category in basis.with_trailers]
    lures = [one.lure for one in stock_of(owner, basis.palette)]
    budget = basis.prices.get(BUDGET)
    known = {where: float(amount) for where, amount in basis.prices.items() if where != BUDGET}
    return basis, shopping_list(lures, planned, basis.palette, known, None if budget is None else float(budget), paired)
