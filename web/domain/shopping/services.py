"""Every change on the shopping list: checked, and written in one transaction."""

from decimal import Decimal

from django.core.exceptions import ValidationError

from tackle.base.numbers import read_number
from tackle.base.vocabulary import CATEGORIES
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.common.ui.words import label
from web.domain.colours.selectors import get_palette
from web.domain.shopping.models import Price


@one_change
def set_price(owner: User, category: str, card: str, text: str) -> None:
    """Sets what one of a category, or one colour of it, costs; with neither, the budget. Raises ValidationError.

    The first price told of a category's colour is taken for all of that category. Nothing forgets a price.
    """
    if category and category not in CATEGORIES:
        raise ValidationError(f"{category} is not a category.")
    if card and not category:
        raise ValidationError("A price of one colour needs its category.")
    if card and card not in get_palette(owner).ids_in(category):
        raise ValidationError(f"{card} is not a colour of {label(category).lower()}.")
    prices = Price.objects.filter(owner=owner, category=category)
    if not text.strip():
        prices.filter(card=card if prices.filter(card=card).exists() else "").delete()
        return
    data = read_number(text, 0, 99_999.99)
    if data is None:
        raise ValidationError(f"“{text[:20]}” is not an amount: it goes from 0 to 99,999.99.")
    amount = Decimal(f"{data:.2f}")
    if card and not prices.filter(card="").exists():
        card = ""
    Price.objects.update_or_create(owner=owner, category=category, card=card, defaults={"amount": amount})
