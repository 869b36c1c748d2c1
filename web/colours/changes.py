"""Every change to an angler's own cards: checked, and written in one transaction."""

from typing import Any

from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils.text import slugify

from tackle.colours.card import read_card
from tackle.colours.palette import house_palette
from tackle.errors import DataError
from web.accounts.models import User
from web.colours.models import OwnCard
from web.colours.reads import OWN, own_card_of, palette_of
from web.crate.reads import lures_of


@transaction.atomic
def keep_card(owner: User, entry: dict[str, Any], known: OwnCard | None = None) -> OwnCard:
    """Makes or changes a card of the owner's own. Raises ValidationError with the field."""
    row = known or OwnCard(owner=owner, card=_free_id(owner, entry.get("name", "")))
    entry = {**entry, "id": row.card}
    try:
        card = read_card(entry, OWN)
    except DataError as error:
        raise ValidationError({error.field: f"{error.wrong}."}) from error
    for other in palette_of(owner).cards:
        shared = set(other.sold_in) & set(card.sold_in)
        if other.id != card.id and other.code == card.code and shared:
            raise ValidationError({"code": f"{card.code} is the code of {other.name} in {min(shared)}."})
    row.entry = entry
    row.save()
    return row


@transaction.atomic
def keep_seen(owner: User, like: str, category: str, hexes: list[str]) -> OwnCard:
    """A card of the owner's own in the colours seen (back, side, belly), with the traits of the nearest one."""
    palette = palette_of(owner)
    near = palette.by_id.get(like)
    if near is None or category not in near.sold_in or len(hexes) != 3:
        raise ValidationError("Choose a colour of this category first.")
    codes = {card.code for card in palette.sold_in(category)}
    code = next(
        one for one in (f"{a}{b}" for a in "SXZQ" for b in "123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ") if one not in codes
    )
    entry = {
        **near.traits(),
        "name": f"Seen, like {near.name.lower()}"[:60],
        "code": code,
        "flake_srgb": list(near.flake_srgb),
        "sold_in": [category],
        **dict(zip(("back", "side", "belly"), hexes, strict=True)),
    }
    return keep_card(owner, entry)


@transaction.atomic
def drop_card(owner: User, card_id: str) -> str:
    """Deletes a card of the owner's own, or retires it where a lure has it; says which."""
    row = own_card_of(owner, card_id)
    name = row.entry["name"]
    if lures_of(owner).filter(card=card_id).exists():
        row.retired = True
        row.save(update_fields=["retired"])
        return f"{name} is retired: lures in the crate still have it."
    row.delete()
    return f"{name} is deleted."


@transaction.atomic
def bring_back(owner: User, card_id: str) -> str:
    """Offers a retired card again."""
    row = own_card_of(owner, card_id)
    row.retired = False
    row.save(update_fields=["retired"])
    return f"{row.entry['name']} is back."


def _free_id(owner: User, name: str) -> str:
    """An id from a name, that neither our palette nor the owner's cards have."""
    taken = {*house_palette().by_id, *OwnCard.objects.filter(owner=owner).values_list("card", flat=True)}
    stem = "own-" + (slugify(name)[:48] or "card")
    return next(one for number in range(1, len(taken) + 2) if (one := f"{stem}-{number}") not in taken)
