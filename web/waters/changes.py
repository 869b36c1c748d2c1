"""Every change to a water: checked, written in one transaction, and kept in the history for undo."""

import math
from collections.abc import Mapping, Sequence
from typing import Any

from django.core.exceptions import ValidationError
from django.db import transaction

from tackle.errors import Refused
from tackle.situations.clarity import MAX_VISIBILITY_IN
from tackle.situations.sky import SkyShares
from tackle.situations.starting import kinds
from tackle.situations.sun import HOURS
from tackle.situations.visibility import Spread
from tackle.situations.water import FOOD_WEIGHT
from tackle.units import System, read_length_in, read_temperature_f
from tackle.vocabulary import Forage, Stain, ids
from web.accounts.models import User
from web.waters.models import BOTTOMS, Reading, Water, WaterChange, WaterMonth
from web.waters.reads import change_of, water_of

EDGES = ("low", "usual", "high")
MONTH_NAMES = (
    "January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November",
    "December",
)  # fmt: skip
_STORED = ("low_in", "usual_in", "high_in", "stain", "temp_f", "food", "days", "hours", "sky", "guess")


@transaction.atomic
def keep_water(owner: User, water: Water, **values: Any) -> Water:
    """Makes or changes a water; a new one gets the twelve months of its kind. Raises ValidationError with the field."""
    new = water.pk is None
    for field, value in values.items():
        setattr(water, field, value)
    water.owner = owner
    if new:
        kind = kinds()[water.kind]
        water.cover = water.cover or {cover.value: weight for cover, weight in kind.cover.items()}
        water.depth_ft = water.depth_ft or kind.depth_ft
    if not set(water.bottom) <= set(BOTTOMS):
        raise ValidationError({"bottom": f"A bottom is of {', '.join(BOTTOMS)}."})
    water.full_clean()
    water.save()
    if new:
        WaterMonth.objects.bulk_create(_guess(water, number) for number in range(1, 13))
    return water


@transaction.atomic
def edit_water(owner: User, pk: int, words: str, **values: Any) -> WaterChange:
    """Changes what a water is. Raises ValidationError with the field."""
    water = water_of(owner, pk)
    before = {field: getattr(water, field) for field, value in values.items() if getattr(water, field) != value}
    keep_water(owner, water, **values)
    return WaterChange.objects.create(water=water, words=words, fields=before)


def _guess(water: Water, number: int) -> WaterMonth:
    guess = kinds()[water.kind].month(number, water.latitude)
    return WaterMonth(
        water=water,
        month=number,
        low_in=guess.spread.low_in,
        usual_in=guess.spread.usual_in,
        high_in=guess.spread.high_in,
        stain=guess.stain.value,
        temp_f=guess.temp_f,
        food={food.value: amount for food, amount in guess.food.items()},
        days=guess.days,
        hours=list(guess.hours),
    )


@transaction.atomic
def set_month(owner: User, pk: int, number: int, field: str, text: str) -> WaterChange:
    """Sets one thing of one month from what was typed or dragged. Raises ValidationError.

    Fields: low, usual, high (a length), days, temp, stain, hours (words with spaces), sky (six numbers), and
    food:ID (main, some or empty).
    """
    water = water_of(owner, pk)
    month = next((m for m in water.year.all() if m.month == number), None)
    if month is None:
        raise ValidationError("There is no such month.")
    before = [_snapshot(month)]
    if field in EDGES:
        _set_edge(month, field, text, owner.units)
    elif field == "days":
        month.days = _number(text, 0, 31, "Days a month go from 0 to 31")
    elif field == "temp":
        month.temp_f = _temperature_f(text, owner.units)
    elif field == "stain" and text in ids(Stain):
        month.stain = text
    elif field == "hours" and set(text.split()) <= set(HOURS):
        month.hours = [hour for hour in HOURS if hour in text.split()]
    elif field == "sky":
        month.sky = _sky(text)
    elif field.startswith("food:") and field[5:] in ids(Forage):
        month.food = {food: amount for food, amount in month.food.items() if food != field[5:]}
        if text in FOOD_WEIGHT:
            month.food[field[5:]] = text
    else:
        raise ValidationError(f"{field} cannot be set to {text!r}.")
    month.guess = False
    month.full_clean()
    month.save()
    name = field.removeprefix("food:").replace("-", " ")
    return WaterChange.objects.create(
        water=water, words=f"{MONTH_NAMES[number - 1]}: {name} is changed.", months=before
    )


@transaction.atomic
def set_year(owner: User, pk: int, months: Mapping[int, Mapping[str, Any]], words: str) -> WaterChange:
    """Sets stored values of several months at once, by month and field. Raises ValidationError, or ValueError."""
    water = water_of(owner, pk)
    rows = [row for row in water.year.all() if row.month in months]
    before = [_snapshot(row) for row in rows]
    for row in rows:
        row.guess = False
        for field, value in months[row.month].items():
            if field not in _STORED:
                raise ValidationError(f"{field} is not known of a month.")
            setattr(row, field, value)
        Spread(row.low_in, row.usual_in, row.high_in)
        row.full_clean()
    WaterMonth.objects.bulk_update(rows, _STORED)
    return WaterChange.objects.create(water=water, words=words, months=before)


def _set_edge(month: WaterMonth, field: str, text: str, units: System) -> None:
    """Moves one of the three, taking the others along where they would be overtaken."""
    try:
        inches = round(read_length_in(text, units, field), 2)
    except Refused as refused:
        raise ValidationError(f"{refused.wrong}: write it like {refused.allowed}.") from refused
    if not 1 <= inches <= MAX_VISIBILITY_IN:
        raise ValidationError(f"Visibility goes from 1 to {MAX_VISIBILITY_IN:g} in.")
    place = EDGES.index(field)
    three = [month.low_in, month.usual_in, month.high_in]
    three[place] = inches
    three = [min(v, inches) if i < place else max(v, inches) if i > place else v for i, v in enumerate(three)]
    month.low_in, month.usual_in, month.high_in = three
    Spread(*three)


def _number(text: str, low: float, high: float, wrong: str) -> float:
    try:
        value = float(text.strip().replace(",", ".") or 0)
    except ValueError:
        raise ValidationError(f"“{text}” is not a number.") from None
    if not math.isfinite(value) or not low <= value <= high:
        raise ValidationError(f"{wrong}.")
    return round(value, 2)


def _temperature_f(text: str, units: System) -> float:
    try:
        value = read_temperature_f(text, units, "temp")
    except Refused as refused:
        raise ValidationError(f"{refused.wrong}: write it like {refused.allowed}.") from refused
    return _number(str(value), 28, 110, "Water goes from 28 to 110 F (-2 to 43 C)")


def _sky(text: str) -> list[float] | None:
    """Six numbers: bright, broken, overcast, calm, ripple, chop; nothing gives the month back to its source."""
    if not text.strip():
        return None
    numbers = [_number(part, 0, 1000, "Shares go from 0") for part in text.replace(",", " ").split()]
    try:
        if len(numbers) != 6:
            raise Refused("sky", f"{len(numbers)} numbers", "six: sun, broken, cloud; calm, ripple, chop")
        SkyShares.of((numbers[0], numbers[1], numbers[2]), (numbers[3], numbers[4], numbers[5]))
    except Refused as refused:
        raise ValidationError(f"{refused}.") from refused
    return numbers


@transaction.atomic
def add_readings(owner: User, pk: int, readings: Sequence[Reading], words: str) -> WaterChange:
    """Adds measured visibilities to a water. Raises ValidationError; all are added, or none."""
    water = water_of(owner, pk)
    for reading in readings:
        reading.water = water
        if not 0 < reading.visibility_in <= MAX_VISIBILITY_IN:
            raise ValidationError(f"Visibility goes from above 0 to {MAX_VISIBILITY_IN:g} in.")
        reading.full_clean()
    for reading in readings:
        reading.save()
    return WaterChange.objects.create(water=water, words=words, readings=[reading.pk for reading in readings])


@transaction.atomic
def delete_reading(owner: User, pk: int, reading_pk: int) -> WaterChange:
    water = water_of(owner, pk)
    readings = Reading.objects.filter(water=water, pk=reading_pk)
    gone = list(readings.values("date", "visibility_in", "stain", "spot", "note", "source"))
    readings.delete()
    return WaterChange.objects.create(water=water, words="The reading is deleted.", gone=gone)


@transaction.atomic
def undo(owner: User, pk: int) -> WaterChange:
    """Takes one change back. Raises ValidationError where the water can no longer be what it was."""
    change = change_of(owner, pk)
    if change.fields:
        keep_water(owner, water_of(owner, change.water_id), **change.fields)
    Reading.objects.bulk_create(Reading(water=change.water, **reading) for reading in change.gone)
    for stored in change.months:
        values = {field: stored[field] for field in _STORED}
        WaterMonth.objects.filter(water=change.water_id, month=stored["month"]).update(**values)
    Reading.objects.filter(water=change.water_id, pk__in=change.readings).delete()
    change.undone = True
    change.save(update_fields=["undone"])
    return change


def _snapshot(month: WaterMonth) -> dict[str, Any]:
    return {"month": month.month, **{field: getattr(month, field) for field in _STORED}}


@transaction.atomic
def copy_water(owner: User, pk: int) -> Water:
    """A water like another, with its months but not its readings."""
    water = water_of(owner, pk)
    months = list(water.year.all())
    taken = set(Water.objects.filter(owner=owner).values_list("name", flat=True))
    stem = water.name[:70]
    name = next(one for n in range(2, len(taken) + 3) if (one := f"{stem} {n}") not in taken)
    water.pk, water.name = None, name
    water._state.adding = True
    water.save()
    for month in months:
        month.pk, month.water = None, water
        month._state.adding = True
    WaterMonth.objects.bulk_create(months)
    return water


@transaction.atomic
def set_rare_days(owner: User, text: str) -> None:
    """Sets how rare a situation may be and still be planned for, in days a year. Raises ValidationError."""
    owner.rare_days = _number(text, 0, 30, "A threshold goes from 0 to 30 days a year")
    owner.save(update_fields=["rare_days"])


@transaction.atomic
def delete_water(owner: User, pk: int) -> str:
    """Deletes a water with all that is known of it; returns its name."""
    water = water_of(owner, pk)
    water.delete()
    return water.name
