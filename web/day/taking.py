"""Taps taken in, each once; and the turns that they make."""

import logging
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from django.core.exceptions import ValidationError

from tackle.day.log import HOOKED, LoggedTurn, Tap, Water, read_tap, turns_of
from tackle.errors import Refused
from web.accounts.models import User
from web.accounts.writing import one_change
from web.cards.reads import palette_of
from web.day import models
from web.day.reads import trip_of
from web.ui.logs import event
from web.waters.changes import add_readings
from web.waters.models import Reading

logger = logging.getLogger(__name__)
MOST_AT_ONCE, MOST_TAPS = 500, 5_000
CLOCK_OFF_MIN = 2.0  # from here on a phone's clock is wrong, and not just slow to send
HERE = "here"  # the device of what is typed or put right on a page


@one_change
def take_taps(owner: User, pk: int, entries: Sequence[Any], clock_off: float = 0.0) -> tuple[list[str], dict[str, str]]:
    """Takes taps in: which of them are here now, and of the others what is wrong with each. A tap that is here already
    is not taken twice. `clock_off`: how many minutes the phone's clock is behind. Raises ValidationError.
    """
    trip = trip_of(owner, pk)
    if len(entries) > MOST_AT_ONCE:
        raise ValidationError(f"At most {MOST_AT_ONCE} taps at once.")
    known = set(trip.taps.values_list("key", flat=True))
    if len(known) + len(entries) > MOST_TAPS:
        raise ValidationError(f"A trip keeps at most {MOST_TAPS:,} taps.")
    palette, shift = palette_of(owner), clock_off if abs(clock_off) >= CLOCK_OFF_MIN else 0.0
    taken, refused, new = [], {}, []
    for place, entry in enumerate(entries):
        try:
            tap = read_tap(entry, f"taps[{place}]")
            if "card" in tap.data:
                palette.card(tap.data["card"], f"taps[{place}].data.card", tap.data.get("category"))
        except Refused as wrong:
            refused[str(entry.get("id") if isinstance(entry, Mapping) else place)[:40]] = str(wrong)
            continue
        taken.append(tap.id)
        if tap.id not in known:
            known.add(tap.id)
            new.append(tap)
    models.Tap.objects.bulk_create(
        models.Tap(
            trip=trip, key=tap.id, device=tap.device, place=tap.place, angler=tap.angler, kind=tap.kind,
            at=tap.at + shift, data=tap.data,
        )
        for tap in new
    )  # fmt: skip
    if new:
        make_turns(trip)
        _measure(owner, trip, new)
    return taken, refused


@one_change
def say(owner: User, pk: int, kind: str, data: Mapping[str, Any], key: str) -> None:
    """A tap made on a page: a typed turn, a correction, or that something is dropped. Raises ValidationError."""
    trip = trip_of(owner, pk)
    place = trip.taps.filter(device=HERE).count()
    entry = {"id": key, "device": HERE, "place": place, "angler": 0, "kind": kind, "at": 0, "data": data}
    _, refused = take_taps(owner, pk, [entry])
    if refused:
        raise ValidationError(next(iter(refused.values())))


def make_turns(trip: models.Trip) -> None:
    """Writes the turns of a trip anew from its taps."""
    trip.turns.all().delete()
    models.Turn.objects.bulk_create(turn_row(trip, turn) for turn in turns_of(taps_of(trip)))


def taps_of(trip: models.Trip) -> list[Tap]:
    """The taps of a trip as the core reads them."""
    return [as_read(tap) for tap in trip.taps.all()]


def as_read(tap: models.Tap) -> Tap:
    """A stored tap as the core reads it."""
    return Tap(tap.key, tap.device, tap.place, tap.angler, tap.kind, tap.at, tap.data)


def turn_row(trip: models.Trip, turn: LoggedTurn) -> models.Turn:
    """A turn as it is stored."""
    water = {name: getattr(turn.water, name) for name in Water.__slots__}
    inches = water.pop("visibility_in")
    return models.Turn(
        trip=trip, key=turn.id, device=turn.device, angler=turn.angler, category=turn.category, card=turn.card,
        at=turn.at, minutes=turn.minutes, sizes=list(turn.sizes), visibility_in=inches,
        gone_lost=turn.gone.get("lost", 0), gone_torn=turn.gone.get("torn", 0),
        **{how: turn.bites.get(how, 0) for how in HOOKED}, **{name: value or "" for name, value in water.items()},
    )  # fmt: skip


def _measure(owner: User, trip: models.Trip, taps: Iterable[Tap]) -> None:
    """What was measured on the water goes into its readings, once."""
    readings = [
        Reading(
            date=trip.date, visibility_in=tap.data["visibility_in"], stain=tap.data.get("stain", ""),
            spot=tap.data.get("spot", ""), note="on the water",
        )
        for tap in taps
        if tap.kind == "water" and "visibility_in" in tap.data
    ]  # fmt: skip
    if readings:
        words = "A reading from the water." if len(readings) == 1 else f"{len(readings)} readings from the water."
        try:
            add_readings(owner, trip.water_id, readings, words)
        except ValidationError as error:  # a water that is full of readings must not keep the taps out
            logger.warning(event("readings-refused", why=error.messages[0]))
