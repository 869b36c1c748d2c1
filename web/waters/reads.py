"""Reading waters, always from their owner, and what the core makes of them."""

import pickle
from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

from django.db.models import Model, QuerySet, Sum
from django.shortcuts import get_object_or_404

from tackle.situations.expected import Expected, SetAside, expected_days, without_rare
from tackle.situations.sky import Climate, Observed, SkyShares, SkySource, Typed
from tackle.situations.visibility import Spread, pulled
from tackle.situations.water import FOOD_WEIGHT, Forbidden, Month
from tackle.situations.water import Water as CoreWater
from tackle.vocabulary import Cover, Forage, Stain
from web.accounts.models import User
from web.waters.models import Water, WaterMonth


def whole_waters_of(owner: User) -> QuerySet[Water]:
    """The owner's waters with all that is known of them, by name."""
    return Water.objects.filter(owner=owner).prefetch_related("year", "readings")


def waters_of(owner: User) -> QuerySet[Water]:
    """The owner's waters with the days fished on each (`.total`), by name."""
    return Water.objects.filter(owner=owner).annotate(total=Sum("year__days", default=0.0))


def water_of(owner: User, pk: int) -> Water:
    return get_object_or_404(waters_of(owner).prefetch_related("year", "readings"), pk=pk)


@dataclass(frozen=True, slots=True, eq=False)
class Days:
    """The situations to plan for, and those too rare. One object for one content, so that answers are kept by it."""

    kept: tuple[Expected, ...]
    aside: tuple[SetAside, ...]


@dataclass(frozen=True, slots=True)
class _Told:
    """Waters by all that is known of them."""

    content: bytes
    waters: list[Water] = field(compare=False)


def days_to_expect(waters: Iterable[Water], months: Iterable[int], rare_days: float) -> Days:
    """The situations to expect on some waters, their `year` and `readings` prefetched, in some months."""
    listed = list(waters)
    rows = [_stored(row) for water in listed for row in (water, *water.year.all(), *water.readings.all())]
    return _days(_Told(pickle.dumps(rows), listed), tuple(months), rare_days)


@lru_cache(maxsize=64)
def _days(told: _Told, months: tuple[int, ...], rare_days: float) -> Days:
    expected = expected_days([core_water(water) for water in told.waters], months)
    kept, aside = without_rare(expected, rare_days)
    return Days(tuple(kept), tuple(aside))


def _stored(row: Model) -> dict[str, Any]:
    """What is stored of a row. Quicker to look at than the water that is made of it."""
    return {name: value for name, value in vars(row).items() if not name.startswith("_")}


def spread_of(water: Water, month: WaterMonth) -> Spread:
    """A month's visibility, as said and as measured together."""
    said = Spread(month.low_in, month.usual_in, month.high_in)
    return pulled(said, [r.visibility_in for r in water.readings.all() if r.date.month == month.month])


def core_water(water: Water) -> CoreWater:
    """A water as the core reads it. Needs `year` and `readings`, prefetched where there are several."""
    return CoreWater(
        name=water.name,
        salinity=water.salinity,
        latitude=water.latitude,
        longitude=water.longitude,
        months={
            month.month: Month(
                spread=spread_of(water, month),
                stain=Stain(month.stain),
                temp_f=month.temp_f,
                food={Forage(food): FOOD_WEIGHT[amount] for food, amount in month.food.items()},
                days=month.days,
                hours=frozenset(month.hours),
            )
            for month in water.year.all()
        },
        sky=sky_of(water),
        cover={Cover(kind): float(weight) for kind, weight in water.cover.items()},
        depth_ft=water.depth_ft,
        norm_in=water.norm_in,
        relative=water.relative,
        forbidden=Forbidden(
            categories=frozenset(water.forbids_categories),
            trebles=water.forbids_trebles,
            barbs=water.forbids_barbs,
            lead=water.forbids_lead,
            night=water.forbids_night,
            months=frozenset(water.closed_months),
        ),
    )


def sky_of(water: Water) -> SkySource:
    """Typed shares where there are any, else observations, else the climate's rule of thumb."""
    climate = Climate(water.latitude, water.dryness)
    seen = Observed({int(month): counts for month, counts in water.observations.items()}, climate)
    typed = {m.month: SkyShares.of(tuple(m.sky[:3]), tuple(m.sky[3:])) for m in water.year.all() if m.sky}
    return Typed(typed, seen)
