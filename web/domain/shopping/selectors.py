"""What the angler said lures cost."""

from decimal import Decimal

from web.common.accounts.models import User
from web.domain.shopping.models import Price

BUDGET = ("", "")


def list_prices(owner: User) -> dict[tuple[str, str], Decimal]:
    """By category and card id; an empty card stands for all others of the category, both empty for the budget."""
    rows = Price.objects.filter(owner=owner).values_list("category", "card", "amount")
    return {(category, card): amount for category, card, amount in rows}
