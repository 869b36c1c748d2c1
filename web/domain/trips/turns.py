"""Stored taps as the core reads them, and its turns as they are stored."""

from collections.abc import Iterable
from typing import Any

from tackle.day.facts import Forecast, WaterSeen
from tackle.day.forecast import light_by_sun
from tackle.day.log import HOOKED, LoggedTurn, Tap, TurnPart, make_turns
from web.domain.trips import models
from web.domain.waters.tide import flows_on

__all__ = ["as_read", "forecast_of", "list_taps", "turn_row", "turns_of"]


def list_taps(trip: models.Trip) -> list[Tap]:
    """The taps of a trip as the core reads them."""
    return [as_read(tap) for tap in trip.taps.all()]


def as_read(tap: models.Tap) -> Tap:
    """A stored tap as the core reads it."""
    return Tap(tap.key, tap.device, tap.place, tap.angler, tap.kind, tap.at, tap.data, tap.time)


def turns_of(trip: models.Trip, taps: Iterable[Tap]) -> list[LoggedTurn]:
    """The turns that some taps make on a trip, under its sky."""
    return make_turns(taps, forecast_of(trip), trip.turn_minutes)


def forecast_of(trip: models.Trip) -> Forecast:
    """The sky of a trip as a forecast or the angler told it, else what the sun alone says; and its tide. What is only
    mostly so there is no word on that day."""
    told = {sky["hour"]: {"light": sky.get("light"), "wind": sky.get("wind")} for sky in trip.skies}
    water = trip.water
    by_sun = {
        hour: {"light": light_by_sun(*water.solar_place, trip.day_of(hour), hour % 24), "wind": None}
        for hour in trip.hours
        if hour not in told
    }
    tide = {hour: flow.value for hour, flow in flows_on(water, trip.date, trip.hours).items()}
    return Forecast({**by_sun, **told}, tide)


def turn_row(trip: models.Trip, turn: LoggedTurn) -> models.Turn:
    """A turn as it is stored."""
    water = {name: getattr(turn.water, name) for name in WaterSeen.__slots__}
    numbers = {name: water.pop(name) for name in ("visibility_in", "depth_ft")}
    return models.Turn(
        trip=trip, key=turn.id, device=turn.device, angler=turn.angler, category=turn.category, card=turn.card,
        trailer=turn.trailer or "", at=turn.at, minutes=turn.minutes, sizes=list(turn.sizes),
        gone_lost=turn.gone.get("lost", 0), gone_torn=turn.gone.get("torn", 0), **numbers,
        **{how: turn.bites.get(how, 0) for how in HOOKED}, **{name: value or "" for name, value in water.items()},
        parts=[_part(part) for part in turn.parts],
    )  # fmt: skip


def _part(part: TurnPart) -> dict[str, Any]:
    water = {name: getattr(part.water, name) for name in WaterSeen.__slots__}
    told = {name: value for name, value in water.items() if value is not None}
    return {"at": part.at, "minutes": part.minutes, "bites": dict(part.bites), "water": told}
