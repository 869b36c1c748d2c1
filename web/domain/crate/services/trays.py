"""Trays and places: made, renamed, pictured, put away."""

import string
from collections.abc import Mapping
from itertools import product
from typing import Any

from django.core.exceptions import ValidationError

from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.domain.crate.models import Lure, Picture, Place, Tray
from web.domain.crate.selectors import get_tray, list_places, list_trays_with_places
from web.domain.crate.services.stacks import AREA
from web.domain.history.kinds import TRAY
from web.domain.history.models import Change
from web.domain.history.record import record
from web.domain.history.states import refuse_stale, states, steps

FIRST_TRAY = "First tray"
FIRST_PLACES = {Place.Kind.BOAT: "Boat", Place.Kind.HOME: "Home stock", Place.Kind.BANK: "Bank bag"}


@one_change
def make_tray(
    owner: User, name: str, label: str, place: str = Place.Kind.BOAT, rows: int = 4, columns: int = 3, hatch: str = ""
) -> Change:
    """A new tray with the next free letter, in the place of one kind. Raises ValidationError."""
    tray = new_tray(owner, name, label, place, rows, columns, hatch)
    return record(owner, AREA, f"Tray {tray.letter} is there.", steps(TRAY, {}, states(TRAY, [tray.pk])))


def new_tray(owner: User, name: str, label: str, place: str, rows: int, columns: int, hatch: str = "") -> Tray:
    """The same as a part of another change, which records it."""
    taken = set(Tray.objects.filter(owner=owner).values_list("letter", flat=True))
    singles = string.ascii_uppercase
    letters = (*singles, *("".join(pair) for pair in product(singles, repeat=2)))
    letter = next((one for one in letters if one not in taken), "")
    if not letter:
        raise ValidationError("There are 702 trays already, A to ZZ.")
    where = get_place(owner, place, hatch)
    tray = Tray(owner=owner, letter=letter, name=name, label=label, place=where, rows=rows, columns=columns)
    tray.full_clean()
    tray.save()
    return tray


def tray_made(change: Change) -> Tray:
    """The tray that a change made."""
    return Tray.objects.select_related("place").get(pk=change.steps[-1]["tray"])


@one_change
def first_tray(owner: User) -> Tray:
    """The owner's first tray; who has none yet gets one."""
    return list_trays_with_places(owner).first() or tray_made(make_tray(owner, FIRST_TRAY, "teal"))


@one_change
def edit_tray(owner: User, pk: int, shown: Mapping[str, Any] | None = None, **values: Any) -> Change:
    """Changes a tray's name, label, place or grid. Raises ValidationError; Stale where it is not as it was shown."""
    tray = get_tray(owner, pk)
    before = states(TRAY, [pk])
    hatch = values.pop("hatch", "")
    if "place" in values:
        values["place_id"] = get_place(owner, values.pop("place"), hatch).pk
    refuse_stale(before[pk], shown, values)
    for field, value in values.items():
        setattr(tray, field, value)
    tray.full_clean()
    tray.save(update_fields=list(values))
    return record(owner, AREA, f"Tray {tray.letter} is changed.", steps(TRAY, before, states(TRAY, [pk])))


@one_change
def delete_tray(owner: User, pk: int) -> Change:
    """Deletes an empty tray. Raises ValidationError where something is in it."""
    tray = get_tray(owner, pk)
    if Lure.objects.filter(tray=tray).exists() or tray.things.exists():
        raise ValidationError("There is something in it: move that first.")
    before = states(TRAY, [pk])
    tray.delete()
    return record(owner, AREA, f"Tray {tray.letter} is gone.", steps(TRAY, before, {}))


@one_change
def keep_picture(owner: User, jpeg: bytes, width: int, height: int) -> Picture:
    return Picture.objects.create(owner=owner, jpeg=jpeg, width=width, height=height)


@one_change
def keep_corners(owner: User, pk: int, corners: list[list[float]]) -> None:
    """Keeps where in a picture the corners of its tray are, in pixels."""
    Picture.objects.filter(owner=owner, pk=pk).update(corners=corners)


def get_place(owner: User, kind: str, hatch: str = "") -> Place:
    """The owner's place of one kind, the hatch or bag of that name in it; the first time, all three are made."""
    if kind not in Place.Kind.values:
        raise ValidationError({"place": f"{kind} is not one of {', '.join(Place.Kind.values)}."})
    if not list_places(owner).exists():
        Place.objects.bulk_create(Place(owner=owner, name=name, kind=kind) for kind, name in FIRST_PLACES.items())
    if not hatch:
        return next(place for place in list_places(owner) if place.kind == kind)
    named = list_places(owner).filter(name=hatch).first()
    if named is not None and named.kind != kind:
        return next(place for place in list_places(owner) if place.kind == kind)  # the name of the place it comes from
    return named or Place.objects.create(owner=owner, name=hatch, kind=kind)
