"""Every change to the crate: checked, written in one transaction, and recorded in the history."""

import string
from collections.abc import Sequence
from decimal import Decimal
from itertools import product
from typing import Any

from django.core.exceptions import ValidationError
from django.db import transaction
from django.db.models import Max

from tackle.crate.line import MOST_COUNT
from tackle.crate.table import Draft
from tackle.crate.words import normal
from tackle.errors import Refused
from web.accounts.models import User
from web.colours.reads import palette_of
from web.crate.history import State, Step, record, state_of
from web.crate.models import Change, ImportDraft, Lure, Mark, Picture, Place, Printed, Tray
from web.crate.reads import bare_trays_of, lure_of, lures_of, places_of

FIRST_PLACES = (("Boat", Place.Kind.BOAT), ("Home stock", Place.Kind.HOME), ("Bank bag", Place.Kind.BANK))
MOST_DRAFTS = 20


@transaction.atomic
def places_for(owner: User) -> list[Place]:
    """The owner's places; the first time, a boat, a stock at home and a bank bag."""
    if not places_of(owner).exists():
        Place.objects.bulk_create(Place(owner=owner, name=name, kind=kind) for name, kind in FIRST_PLACES)
    return list(places_of(owner))


@transaction.atomic
def make_tray(owner: User, name: str, label: str, place: Place | None = None, rows: int = 4, columns: int = 3) -> Tray:
    """A new tray with the next free letter, on the boat unless told otherwise. Raises ValidationError."""
    taken = set(Tray.objects.filter(owner=owner).values_list("letter", flat=True))
    singles = string.ascii_uppercase
    letters = (*singles, *("".join(pair) for pair in product(singles, repeat=2)))
    letter = next((one for one in letters if one not in taken), "")
    if not letter:
        raise ValidationError("There are 702 trays already, A to ZZ.")
    place = place or next(one for one in places_for(owner) if one.kind == Place.Kind.BOAT)
    if place.owner_id != owner.pk:
        raise ValidationError({"place": "That is not one of your places."})
    tray = Tray(owner=owner, letter=letter, name=name, label=label, place=place, rows=rows, columns=columns)
    tray.full_clean()
    tray.save()
    record(owner, f"Tray {letter} is there.", [(tray.pk, None, state_of(tray.pk, "tray"))], "tray")
    return tray


@transaction.atomic
def edit_tray(owner: User, tray: Tray, **values: Any) -> Change:
    """Changes a tray's name, label, place or grid. Raises ValidationError."""
    before = state_of(tray.pk, "tray")
    for field, value in values.items():
        setattr(tray, field, value)
    if tray.owner_id != owner.pk or (tray.place and tray.place.owner_id != owner.pk):
        raise ValidationError("That is not yours.")
    tray.full_clean()
    tray.save()
    steps = [(tray.pk, before, state_of(tray.pk, "tray"))]
    return record(owner, f"Tray {tray.letter} is changed.", steps, "tray")


@transaction.atomic
def delete_tray(owner: User, tray: Tray) -> Change:
    """Deletes an empty tray. Raises ValidationError where something is in it."""
    if Lure.objects.filter(tray=tray).exists():
        raise ValidationError("There is something in it: move that first.")
    pk, before = tray.pk, state_of(tray.pk, "tray")
    tray.delete()
    return record(owner, f"Tray {tray.letter} is gone.", [(pk, before, None)], "tray")


@transaction.atomic
def keep_lure(owner: User, lure: Lure, **values: Any) -> Change:
    """Makes or changes a lure. Raises ValidationError with the field."""
    before = state_of(lure.pk) if lure.pk else None
    for field, value in values.items():
        setattr(lure, field, value)
    if lure.tray.owner_id != owner.pk:
        raise ValidationError({"tray": "That is not one of your trays."})
    if lure.picture and lure.picture.owner_id != owner.pk:
        raise ValidationError({"picture": "That is not one of your pictures."})
    if before is None:
        lure.position = _next_position(lure.tray)
    lure.full_clean()
    try:
        card = palette_of(owner).card(lure.card, "card", lure.category)
    except Refused as refused:
        raise ValidationError({"card": f"{refused.wrong}."}) from refused
    lure.save()
    words = f"{card.name} is {'changed' if before else 'added'}."
    return record(owner, words, [(lure.pk, before, state_of(lure.pk))])


@transaction.atomic
def delete_lure(owner: User, pk: int) -> Change:
    """Takes a lure out of the crate."""
    lure = lure_of(owner, pk)
    before = state_of(pk)
    lure.delete()
    return record(owner, f"{_name(owner, lure.card)} is taken out.", [(pk, before, None)])


@transaction.atomic
def move_lure(owner: User, pk: int, tray: Tray, before_pk: int | None = None) -> Change:
    """Moves a lure to the end of a tray, or before another lure of it."""
    lure = lure_of(owner, pk)
    if tray.owner_id != owner.pk:
        raise ValidationError({"tray": "That is not one of your trays."})
    there = [one for one in Lure.objects.filter(tray=tray).order_by("position", "pk") if one.pk != pk]
    at = next((place for place, one in enumerate(there) if one.pk == before_pk), len(there))
    there.insert(at, lure)
    touched = [(one, state_of(one.pk)) for one in there if one.pk == pk or one.position != there.index(one) + 1]
    lure.tray = tray
    for place, one in enumerate(there, 1):
        one.position = place
    Lure.objects.bulk_update(there, ["tray", "position"])
    steps = [(one.pk, was, state_of(one.pk)) for one, was in touched]
    return record(owner, f"{_name(owner, lure.card)} is moved to tray {tray.letter}.", steps)


@transaction.atomic
def split_lure(owner: User, pk: int, count: int, tray: Tray) -> Change:
    """Takes some of a stack into a stack of their own, or onto the same lure where that tray has it."""
    lure = lure_of(owner, pk)
    if tray.owner_id != owner.pk:
        raise ValidationError({"tray": "That is not one of your trays."})
    if not 1 <= count < lure.count:
        raise ValidationError({"count": f"Of {lure.count} you can split off 1 to {lure.count - 1}."})
    return record(owner, f"{count} {_name(owner, lure.card)} to tray {tray.letter}.", _carry(lure, count, tray))


@transaction.atomic
def merge_lures(owner: User, pk: int, into_pk: int) -> Change:
    """Puts one stack onto another of the same category and colour."""
    lure, into = lure_of(owner, pk), lure_of(owner, into_pk)
    if pk == into_pk or (lure.category, lure.card) != (into.category, into.card):
        raise ValidationError("Only stacks of one category and colour can be put together.")
    if lure.count + into.count > MOST_COUNT:
        raise ValidationError(f"A stack holds at most {MOST_COUNT}.")
    before, was = state_of(lure.pk), state_of(into.pk)
    into.count += lure.count
    into.save()
    lure.delete()
    return record(owner, f"{_name(owner, into.card)}: two stacks are one.", [(pk, before, None), _step(into, was)])


@transaction.atomic
def bring(owner: User, category: str, card: str, count: int) -> Change:
    """Brings stock from home to where its category lives. Raises ValidationError where home has none."""
    found = lures_of(owner).filter(category=category, card=card)
    home = [lure for lure in found if lure.tray.at_home]
    out = [lure for lure in found if not lure.tray.at_home]
    tray = out[0].tray if out else next((one for one in bare_trays_of(owner) if not one.at_home), None)
    if tray is None or not home:
        raise ValidationError("There is none at home to bring.")
    steps: list[Step] = []
    left = count
    for lure in home:
        taken = min(left, lure.count)
        if taken:
            steps += _carry(lure, taken, tray)
            left -= taken
    words = f"{count - left} {_name(owner, card)} from home to tray {tray.letter}."
    return record(owner, words, steps)


@transaction.atomic
def take_in(owner: User, drafts: Sequence[Draft], trays: Sequence[Tray], words: str) -> Change:
    """Takes many lures in at once, each into the tray beside it in `trays`. Raises ValidationError; nothing half."""
    sold = {(category, card.id) for card in palette_of(owner).cards for category in card.sold_in}
    position = {tray.pk: _next_position(tray) for tray in set(trays)}
    lures = []
    for row, (draft, tray) in enumerate(zip(drafts, trays, strict=True), 1):
        if tray.owner_id != owner.pk or draft.wrong or (draft.category, draft.card) not in sold:
            raise ValidationError(f"Row {row} cannot be taken in as it is.")
        lures.append(
            Lure(
                tray=tray, category=draft.category, card=draft.card, name=draft.name, count=draft.count,
                size_in=draft.size_in, weight_oz=draft.weight_oz, depth_ft=draft.depth_ft, sound=draft.sound,
                price=None if draft.price is None else Decimal(f"{draft.price:.2f}"), condition=draft.condition,
                note=draft.note, position=position[tray.pk],
            )
        )  # fmt: skip
        position[tray.pk] += 1
    last = Lure.objects.aggregate(last=Max("pk"))["last"] or 0
    Lure.objects.bulk_create(lures, batch_size=500)
    made = Lure.objects.filter(tray__owner=owner, pk__gt=last).order_by("pk")
    return record(owner, words, [(pk, None, None) for pk in made.values_list("pk", flat=True)])


@transaction.atomic
def remember_name(owner: User, category: str, text: str, card: str) -> None:
    """Remembers the card chosen for a printed name."""
    if plain := normal(text)[:80]:
        Printed.objects.update_or_create(owner=owner, category=category, text=plain, defaults={"card": card})


@transaction.atomic
def keep_draft(owner: User, name: str, headings: list[str], rows: list[list[str]], columns: list[str]) -> ImportDraft:
    """Keeps a file that was read, to be looked over; the oldest of too many go."""
    draft = ImportDraft.objects.create(owner=owner, name=name[:120], headings=headings, rows=rows, columns=columns)
    kept = list(ImportDraft.objects.filter(owner=owner).values_list("pk", flat=True)[:MOST_DRAFTS])
    ImportDraft.objects.filter(owner=owner).exclude(pk__in=kept).delete()
    return draft


@transaction.atomic
def keep_picture(owner: User, jpeg: bytes, width: int, height: int) -> Picture:
    return Picture.objects.create(owner=owner, jpeg=jpeg, width=width, height=height)


@transaction.atomic
def mark_finding(owner: User, finding: str, words: str, state: str, reason: str) -> None:
    """Says of a finding that it is done, put off, or dismissed with a reason; no state takes that back."""
    if state not in (*Mark.State.values, ""):
        raise ValidationError(f"{state} is not one of {', '.join(Mark.State.values)}.")
    if state == Mark.State.NO and not reason.strip():
        raise ValidationError("Say why: the check will respect it.")
    if not state:
        Mark.objects.filter(owner=owner, finding=finding[:120]).delete()
        return
    values = {"words": words[:200], "state": state, "reason": reason.strip()[:200]}
    Mark.objects.update_or_create(owner=owner, finding=finding[:120], defaults=values)


@transaction.atomic
def set_sameness(owner: User, text: str, any_form: bool) -> None:
    """Sets how far two colours may differ and count as one, and whether other forms do. Raises ValidationError."""
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        raise ValidationError(f"“{text}” is not a number.") from None
    if not 0 <= value <= 40:
        raise ValidationError("A difference goes from 0 (only the same card) to 40.")
    owner.same_within, owner.any_form = value, any_form
    owner.save(update_fields=["same_within", "any_form"])


def _carry(lure: Lure, count: int, tray: Tray) -> list[Step]:
    """Moves some of a stack into a tray, onto the like of it where it is there."""
    before = state_of(lure.pk)
    form = {"category": lure.category, "card": lure.card, "size_in": lure.size_in, "depth_ft": lure.depth_ft}
    there = Lure.objects.filter(tray=tray, sound=lure.sound, **form).exclude(pk=lure.pk).first()
    steps: list[Step] = []
    if there is not None:
        was = state_of(there.pk)
        there.count += count
        there.save()
        steps.append(_step(there, was))
    else:
        values = {**before, "tray_id": tray.pk, "count": count, "position": _next_position(tray)}
        made = Lure.objects.create(**values)
        steps.append(_step(made, None))
    if count == lure.count:
        pk = lure.pk
        lure.delete()
        return [*steps, (pk, before, None)]
    lure.count -= count
    lure.save()
    return [*steps, _step(lure, before)]


def _next_position(tray: Tray) -> int:
    return (Lure.objects.filter(tray=tray).aggregate(last=Max("position"))["last"] or 0) + 1


def _step(lure: Lure, before: State | None) -> Step:
    return lure.pk, before, state_of(lure.pk)


def _name(owner: User, card: str) -> str:
    known = palette_of(owner).by_id.get(card)
    return known.name if known else card
