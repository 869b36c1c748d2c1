"""Every change to the crate: checked, written in one transaction, and kept in the history for undo."""

from typing import Any

from django.core.exceptions import ValidationError
from django.db import transaction
from django.db.models import Max

from tackle.errors import Refused
from web.accounts.models import User
from web.colours.reads import palette_of
from web.crate.models import Change, Lure, Tray
from web.crate.reads import change_of, lure_of

_FIELDS = ("tray_id", "category", "card", "name", "count", "size_in", "position")


@transaction.atomic
def make_tray(owner: User, name: str, label: str) -> Tray:
    """A new tray with the next free letter. Raises ValidationError."""
    taken = set(Tray.objects.filter(owner=owner).values_list("letter", flat=True))
    letters = [chr(code) for code in range(ord("A"), ord("Z") + 1)]
    letter = next((one for one in letters if one not in taken), "")
    if not letter:
        raise ValidationError("There are 26 trays already, A to Z.")
    tray = Tray(owner=owner, letter=letter, name=name, label=label)
    tray.full_clean()
    tray.save()
    return tray


@transaction.atomic
def keep_lure(owner: User, lure: Lure, **values: Any) -> Change:
    """Makes or changes a lure. Raises ValidationError with the field."""
    before = _snapshot(lure) if lure.pk else None
    for field, value in values.items():
        setattr(lure, field, value)
    if lure.tray.owner_id != owner.pk:
        raise ValidationError({"tray": "That is not one of your trays."})
    if before is None:
        last = Lure.objects.filter(tray=lure.tray).aggregate(last=Max("position"))["last"]
        lure.position = (last or 0) + 1
    lure.full_clean()
    try:
        card = palette_of(owner).card(lure.card, "card", lure.category)
    except Refused as refused:
        raise ValidationError({"card": f"{refused.wrong}."}) from refused
    lure.save()
    words = f"{card.name} is {'changed' if before else 'added'}."
    return _record(owner, lure.pk, words, before, _snapshot(lure))


@transaction.atomic
def delete_lure(owner: User, pk: int) -> Change:
    """Takes a lure out of the crate."""
    lure = lure_of(owner, pk)
    before = _snapshot(lure)
    lure.delete()
    known = palette_of(owner).by_id.get(before["card"])
    return _record(owner, pk, f"{known.name if known else before['card']} is taken out.", before, None)


@transaction.atomic
def undo(owner: User, pk: int) -> str:
    """Takes one change back; returns what was done. Raises ValidationError where that can no longer be."""
    change = change_of(owner, pk)
    if change.before is None:
        Lure.objects.filter(pk=change.lure_pk, tray__owner=owner).delete()
    elif not Tray.objects.filter(owner=owner, pk=change.before["tray_id"]).exists():
        raise ValidationError("The tray it was in is gone.")
    else:
        Lure.objects.update_or_create(pk=change.lure_pk, defaults=change.before)
    change.undone = True
    change.save(update_fields=["undone"])
    return f"Undone: {change.words}"


@transaction.atomic
def set_same_within(owner: User, text: str) -> None:
    """Sets how far two colours may differ and count as one. Raises ValidationError."""
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        raise ValidationError(f"“{text}” is not a number.") from None
    if not 0 <= value <= 40:
        raise ValidationError("A difference goes from 0 (only the same card) to 40.")
    owner.same_within = value
    owner.save(update_fields=["same_within"])


def _snapshot(lure: Lure) -> dict[str, Any]:
    stored = Lure.objects.get(pk=lure.pk)
    return {field: getattr(stored, field) for field in _FIELDS}


def _record(
    owner: User, lure_pk: int, words: str, before: dict[str, Any] | None, after: dict[str, Any] | None
) -> Change:
    return Change.objects.create(owner=owner, lure_pk=lure_pk, words=words, before=before, after=after)
