"""Every change to a trip and to what was tapped on it: checked, and written in one transaction. A tap is taken once."""

import logging
from collections.abc import Container, Mapping, Sequence
from contextlib import suppress
from datetime import date, timedelta
from typing import Any

from django.core.exceptions import ValidationError
from django.http import Http404
from django.shortcuts import get_object_or_404
from django.utils import timezone

from tackle.base.days import read_day
from tackle.base.errors import InvalidInput
from tackle.base.vocabulary import CATEGORIES, Forage, Light, ids
from tackle.day.log import Tap, dropped_in, read_tap
from tackle.devices.forecast import ForecastHour
from tackle.situations.kinds_by_month import to_throw_now
from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.common.ui.logs import event
from web.domain.colours.selectors import get_palette
from web.domain.crate.services import take_out
from web.domain.history.models import Change
from web.domain.history.record import undo
from web.domain.plans.selectors import get_basis, in_season
from web.domain.trips import models
from web.domain.trips.models import MOST_HOURS, NUMBERS, Trip, Turn
from web.domain.trips.packed import as_kept
from web.domain.trips.selectors import count_missing, get_evening, get_trip, list_trips, newly_gone, taken_away
from web.domain.trips.turns import list_taps, turn_row, turns_of
from web.domain.waters.models import Reading, Sighting, Water
from web.domain.waters.selectors import list_waters, seen_on, told_by
from web.domain.waters.services import add_readings, add_sightings, refuse_to_come, take_back, unsee

logger = logging.getLogger(__name__)
MOST_TRIPS, MOST_AHEAD_DAYS = 1_000, 400
MOST_AT_ONCE, MOST_TAPS = 500, 5_000
CLOCK_OFF_MIN = 2.0  # from here on a phone's clock is wrong, and not just slow to send
MOST_BY_HAND = 20  # lures settled by hand, each way
KEPT_DAYS = 30  # that a trip taken away can be brought back
HERE_HOURS, MOST_HERE = 6, 6  # hours and kinds of a trip that was not planned
HERE = "here"  # the device of what is typed or put right on a page


@one_change
def plan_trip(owner: User, water_pk: int, **values: Any) -> Trip:
    """A new trip. Raises ValidationError with the field."""
    if Trip.objects.filter(owner=owner).count() >= MOST_TRIPS:
        raise ValidationError(f"There are {MOST_TRIPS:,} trips already: delete old ones first.")
    trip = Trip(owner=owner, water=_water(owner, water_pk), **values)
    _check(trip)
    trip.save()
    return trip


@one_change
def change_trip(owner: User, pk: int, water_pk: int, seen: str, **values: Any) -> Trip:
    """Changes what a trip is, as it was `seen`. Another day or water has another sky. Raises ValidationError with the
    field, and where the trip was changed since."""
    trip = get_trip(owner, pk)
    if seen and seen != trip.stamp:
        raise ValidationError("The trip was changed elsewhere since this page was opened: open it again to see how.")
    if (values["date"], water_pk) != (trip.date, trip.water_id):
        trip.skies, trip.rain_in, trip.forecast_at = [], None, None
    trip.water = _water(owner, water_pk)
    for field, value in values.items():
        setattr(trip, field, value)
    _check(trip)
    trip.save()
    return trip


def _water(owner: User, pk: int) -> Water:
    water = list_waters(owner).filter(pk=pk).first()
    if water is None:
        raise ValidationError({"water": "That is not one of your waters."})
    return water


def _check(trip: Trip) -> None:
    if trip.last_hour < trip.first_hour:
        raise ValidationError({"last_hour": "It ends before it begins."})
    if trip.last_hour > MOST_HOURS:
        raise ValidationError({"last_hour": f"A trip lasts {MOST_HOURS // 24} days at most."})
    if not trip.categories or not set(trip.categories) <= set(CATEGORIES):
        raise ValidationError({"categories": "Choose at least one category."})
    if trip.date > timezone.localdate() + timedelta(days=MOST_AHEAD_DAYS) or trip.date < date(2000, 1, 1):
        raise ValidationError({"date": "That is too far away."})
    if trip.visibility_in is not None and not 0 < trip.visibility_in <= 1_200:
        raise ValidationError({"visibility_in": "From above 0 to 100 ft."})
    trip.full_clean()


@one_change
def pack(owner: User, pk: int) -> Trip:
    """Keeps the tray of a trip as it is known now."""
    trip = get_trip(owner, pk)
    trip.packed = as_kept(get_evening(owner, trip).now)
    trip.save(update_fields=["packed"])
    return trip


@one_change
def settle_tray(owner: User, pk: int, what: str, category: str, card: str) -> Trip:
    """A lure goes in whatever it costs ("lock"), stays out ("out"), or is left to what serves best ("free"). What was
    packed follows. Raises ValidationError."""
    trip = get_trip(owner, pk)
    get_palette(owner).card(card, "card", category)
    one = [category, card]
    if what not in ("lock", "out", "free"):
        raise ValidationError(f"{what} cannot be done with a lure.")
    settled = {name: [each for each in trip.by_hand.get(name, []) if each != one] for name in ("lock", "out")}
    if what != "free":
        settled[what] = [*settled[what], one][-MOST_BY_HAND:]
    trip.by_hand = settled
    trip.save(update_fields=["by_hand"])
    return pack(owner, pk) if trip.packed else trip


@one_change
def keep_forecast(owner: User, pk: int, hours: Sequence[ForecastHour], rain_in: float | None) -> Trip:
    """Keeps what a forecast says of a trip's day; what the angler typed of the sky stays."""
    trip = get_trip(owner, pk)
    typed = {sky["hour"]: sky["light"] for sky in trip.skies if sky.get("typed")}
    trip.skies = [
        {
            "hour": hour.hour, "light": typed.get(hour.hour, hour.light.value), "typed": hour.hour in typed,
            "wind": hour.wind.value, **{name: getattr(hour, name) for name in NUMBERS},
        }
        for hour in hours
    ]  # fmt: skip
    trip.rain_in, trip.forecast_at = rain_in, timezone.now()
    trip.save(update_fields=["skies", "rain_in", "forecast_at"])
    return trip


@one_change
def say_light(owner: User, pk: int, hour: int, light: str) -> Trip:
    """The angler's own word on the light of one hour. Raises ValidationError."""
    trip = get_trip(owner, pk)
    if light not in ids(Light) or hour not in trip.hours:
        raise ValidationError("There is no such hour, or no such light.")
    known = next((sky for sky in trip.skies if sky["hour"] == hour), None)
    if known is None:
        trip.skies.append({"hour": hour, "light": light, "typed": True})
    else:
        known |= {"light": light, "typed": True}
    trip.save(update_fields=["skies"])
    return trip


@one_change
def delete_trip(owner: User, pk: int) -> None:
    """Takes a trip away; it can be brought back for a month. Two at one moment have two keys."""
    now = timezone.now()
    Trip.objects.filter(owner=owner, deleted_at__lt=now - timedelta(days=KEPT_DAYS)).delete()
    get_trip(owner, pk)
    Trip.objects.filter(pk=pk).update(deleted_at=now)


@one_change
def bring_back(owner: User, pk: int) -> None:
    """A trip that was taken away is there again, with its log."""
    get_object_or_404(taken_away(owner), pk=pk)
    Trip.objects.filter(pk=pk).update(deleted_at=None)


@one_change
def postpone(owner: User, pk: int, days: int = 1) -> Trip:
    """The same trip so many days later, under another sky. Raises ValidationError where it has begun."""
    trip = get_trip(owner, pk)
    if trip.taps.exists():
        raise ValidationError("It has begun: what was tapped is of its day. Plan another trip.")
    trip.date += timedelta(days=days)
    trip.skies, trip.rain_in, trip.forecast_at, trip.packed = [], None, None, None
    _check(trip)
    trip.save()
    return trip


@one_change
def begin_here(owner: User, water_pk: int) -> Trip:
    """The trip that goes on there now; else one that begins, with what the plan throws there in this month. Raises
    ValidationError."""
    water = _water(owner, water_pk)
    now = timezone.now().astimezone(water.zone)
    near = list_trips(owner).filter(water_id=water.pk, date__gte=now.date() - timedelta(days=MOST_HOURS // 24 + 1))
    if on := next((trip for trip in near if trip.begins <= now < trip.ends), None):
        return on
    basis = get_basis(owner)
    thrown = to_throw_now(in_season(basis, now.month), basis.categories, basis.core[water.pk], MOST_HERE)
    last = now.hour + HERE_HOURS - 1
    return plan_trip(owner, water.pk, date=now.date(), first_hour=now.hour, last_hour=last, categories=thrown)


@one_change
def take_taps(owner: User, pk: int, entries: Sequence[Any], clock_off: float = 0.0) -> tuple[list[str], dict[str, str]]:
    """Takes taps in: which of them are here now, and of the others what is wrong with each. A tap that is here already
    is not taken twice. `clock_off`: how many minutes the phone's clock is behind. Raises ValidationError.
    """
    trip = get_trip(owner, pk)
    if len(entries) > MOST_AT_ONCE:
        raise ValidationError(f"At most {MOST_AT_ONCE} taps at once.")
    known = set(trip.taps.values_list("key", flat=True))
    if len(known) + len(entries) > MOST_TAPS:
        raise ValidationError(f"A trip keeps at most {MOST_TAPS:,} taps.")
    palette, shift = get_palette(owner), clock_off if abs(clock_off) >= CLOCK_OFF_MIN else 0.0
    taken, refused, new = [], {}, []
    for index, entry in enumerate(entries):
        try:
            tap = read_tap(entry, f"taps[{index}]")
            if "card" in tap.data:
                palette.card(tap.data["card"], f"taps[{index}].data.card", tap.data.get("category"))
        except InvalidInput as wrong:
            refused[str(entry.get("id") if isinstance(entry, Mapping) else index)[:40]] = str(wrong)
            continue
        taken.append(tap.id)
        if tap.id not in known:
            known.add(tap.id)
            new.append(tap)
    if new and trip.packed is None and trip.date >= timezone.localdate() - timedelta(days=1):
        trip = pack(owner, trip.pk)  # what is fished with is what was packed
    models.Tap.objects.bulk_create(
        models.Tap(
            trip=trip, key=tap.id, device=tap.device, place=tap.place, angler=tap.angler, kind=tap.kind,
            at=tap.at + shift, data=tap.data, time=None if tap.time is None else tap.time + shift * 60_000,
        )
        for tap in new
    )  # fmt: skip
    if new:
        _make_turns(trip)
        _measure(owner, trip, new)
    return taken, refused


@one_change
def say(owner: User, pk: int, kind: str, data: Mapping[str, Any], key: str) -> None:
    """A tap made on a page: a typed turn, a correction, or that something is dropped. Raises ValidationError."""
    trip = get_trip(owner, pk)
    if kind != "drop":
        refuse_to_come(trip.date)
    place = trip.taps.filter(device=HERE).count()
    entry = {"id": key, "device": HERE, "place": place, "angler": 0, "kind": kind, "at": 0, "data": data}
    _, refused = take_taps(owner, pk, [entry])
    if refused:
        raise ValidationError(next(iter(refused.values())))


def _make_turns(trip: Trip) -> None:
    """Writes the turns of a trip anew from its taps."""
    trip.turns.all().delete()
    Turn.objects.bulk_create(turn_row(trip, turn) for turn in turns_of(trip, list_taps(trip)))


def _measure(owner: User, trip: Trip, taps: Sequence[Tap]) -> None:
    """What was measured on the water goes into its readings, once, and out of them where it is taken back."""
    every = {tap.id: tap for tap in list_taps(trip)}
    dropped, asked = dropped_in(every.values()), [tap.id for tap in taps]
    for tap in taps:  # what a new drop takes back, and what a drop that is dropped gives again
        of: Tap | None = tap
        while of is not None and of.kind == "drop":
            of = every.get(str(of.data["of"]))
            asked += [of.id] if of else []
    waters = [every[pk] for pk in dict.fromkeys(asked) if every[pk].kind == "water"]
    _see(owner, trip, [tap for tap in waters if tap.data.get("food", Forage.UNKNOWN) != Forage.UNKNOWN], dropped)
    data = [tap for tap in waters if "visibility_in" in tap.data]
    take_back(owner, trip.water_id, [tap.id for tap in data if tap.id in dropped])
    kept = told_by(owner, trip.water_id, [tap.id for tap in data])

    readings = [
        Reading(
            date=trip.date + timedelta(days=int(tap.at // 1440)), visibility_in=tap.data["visibility_in"],
            stain=tap.data.get("stain", ""), spot=tap.data.get("spot", ""), note="on the water", tap=tap.id,
        )
        for tap in data
        if tap.id not in dropped and tap.id not in kept
    ]  # fmt: skip
    if readings:
        words = "A reading from the water." if len(readings) == 1 else f"{len(readings)} readings from the water."
        try:
            add_readings(owner, trip.water_id, readings, words)
        except ValidationError as error:  # a water that is full of readings must not keep the taps out
            logger.warning(event("readings-refused", why=error.messages[0]))


def _see(owner: User, trip: Trip, taps: Sequence[Tap], dropped: Container[str]) -> None:
    """What was told to be eaten is kept with the water, once a trip and food, and taken out where it is taken back."""
    unsee(owner, trip.water_id, [tap.id for tap in taps if tap.id in dropped])
    there = seen_on(owner, trip.water_id)
    new: dict[tuple[date, str], Sighting] = {}
    for tap in taps:
        day = trip.date + timedelta(days=int(tap.at // 1440))
        if tap.id not in dropped and (day, tap.data["food"]) not in there:
            spot = tap.data.get("spot", "")
            new[day, tap.data["food"]] = Sighting(date=day, food=tap.data["food"], spot=spot, tap=tap.id)
    if new:
        add_sightings(owner, trip.water_id, list(new.values()))


@one_change
def move_taps(owner: User, pk: int, device: str, to: int) -> None:
    """What one phone tapped on a trip belongs to another: by its time where that is told, else as it stands."""
    trip, other = get_trip(owner, pk), get_trip(owner, to)
    days = (trip.date - other.date).days
    here = set(other.taps.values_list("key", flat=True))
    for tap in trip.taps.filter(device=device):
        if tap.key not in here:
            models.Tap.objects.filter(pk=tap.pk).update(trip=other, at=tap.at + days * 1440)
    _make_turns(trip)
    _make_turns(other)


@one_change
def count_gone(owner: User, pk: int) -> Change:
    """What was lost and torn leaves the crate's counts, once. Raises ValidationError where there is nothing."""
    trip = get_trip(owner, pk)
    return _counted(owner, trip, count_missing(trip))


@one_change
def settle_gone(owner: User, pk: int) -> None:
    """What was lost and torn leaves the crate's counts as soon as it is told, and comes back where that is taken back.
    What the crate has none of, or its history has undone, waits for a press."""
    trip = get_trip(owner, pk)
    new = newly_gone(trip)
    if any(count < 0 for count in new.values()):
        kept = []
        for one in trip.counted:
            try:
                undo(owner, Change.Area.CRATE, one["change"])
            except (Http404, ValidationError):  # undone already, or the crate went on since
                kept.append(one)
        trip.counted = kept
        trip.save(update_fields=["counted"])
        new = newly_gone(trip)
    if gone := {where: count for where, count in new.items() if count > 0}:
        with suppress(ValidationError):
            _counted(owner, trip, gone)


def _counted(owner: User, trip: Trip, gone: dict[str, int]) -> Change:
    thrown = [(where.split(" ", 1), count) for where, count in gone.items()]
    change = take_out(owner, [(category, card, count) for (category, card), count in thrown])
    trip.counted = [*trip.counted, {"change": change.pk, "what": gone}]
    trip.save(update_fields=["counted"])
    return change


@one_change
def take_log_in(owner: User, trips: Sequence[tuple[Mapping[str, Any], Mapping[str, Any]]]) -> int:
    """Takes trips in, all or nothing, each with what it is made with where it is new; how many taps are new. Raises
    ValidationError."""
    waters = {water.name: water.pk for water in list_waters(owner)}
    new = 0
    for data, planned in trips:
        name, day = str(data.get("water"))[:80], data.get("date")
        if name not in waters:
            raise ValidationError(f"“{name}” is not one of your waters: make it first.")
        try:
            when = read_day(day)
        except InvalidInput as no_day:
            raise ValidationError(f"{no_day.wrong}: {no_day.allowed}.") from no_day
        if data["taps"]:
            refuse_to_come(when)
        trip = _trip_told(owner, data.get("key"), when, waters[name], planned)
        every = [tap for tap in data["taps"] if isinstance(tap, dict)]
        here = _logged_keys(owner, [str(tap.get("id")) for tap in every])
        taps = [tap for tap in data["taps"] if not isinstance(tap, dict) or str(tap.get("id")) not in here]
        for start in range(0, len(taps), MOST_AT_ONCE):
            taken, refused = take_taps(owner, trip.pk, taps[start : start + MOST_AT_ONCE])
            if refused:
                raise ValidationError(f"{day}, {name}: {next(iter(refused.values()))}")
            new += len(taken)
    return new


def _trip_told(owner: User, key: Any, day: date, water_pk: int, planned: Mapping[str, Any]) -> Trip:
    """The trip that a file tells of: by its key, where it was taken away too; by its day, where the file tells none."""
    if isinstance(key, str) and (known := Trip.objects.filter(owner=owner, key=key).first()):
        if known.deleted_at:
            bring_back(owner, known.pk)
        return get_trip(owner, known.pk)
    same_day = list_trips(owner).filter(date=day, water_id=water_pk)
    found = same_day.first() if key is None else None
    return found or plan_trip(owner, water_pk, date=day, **planned)


def _logged_keys(owner: User, keys: Sequence[str]) -> set[str]:
    """Which taps, or turns, are in the owner's log already, on whatever trip."""
    taps = models.Tap.objects.filter(trip__owner=owner, key__in=keys).values_list("key", flat=True)
    turns = Turn.objects.filter(trip__owner=owner, key__in=keys).values_list("key", flat=True)
    return {*taps, *turns}
