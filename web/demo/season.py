"""A season of trips for the demo: simulated from a stated seed, so that there is something to learn from."""

from collections.abc import Mapping
from datetime import timedelta
from typing import Any

import numpy as np
from django.utils import timezone

from tackle.base.vocabulary import Light
from web.common.accounts.models import User
from web.domain.trips.models import Tap, Trip, Turn
from web.domain.trips.turns import as_read, turn_row, turns_of
from web.domain.waters.models import Water

LIGHTS = (Light.BRIGHT, Light.BROKEN, Light.OVERCAST)
START = 6 * 60


def load_season(owner: User, data: Mapping[str, Any]) -> None:
    """Trips back from today, each with turns of all the colours in an order of its own."""
    rng = np.random.default_rng(data["seed"])
    water = Water.objects.get(owner=owner, name=data["water"])
    usual = {row.month: row.usual_in for row in water.year.all()}
    today = timezone.localdate()
    days = [today - timedelta(days=data["every_days"] * (back + 1)) for back in range(data["trips"])]
    trips = [
        Trip(
            owner=owner, water=water, date=day, first_hour=START // 60, last_hour=START // 60 + data["hours"] - 1,
            categories=[data["category"]],
        )
        for day in days
    ]  # fmt: skip
    Trip.objects.bulk_create(trips)
    taps = {trip.pk: _taps(trip, data, usual[trip.date.month], rng) for trip in trips}
    Tap.objects.bulk_create([tap for listed in taps.values() for tap in listed], batch_size=500)
    turns = [turn_row(trip, turn) for trip in trips for turn in turns_of(trip, map(as_read, taps[trip.pk]))]
    Turn.objects.bulk_create(turns, batch_size=500)


def _taps(trip: Trip, given: Mapping[str, Any], usual_in: float, rng: np.random.Generator) -> list[Tap]:
    """The turns of one trip, as if typed in the evening."""
    rate = float(np.exp(rng.normal(np.log(given["rate"]), 0.7))) / 60
    colours, minutes = rng.permutation(list(given["effects"])), given["minutes"]
    ways, chances = list(given["hooked"]), list(given["hooked"].values())
    light, inches = LIGHTS[int(rng.integers(3))], round(usual_in * float(np.exp(rng.normal(0, 0.25))), 1)
    taps = []
    for index in range(given["hours"] * 60 // minutes):
        card = str(colours[index % len(colours)])
        bites = int(rng.poisson(minutes * rate * np.exp(given["effects"][card])))
        came = [str(how) for how in rng.choice(ways, bites, p=chances)]
        data = {
            "category": given["category"], "card": card, "start": START + index * minutes, "minutes": minutes,
            "visibility_in": inches, "light": light.value, "wind": "ripple",
            **{how: came.count(how) for how in ways if how in came},
        }  # fmt: skip
        key = f"season-{trip.date}-{index}"
        taps.append(Tap(trip=trip, key=key, device="paper", place=index, kind="turn", at=0, data=data))
    return taps
