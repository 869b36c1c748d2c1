"""Every change to a water: checked, and written in one transaction."""

from typing import Any

from django.core.exceptions import ValidationError
from django.db import transaction

from tackle.situations.clarity import BANDS
from tackle.vocabulary import Forage, Light, ids
from web.accounts.models import User
from web.waters.models import ExpectedDays, Water
from web.waters.reads import water_of

DAYS_A_YEAR = 366.0


@transaction.atomic
def keep_water(owner: User, water: Water, **values: Any) -> Water:
    """Makes or changes a water. Raises ValidationError with the field."""
    for field, value in values.items():
        setattr(water, field, value)
    water.owner = owner
    for food in water.food:
        if food not in ids(Forage):
            raise ValidationError({"food": f"{food} is not a food we know."})
    water.full_clean()
    water.save()
    return water


def read_days(text: str) -> float:
    """A number of days as typed; nothing is none. Raises ValidationError."""
    try:
        days = float(text.strip().replace(",", ".") or 0)
    except ValueError:
        raise ValidationError(f"“{text}” is not a number of days.") from None
    if not 0 <= days <= DAYS_A_YEAR:
        raise ValidationError("Days go from 0 to 366.")
    return round(days, 2)


@transaction.atomic
def set_days(owner: User, pk: int, band: str, light: str, text: str) -> Water:
    """Sets how many days a year one cell of the board is expected. Raises ValidationError."""
    water = water_of(owner, pk)
    if band not in BANDS or light not in ids(Light):
        raise ValidationError("There is no such cell.")
    days = read_days(text)
    others = sum(cell.days for cell in water.expected.all() if (cell.band, cell.light) != (band, light))
    if others + days > DAYS_A_YEAR:
        raise ValidationError(f"A year has 366 days, and {others:g} are in other cells.")
    ExpectedDays.objects.update_or_create(water=water, band=band, light=light, defaults={"days": days})
    return water_of(owner, pk)


@transaction.atomic
def delete_water(owner: User, pk: int) -> str:
    """Deletes a water with its days; returns its name."""
    water = water_of(owner, pk)
    water.delete()
    return water.name
