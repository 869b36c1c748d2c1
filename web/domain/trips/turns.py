"""Stored taps as the core reads them, and its turns as they are stored."""

from tackle.day.log import HOOKED, LoggedTurn, Tap, WaterSeen
from web.domain.trips import models


def list_taps(trip: models.Trip) -> list[Tap]:
    """The taps of a trip as the core reads them."""
    return [as_read(tap) for tap in trip.taps.all()]


def as_read(tap: models.Tap) -> Tap:
    """A stored tap as the core reads it."""
    return Tap(tap.key, tap.device, tap.place, tap.angler, tap.kind, tap.at, tap.data, tap.time)


def turn_row(trip: models.Trip, turn: LoggedTurn) -> models.Turn:
    """A turn as it is stored."""
    water = {name: getattr(turn.water, name) for name in WaterSeen.__slots__}
    numbers = {name: water.pop(name) for name in ("visibility_in", "depth_ft")}
    return models.Turn(
        trip=trip, key=turn.id, device=turn.device, angler=turn.angler, category=turn.category, card=turn.card,
        trailer=turn.trailer or "", at=turn.at, minutes=turn.minutes, sizes=list(turn.sizes),
        gone_lost=turn.gone.get("lost", 0), gone_torn=turn.gone.get("torn", 0), **numbers,
        **{how: turn.bites.get(how, 0) for how in HOOKED}, **{name: value or "" for name, value in water.items()},
    )  # fmt: skip
