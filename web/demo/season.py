"""A season of trips for the demo: simulated from a stated seed, so that there is something to learn from."""

from collections.abc import Mapping
from datetime import timedelta
from typing import Any

import numpy as np
from django.utils import timezone

from tackle.base.vocabulary import Light
from tackle.day.log import make_turns
from web.common.accounts.models import User
from web.domain.trips.models import Tap, Trip, Turn
from web.domain.trips.turns import as_read, turn_row
from web.domain.waters.models import Water

LIGHTS = (Light.BRIGHT, Light.BROKEN, Light.OVERCAST)
START = 6 * 60


def load_season(owner: User, told: Mapping[str, Any]) -> None:
    """Trips back from today, each with turns of all the colours in an order of its own."""
    rng = np.random.default_rng(told["seed"])
    water = Water.objects.get(owner=owner, name=told["water"])
    usual = {row.month: row.usual_in for row in water.year.all()}
    today = timezone.localdate()
    days = [today - timedelta(days=told["every_days"] * (back + 1)) for back in range(told["trips"])]
    trips = [
        Trip(
            owner=owner, water=water, date=day, first_hour=START // 60, last_hour=START // 60 + told["hours"] - 1,
            categories=[told["category"]],
        )
        for day in days
    ]  # fmt: skip
    Trip.objects.bulk_create(trips)
    taps = {trip.pk: _taps(trip, told, usual[trip.date.month], rng) for trip in trips}
    Tap.objects.bulk_create([tap for listed in taps.values() for tap in listed], batch_size=500)
    turns = [turn_row(trip, turn) for trip in trips for turn in make_turns(map(as_read, taps[trip.pk]))]
    Turn.objects.bulk_create(turns, batch_size=500)


def _taps(trip: Trip, told: Mapping[str, Any], usual_in: float, rng: np.random.Generator) -> list[Tap]:
    """The turns of one trip, as if typed in the evening."""
    rate = float(np.exp(rng.normal(np.log(told["rate"]), 0.7))) / 60
    colours, minutes = rng.permutation(list(told["effects"])), told["minutes"]
    ways, chances = list(told["hooked"]), list(told["hooked"].values())
    light, inches = LIGHTS[int(rng.integers(3))], round(usual_in * float(np.exp(rng.normal(0, 0.25))), 1)
    taps = []
    for place in range(told["hours"] * 60 // minutes):
        card = str(colours[place % len(colours)])
        bites = int(rng.poisson(minutes * rate * np.exp(told["effects"][card])))
        came = [str(how) for how in rng.choice(ways, bites, p=chances)]
        data = {
            "category": told["category"], "card": card, "start": START + place * minutes, "minutes": minutes,
            "visibility_in": inches, "light": light.value, "wind": "ripple",
            **{how: came.count(how) for how in ways if how in came},
        }  # fmt: skip
        key = f"season-{trip.date}-{place}"
        taps.append(Tap(trip=trip, key=key, device="paper", place=place, kind="turn", at=0, data=data))
    return taps
