"""Every change to a water: checked, written in one transaction, and kept in the history for undo."""

from collections.abc import Collection, Mapping, Sequence
from datetime import date
from typing import Any

from django.core.exceptions import ValidationError
from django.shortcuts import get_object_or_404

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_number
from tackle.base.units import EXACT_IN, System, read_temperature_f, read_visibility_in
from tackle.base.vocabulary import Forage, Stain, ids
from tackle.records.posterior import HALF_LIFE_Y
from tackle.situations.clarity import MAX_VISIBILITY_IN
from tackle.situations.expected import expected_days
from tackle.situations.regions import Region, region_at
from tackle.situations.sky import SkyShares
from tackle.situations.starting import kinds
from tackle.situations.sun import HOURS
from tackle.situations.visibility import Spread
from tackle.situations.water import FOOD_WEIGHT
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.common.ui.words import label
from web.domain.history.kinds import MONTH, READING, SIGHTING, WATER, ChangeKind
from web.domain.history.models import Change
from web.domain.history.record import record
from web.domain.history.states import refuse_stale, states, steps
from web.domain.waters.models import BOTTOMS, Reading, SettledRecord, Sighting, Water, WaterMonth
from web.domain.waters.selectors import Taken, changes_so_far, core_water, get_water, latest_today, new_of, observed

AREA = Change.Area.WATER
MOST_WATERS, MOST_READINGS, BEYOND = 60, 20_000, 1e9
MOST_NAME = 80
MOST_SHAPES = 200  # of records whose settlement is remembered
EDGES = ("low", "usual", "high")
MONTH_NAMES = (
    "January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November",
    "December",
)  # fmt: skip
STORED = ("low_in", "usual_in", "high_in", "stain", "temp_f", "food", "days", "hours", "sky", "guess")


@one_change
def add_water(owner: User, *, region: Region | None = None, **values: Any) -> Water:
    """A new water, with the twelve months of its kind, as they are in a region, or else at its latitude.

    Raises ValidationError with the field.
    """
    if Water.objects.filter(owner=owner).count() >= MOST_WATERS:
        raise ValidationError(f"There are {MOST_WATERS} waters already, which is the most there may be.")
    if values.get("kind") not in kinds():
        raise ValidationError({"kind": f"A water is one of {', '.join(kinds())}."})
    if region:
        values = {"latitude": region.latitude, "dryness": region.dryness} | values
    water = Water(owner=owner, **values)
    kind = kinds()[water.kind]
    water.cover = water.cover or {cover.value: weight for cover, weight in kind.cover.items()}
    water.depth_ft = water.depth_ft or kind.depth_ft
    _check(water)
    water.save()
    there = region or region_at(water.latitude)
    WaterMonth.objects.bulk_create(_guess(water, number, there) for number in range(1, 13))
    return water


@one_change
def add_whole_water(
    owner: User,
    known: dict[str, Any],
    year: Mapping[int, Mapping[str, Any]],
    readings: Sequence[Reading],
    sightings: Sequence[Sighting] = (),
) -> Water:
    """A water with its months, readings and what was seen, as a file tells it; a name that is taken gets a number.

    Raises ValidationError, and InvalidInput where its days cannot be counted.
    """
    taken = set(Water.objects.filter(owner=owner).values_list("name", flat=True))
    stem = known["name"][:70]
    name = next(one for n in range(1, len(taken) + 2) if (one := stem if n == 1 else f"{stem} {n}") not in taken)
    water = add_water(owner, **{**known, "name": name})
    set_year(owner, water.pk, year, "The water came from a file.")
    if readings:
        add_readings(owner, water.pk, readings, "The readings came from a file.")
    if sightings:
        add_sightings(owner, water.pk, sightings)
    # What cannot be counted is refused now, rather than breaking every later look at it.
    expected_days([core_water(get_water(owner, water.pk))])
    return water


@one_change
def edit_water(owner: User, pk: int, words: str, shown: Mapping[str, Any] | None = None, **values: Any) -> Change:
    """Changes what a water is. Raises ValidationError with the field; Stale where it is not as it was shown."""
    water, before = get_water(owner, pk), states(WATER, [pk])
    refuse_stale(before[pk], shown, values)
    for field, value in values.items():
        setattr(water, field, value)
    _check(water)
    water.save(update_fields=list(values))
    return record(owner, AREA, words, steps(WATER, before, states(WATER, [pk])), pk)


def _check(water: Water) -> None:
    if not set(water.bottom) <= set(BOTTOMS):
        raise ValidationError({"bottom": f"A bottom is of {', '.join(BOTTOMS)}."})
    water.full_clean()


def _guess(water: Water, number: int, region: Region) -> WaterMonth:
    guess = kinds()[water.kind].month(number, region)
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


@one_change
def set_month(
    owner: User, pk: int, number: int, field: str, text: str, shown: Mapping[str, Any] | None = None
) -> Change:
    """Sets one thing of one month from what was typed or dragged. Raises ValidationError; Stale where that is not any
    more as it was `shown`.

    Fields: low, usual, high (a length), days, temp, stain, hours (words with spaces), sky (six numbers), and
    food:ID (main, some or empty).
    """
    water = get_water(owner, pk)
    month = next((m for m in water.year.all() if m.month == number), None)
    if month is None:
        raise ValidationError("There is no such month.")
    before = states(MONTH, [month.pk])
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
    month.clean_fields(exclude=["water"])
    was = before[month.pk]
    now = {name: getattr(month, name) for name in STORED if name != "guess"}
    refuse_stale(was, shown, {name: value for name, value in now.items() if value != was[name]})
    month.save(update_fields=STORED)
    name = field.removeprefix("food:").replace("-", " ")
    words = f"{MONTH_NAMES[number - 1]}: {name} is changed."
    return record(owner, AREA, words, steps(MONTH, before, states(MONTH, [month.pk])), water.pk)


@one_change
def set_year(owner: User, pk: int, months: Mapping[int, Mapping[str, Any]], words: str) -> Change:
    """Sets stored values of several months at once, by month and field. Raises ValidationError."""
    water = get_water(owner, pk)
    rows = [row for row in water.year.all() if row.month in months]
    before = states(MONTH, [row.pk for row in rows])
    for row in rows:
        row.guess = False
        for field, value in months[row.month].items():
            if field not in STORED:
                raise ValidationError(f"{field} is not known of a month.")
            setattr(row, field, value)
        try:
            Spread(row.low_in, row.usual_in, row.high_in)
        except ValueError as error:
            raise ValidationError(f"{MONTH_NAMES[row.month - 1]}: low, usual and high do not rise.") from error
        row.clean_fields(exclude=["water"])
    WaterMonth.objects.bulk_update(rows, STORED)
    return record(owner, AREA, words, steps(MONTH, before, states(MONTH, before)), water.pk)


def _set_edge(month: WaterMonth, field: str, text: str, units: System) -> None:
    """Moves one of the three, taking the others along where they would be overtaken."""
    try:
        inches = round(read_visibility_in(text, units, field), EXACT_IN)
    except InvalidInput as refused:
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
    value = read_number(text.strip() or "0", -BEYOND, BEYOND)
    if value is None:
        raise ValidationError(f"“{text[:20]}” is not a number.")
    if not low <= value <= high:
        raise ValidationError(f"{wrong}.")
    return round(value, 2)


def _temperature_f(text: str, units: System) -> float:
    try:
        value = read_temperature_f(text, units, "temp")
    except InvalidInput as refused:
        raise ValidationError(f"{refused.wrong}: write it like {refused.allowed}.") from refused
    return _number(f"{value:.4f}", 28, 110, "Water goes from 28 to 110 F (-2 to 43 C)")


def _sky(text: str) -> list[float] | None:
    """Six numbers: bright, broken, overcast, calm, ripple, chop; nothing gives the month back to its source."""
    if not text.strip():
        return None
    numbers = [_number(part, 0, 1000, "Shares go from 0") for part in text.replace(",", " ").split()[:7]]
    try:
        if len(numbers) != 6:
            raise InvalidInput("sky", f"{len(numbers)} numbers", "six: sun, broken, cloud; calm, ripple, chop")
        SkyShares.of((numbers[0], numbers[1], numbers[2]), (numbers[3], numbers[4], numbers[5]))
    except InvalidInput as refused:
        raise ValidationError(f"{refused}.") from refused
    return numbers


@one_change
def add_readings(owner: User, pk: int, readings: Sequence[Reading], words: str) -> Change:
    """Adds measured visibilities to a water. Raises ValidationError; all are added, or none."""
    water = get_water(owner, pk)
    if len(water.readings.all()) + len(readings) > MOST_READINGS:
        raise ValidationError(f"A water keeps at most {MOST_READINGS:,} readings.")
    for reading in readings:
        reading.water = water
        if not 0 < reading.visibility_in <= MAX_VISIBILITY_IN:
            raise ValidationError(f"Visibility goes from above 0 to {MAX_VISIBILITY_IN:g} in.")
        refuse_to_come(reading.date)
        reading.clean_fields(exclude=["water"])
    made = Reading.objects.bulk_create(readings, batch_size=500)
    return record(owner, AREA, words, steps(READING, {}, states(READING, [one.pk for one in made])), water.pk)


def refuse_to_come(day: date) -> None:
    """Raises ValidationError where it is not yet that day anywhere."""
    if day > latest_today():
        raise ValidationError(f"{day:%-d %B %Y} is still to come: nothing was seen on it yet.")


@one_change
def take_record(
    owner: User,
    pk: int,
    taken: Taken,
    name: str,
    tide: Mapping[str, Any] | None = None,
    shown: str = "",
) -> Change:
    """Takes a record in as one change: its readings that are not here already, the water's warmth by month, and how
    often each sky and surface was seen. Readings age from then on. `shown`: the changes so far as it was looked at.

    Raises ValidationError where nothing of it is new, or the water was changed since.
    """
    water = get_water(owner, pk)
    if shown and shown != changes_so_far(owner, pk):
        raise ValidationError("The water was changed elsewhere meanwhile: this is what the record makes of it now.")
    warmth, sky, new = taken.warmth, taken.sky, new_of(water, taken).readings
    if not new and not warmth and not sky and not tide:
        raise ValidationError("All of it is here already.")
    if len(water.readings.all()) + len(new) > MOST_READINGS:
        raise ValidationError(f"A water keeps at most {MOST_READINGS:,} readings.")
    for one in new:
        one.water = water
        one.clean_fields(exclude=["water"])
    made = Reading.objects.bulk_create(new, batch_size=500)
    rows = [row for row in water.year.all() if row.month in warmth]
    before = states(MONTH, [row.pk for row in rows])
    for row in rows:
        row.temp_f = warmth[row.month]
        row.clean_fields(exclude=["water"])
    WaterMonth.objects.bulk_update(rows, ["temp_f"])
    water_before = states(WATER, [pk])
    if new and water.half_life_y is None:
        water.half_life_y = HALF_LIFE_Y
    water.observations = observed(water, sky)
    water.tide = tide or water.tide
    water.save(update_fields=["observations", "half_life_y", "tide"])
    done = [
        *steps(WATER, water_before, states(WATER, [pk])),
        *steps(READING, {}, states(READING, [one.pk for one in made])),
        *steps(MONTH, before, states(MONTH, before)),
    ]
    data = [f"{len(new)} readings"] * bool(new) + [f"the warmth of {len(rows)} months"] * bool(rows)
    data += [f"the weather of {len(sky)} months"] * bool(sky) + ["its tide"] * bool(tide)
    return record(owner, AREA, f"From {name[:60]}: {' and '.join(data)}.", done, pk)


def remember_settled(owner: User, shape: str, settled: Mapping[str, str]) -> None:
    """Keeps what was settled of a record for those of the same shape; of too many the oldest go."""
    SettledRecord.objects.update_or_create(owner=owner, shape=shape, defaults={"settled": dict(settled)})
    kept = list(SettledRecord.objects.filter(owner=owner).order_by("-pk").values_list("pk", flat=True)[:MOST_SHAPES])
    SettledRecord.objects.filter(owner=owner).exclude(pk__in=kept).delete()


@one_change
def set_tide(owner: User, pk: int, tide: Mapping[str, Any]) -> Change:
    """The tide of a water: its constants, and the waves they make by year."""
    return edit_water(owner, pk, f"The tide has {len(tide['constants'])} constants.", tide=dict(tide))


@one_change
def set_half_life(owner: User, pk: int, text: str) -> Change:
    """After how many years a reading weighs half. Raises ValidationError."""
    years = read_number(text, 0.5, 100)
    if years is None:
        raise ValidationError(f"{text[:20]!r} is not a number of years: write 0.5 to 100.")
    return edit_water(owner, pk, f"Readings weigh half after {years:g} years.", half_life_y=years)


@one_change
def add_sightings(owner: User, pk: int, sightings: Sequence[Sighting]) -> Change:
    """Adds what was seen to be eaten on a water. Raises ValidationError."""
    water = get_water(owner, pk)
    if len(water.sightings.all()) + len(sightings) > MOST_READINGS:
        raise ValidationError(f"A water keeps at most {MOST_READINGS:,} sightings.")
    for sighting in sightings:
        sighting.water = water
        refuse_to_come(sighting.date)
        sighting.clean_fields(exclude=["water"])
    made = Sighting.objects.bulk_create(sightings)
    words = f"{label(made[0].food)} seen on {made[0].date:%-d %B}." if len(made) == 1 else f"{len(made)} sightings."
    return record(owner, AREA, words, steps(SIGHTING, {}, states(SIGHTING, [one.pk for one in made])), pk)


@one_change
def delete_sighting(owner: User, pk: int, sighting_pk: int) -> Change:
    """Takes out what was seen."""
    sighting = get_object_or_404(Sighting, water=get_water(owner, pk), pk=sighting_pk)
    before = states(SIGHTING, [sighting_pk])
    sighting.delete()
    return record(owner, AREA, "The sighting is taken out.", steps(SIGHTING, before, {}), pk)


@one_change
def take_back(owner: User, pk: int, taps: Collection[str]) -> None:
    """Takes out the readings of a water that some taps told, which were taken back."""
    _without(owner, pk, READING, taps, "A reading from the water is taken back.")


@one_change
def unsee(owner: User, pk: int, taps: Collection[str]) -> None:
    """Takes out what some taps told to be eaten, which were taken back."""
    _without(owner, pk, SIGHTING, taps, "What was seen on the water is taken back.")


def _without(owner: User, pk: int, kind: ChangeKind, taps: Collection[str], words: str) -> None:
    found = kind.model._default_manager.filter(water=get_water(owner, pk), tap__in=taps)
    keys = list(found.values_list("pk", flat=True))
    if keys:
        before = states(kind, keys)
        found.delete()
        record(owner, AREA, words, steps(kind, before, {}), pk)


@one_change
def correct_reading(owner: User, pk: int, reading_pk: int, visibility_in: float, why: str) -> Change:
    """Writes a reading as it ought to have been, and why."""
    reading = get_object_or_404(Reading, water=get_water(owner, pk), pk=reading_pk)
    before = states(READING, [reading_pk])
    reading.visibility_in = min(visibility_in, MAX_VISIBILITY_IN)
    reading.note = f"{reading.note}; {why}"[-200:] if reading.note else why
    reading.save()
    return record(owner, AREA, "The reading is put right.", steps(READING, before, states(READING, [reading_pk])), pk)


@one_change
def delete_reading(owner: User, pk: int, reading_pk: int) -> Change:
    water = get_water(owner, pk)
    reading = get_object_or_404(Reading, water=water, pk=reading_pk)
    before = states(READING, [reading_pk])
    reading.delete()
    return record(owner, AREA, "The reading is deleted.", steps(READING, before, {}), water.pk)


@one_change
def copy_water(owner: User, pk: int) -> Water:
    """A water like another, with its months but not its readings. Raises ValidationError."""
    if Water.objects.filter(owner=owner).count() >= MOST_WATERS:
        raise ValidationError(f"There are {MOST_WATERS} waters already, which is the most there may be.")
    water = get_water(owner, pk)
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


@one_change
def set_rare_days(owner: User, text: str) -> None:
    """Sets how rare a situation may be and still be planned for, in days a year. Raises ValidationError."""
    owner.rare_days = _number(text, 0, 30, "A threshold goes from 0 to 30 days a year")
    owner.save(update_fields=["rare_days"])


@one_change
def delete_water(owner: User, pk: int) -> str:
    """Deletes a water with all that is known of it; returns its name."""
    water = get_water(owner, pk)
    water.delete()
    return water.name
