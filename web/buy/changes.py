"""Every change on the shopping list: checked, and written in one transaction."""

from decimal import Decimal, InvalidOperation

from django.core.exceptions import ValidationError
from django.db import transaction

from tackle.crate.buying import Purchase
from tackle.vocabulary import CATEGORIES
from web.accounts.models import User
from web.buy.models import Price
from web.colours.reads import palette_of
from web.crate.changes import keep_lure, make_tray
from web.crate.models import Change, Lure
from web.crate.reads import home_of, trays_of
from web.ui.words import label


@transaction.atomic
def set_price(owner: User, category: str, card: str, text: str) -> None:
    """Sets what one of a category, or one colour of it, costs; with neither, the budget. Raises ValidationError.

    The first price told of a category's colour is taken for all of that category. Nothing forgets a price.
    """
    if category and category not in CATEGORIES:
        raise ValidationError(f"{category} is not a category.")
    if card and card not in {one.id for one in palette_of(owner).sold_in(category)}:
        raise ValidationError(f"{card} is not a colour of {label(category).lower()}.")
    prices = Price.objects.filter(owner=owner, category=category)
    if not text.strip():
        prices.filter(card=card if prices.filter(card=card).exists() else "").delete()
        return
    try:
        amount = Decimal(text.strip().replace(",", ".")).quantize(Decimal("0.01"))
    except InvalidOperation:
        raise ValidationError(f"“{text}” is not an amount.") from None
    if not 0 <= amount < 100_000:
        raise ValidationError("An amount goes from 0 to 99,999.99.")
    if card and not prices.filter(card="").exists():
        card = ""
    Price.objects.update_or_create(owner=owner, category=category, card=card, defaults={"amount": amount})


@transaction.atomic
def bought(owner: User, purchase: Purchase) -> Change:
    """Puts what was bought into the crate: onto the same colour where it is there, else where its category lives."""
    held = Lure.objects.filter(tray__owner=owner, category=purchase.category, card=purchase.card.id).first()
    if held is not None:
        return keep_lure(owner, held, count=held.count + purchase.count)
    tray = home_of(list(trays_of(owner)), purchase.category) or make_tray(owner, label(purchase.category), "teal")
    return keep_lure(owner, Lure(), tray=tray, category=purchase.category, card=purchase.card.id, count=purchase.count)
