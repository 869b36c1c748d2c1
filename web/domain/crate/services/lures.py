"""One stack of lures: added, changed, moved, split, joined, made over."""

from collections.abc import Mapping
from typing import Any

from django.core.exceptions import ValidationError

from tackle.base.errors import InvalidInput
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.domain.colours.selectors import get_own_card, get_palette
from web.domain.crate.models import Lure
from web.domain.crate.selectors import get_lure, get_tray, list_lures
from web.domain.crate.services.stacks import MOST_LURES, card_name, carried, next_position, recorded, set_count
from web.domain.history.kinds import LURE
from web.domain.history.models import Change
from web.domain.history.states import refuse_stale, states


@one_change
def add_lure(owner: User, **values: Any) -> Change:
    """A new lure. Raises ValidationError with the field."""
    tray = values["tray"]
    if tray.owner_id == owner.pk and list_lures(owner).count() >= MOST_LURES:
        raise ValidationError(f"The tackle box holds at most {MOST_LURES:,} stacks.")
    lure = _checked(owner, Lure(position=next_position(tray)), values)
    lure.save()
    return recorded(owner, f"{card_name(owner, lure.card)} is added.", {}, [lure.pk])


@one_change
def edit_lure(owner: User, pk: int, shown: Mapping[str, Any] | None = None, **values: Any) -> Change:
    """Changes a lure. Raises ValidationError with the field; Stale where it is not any more as it was shown."""
    lure, before = get_lure(owner, pk), states(LURE, [pk])
    refuse_stale(before[pk], shown, values)
    lure = _checked(owner, lure, values)
    lure.save(update_fields=list(values))
    return recorded(owner, f"{card_name(owner, lure.card)} is changed.", before, [pk])


def _checked(owner: User, lure: Lure, values: Mapping[str, Any]) -> Lure:
    known = lure.card
    for field, value in values.items():
        setattr(lure, field, value)
    if lure.tray.owner_id != owner.pk:
        raise ValidationError({"tray": "That is not one of your trays."})
    if lure.picture and lure.picture.owner_id != owner.pk:
        raise ValidationError({"picture": "That is not one of your pictures."})
    lure.full_clean()
    if lure.card != known or "category" in values:
        try:
            get_palette(owner).card(lure.card, "card", lure.category)
        except InvalidInput as refused:
            raise ValidationError({"card": f"{refused.wrong}."}) from refused
    return lure


@one_change
def delete_lure(owner: User, pk: int) -> Change:
    """Takes a lure out of the crate."""
    lure, before = get_lure(owner, pk), states(LURE, [pk])
    lure.delete()
    return recorded(owner, f"{card_name(owner, lure.card)} is taken out.", before, [])


@one_change
def move_lure(owner: User, pk: int, tray_pk: int, before_pk: int | None = None) -> Change:
    """Moves a lure to the end of a tray, or before another lure of it."""
    lure, tray = get_lure(owner, pk), get_tray(owner, tray_pk)
    there = [one for one in Lure.objects.filter(tray=tray).order_by("position", "pk") if one.pk != pk]
    at = next((index for index, one in enumerate(there) if one.pk == before_pk), len(there))
    there.insert(at, lure)
    before = states(LURE, [one.pk for one in there])
    lure.tray = tray
    for index, one in enumerate(there, 1):
        one.position = index
    Lure.objects.bulk_update(there, ["tray", "position"])
    words = f"{card_name(owner, lure.card)} is moved to tray {tray.letter}."
    return recorded(owner, words, before, before)


@one_change
def split_lure(owner: User, pk: int, count: int, tray_pk: int) -> Change:
    """Takes some of a stack into a stack of their own, or onto the same lure where that tray has it."""
    lure, tray = get_lure(owner, pk), get_tray(owner, tray_pk)
    if not 1 <= count < lure.count:
        raise ValidationError({"count": f"Of {lure.count} you can split off 1 to {lure.count - 1}."})
    return carried(owner, f"{count} {card_name(owner, lure.card)} to tray {tray.letter}.", [(lure, count, tray)])


@one_change
def merge_lures(owner: User, pk: int, into_pk: int) -> Change:
    """Puts one stack onto another of the same category and colour."""
    lure, into = get_lure(owner, pk), get_lure(owner, into_pk)
    if pk == into_pk or (lure.category, lure.card) != (into.category, into.card):
        raise ValidationError("Only stacks of one category and colour can be put together.")
    before = states(LURE, [pk, into_pk])
    set_count(into, into.count + lure.count)
    lure.delete()
    return recorded(owner, f"{card_name(owner, into.card)}: two stacks are one.", before, [into_pk])


@one_change
def make_over(owner: User, pk: int, count: int, card: str, done: str) -> Change:
    """Makes some of a stack into another colour, beside it in its tray. Raises ValidationError."""
    lure = get_lure(owner, pk)
    if not 1 <= count <= lure.count:
        raise ValidationError(f"There are {lure.count} of it.")
    words = (
        f"{done}: {count} {card_name(owner, lure.card)} {'is' if count == 1 else 'are'} {card_name(owner, card)} now."
    )
    return carried(owner, words, [(lure, count, lure.tray)], card)


@one_change
def drop_card(owner: User, card_id: str) -> str:
    """Deletes a card of the owner's own, or retires it where a lure has it; says which."""
    row = get_own_card(owner, card_id)
    name = row.entry["name"]
    if list_lures(owner).filter(card=card_id).exists():
        row.retired = True
        row.save(update_fields=["retired"])
        return f"{name} is retired: lures in the tackle box still have it."
    row.delete()
    return f"{name} is deleted."
