"""Every change to a trip: checked, and written in one transaction."""

from collections.abc import Sequence
from datetime import date, timedelta
from typing import Any

from django.core.exceptions import ValidationError
from django.utils import timezone

from tackle.devices.forecast import Hour
from tackle.vocabulary import CATEGORIES, Light, ids
from web.accounts.models import User
from web.accounts.writing import one_change
from web.day.models import Trip
from web.day.reads import trip_of
from web.waters.models import Water
from web.waters.reads import waters_of

MOST_TRIPS, MOST_AHEAD_DAYS = 1_000, 400


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
    trip = trip_of(owner, pk)
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
    water = waters_of(owner).filter(pk=pk).first()
    if water is None:
        raise ValidationError({"water": "That is not one of your waters."})
    return water


def _check(trip: Trip) -> None:
    if trip.last_hour < trip.first_hour:
        raise ValidationError({"last_hour": "It ends before it begins."})
    if not trip.categories or not set(trip.categories) <= set(CATEGORIES):
        raise ValidationError({"categories": "Choose at least one kind of lure."})
    if trip.date > timezone.localdate() + timedelta(days=MOST_AHEAD_DAYS) or trip.date < date(2000, 1, 1):
        raise ValidationError({"date": "That is too far away."})
    if trip.visibility_in is not None and not 0 < trip.visibility_in <= 1_200:
        raise ValidationError({"visibility_in": "From above 0 to 100 ft."})
    trip.full_clean()


@one_change
def keep_forecast(owner: User, pk: int, hours: Sequence[Hour], rain_in: float | None) -> Trip:
    """Keeps what a forecast says of a trip's day; what the angler typed of the sky stays."""
    trip = trip_of(owner, pk)
    typed = {sky["hour"]: sky["light"] for sky in trip.skies if sky.get("typed")}
    trip.skies = [
        {
            "hour": hour.hour, "light": typed.get(hour.hour, hour.light.value), "typed": hour.hour in typed,
            "wind": hour.wind.value, "wind_mph": hour.wind_mph, "air_f": hour.air_f, "water_f": hour.water_f,
            "rain_in": hour.rain_in,
        }
        for hour in hours
    ]  # fmt: skip
    trip.rain_in, trip.forecast_at = rain_in, timezone.now()
    trip.save(update_fields=["skies", "rain_in", "forecast_at"])
    return trip


@one_change
def say_light(owner: User, pk: int, hour: int, light: str) -> Trip:
    """The angler's own word on the light of one hour. Raises ValidationError."""
    trip = trip_of(owner, pk)
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
    """Deletes a trip."""
    trip_of(owner, pk).delete()
