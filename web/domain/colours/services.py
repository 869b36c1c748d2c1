"""Every change to an angler's own cards: checked, and written in one transaction."""

from dataclasses import replace
from typing import Any

from django.core.exceptions import ValidationError
from django.utils.text import slugify

from tackle.base.errors import DataError
from tackle.colours.colour import Colour, read_card
from tackle.colours.palette import free_code, house_palette
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.domain.colours.models import OwnCard
from web.domain.colours.selectors import OWN, get_own_card, get_palette

MOST_OWN = 500


@one_change
def keep_card(owner: User, entry: dict[str, Any], card_id: str = "") -> OwnCard:
    """Makes a card of the owner's own, or changes the one with this id. Raises ValidationError with the field."""
    row = get_own_card(owner, card_id) if card_id else OwnCard(owner=owner, card=_free_id(owner, entry.get("name", "")))
    if not card_id and OwnCard.objects.filter(owner=owner).count() >= MOST_OWN:
        raise ValidationError({"name": f"There are {MOST_OWN} colours of your own already; drop one first."})
    entry = {**entry, "id": row.card}
    try:
        card = read_card(entry, OWN)
    except DataError as error:
        raise ValidationError({error.field: f"{error.wrong}."}) from error
    others = [other for other in get_palette(owner).by_id.values() if other.id != card.id]
    if same := next((other for other in others if other.code == card.code), None):
        free = free_code({other.code for other in others})
        raise ValidationError({"code": f"{card.code} is the code of {same.name}; {free} is free."})
    row.entry = entry
    row.save()
    return row


@one_change
def keep_seen(owner: User, like: str, category: str, hexes: list[str]) -> OwnCard:
    """A card of the owner's own in the colours seen (back, side, belly), with the traits of the nearest one."""
    palette = get_palette(owner)
    near = palette.by_id.get(like)
    if near is None or category not in near.sold_in or len(hexes) != 3:
        raise ValidationError("Choose a colour of this category first.")
    back, side, belly = hexes
    return keep_like(
        owner, replace(near, name=f"Seen, like {near.name.lower()}", back=back, side=side, belly=belly), category
    )


@one_change
def keep_like(owner: User, card: Colour, category: str) -> OwnCard:
    """A card of the owner's own with the name, the traits and the colours of another. Raises ValidationError."""
    code = free_code({one.code for one in get_palette(owner).by_id.values()})
    entry = {
        **card.traits(),
        "name": card.name[:60],
        "code": code,
        "flake_srgb": list(card.flake_srgb),
        "sold_in": [category],
        "back": card.back,
        "side": card.side,
        "belly": card.belly,
    }
    return keep_card(owner, entry)


@one_change
def bring_back(owner: User, card_id: str) -> str:
    """Offers a retired card again."""
    row = get_own_card(owner, card_id)
    row.retired = False
    row.save(update_fields=["retired"])
    return f"{row.entry['name']} is back."


def _free_id(owner: User, name: str) -> str:
    """An id from a name, that neither our palette nor the owner's cards have."""
    taken = {*house_palette().by_id, *OwnCard.objects.filter(owner=owner).values_list("card", flat=True)}
    stem = "own-" + (slugify(name)[:48] or "card")
    return next(one for number in range(1, len(taken) + 2) if (one := f"{stem}-{number}") not in taken)
