"""What a day on the water will be like: how clear after the rain, what each hour asks, and what can hurt."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta

from tackle.base.vocabulary import Forage, Light, Stain, Tide, Wind
from tackle.situations.months import northern_month
from tackle.situations.season import find_season
from tackle.situations.situation import Situation, make_situation
from tackle.situations.sun import dim_light, height_deg, to_utc
from tackle.situations.visibility import Spread
from tackle.situations.water import Month, Water

__all__ = [
    "Caution", "Clarity", "Sky", "cautions", "clarity_after", "fished", "light_by_sun", "make_hour_situation",
    "usual_sky",
]  # fmt: skip

DAY_HOURS = 24  # a trip of more is one of several days

SOME_RAIN_IN, MUCH_RAIN_IN = 0.5, 1.5  # inches in the two days before: from here on the water is murkier, or murky
MUCH_GUST_MPH, THUNDER = 20.0, 0.1  # gusts that turn a small boat; a chance of thunder worth a word
COLD_WATER_F, COLD_AIR_F, MUCH_WIND_MPH, HARD_SUN_F = 60.0, 45.0, 15.0, 80.0


@dataclass(frozen=True, slots=True)
class Sky:
    """One hour: light and surface, and what the forecast says beside them where there is one."""

    hour: int
    light: Light
    wind: Wind | None = None
    wind_mph: float | None = None
    air_f: float | None = None
    water_f: float | None = None
    rain_in: float | None = None
    gust_mph: float | None = None
    thunder: float | None = None  # the chance of it


@dataclass(frozen=True, slots=True)
class Clarity:
    """How clear the water will be, in inches: from `low_in` to `high_in`, most likely `likely_in`."""

    low_in: float
    likely_in: float
    high_in: float
    rain: str  # none, some, much, unknown


def clarity_after(spread: Spread, rain_in: float | None) -> Clarity:
    """What two days of rain leave of a month's visibility.

    Up to half an inch it is as usual; up to an inch and a half, half way down to the month's poor days; beyond, as on
    these. Without a word on the rain it is as usual, from poor to good.
    """
    low, usual, high = spread.low_in, spread.usual_in, spread.high_in
    if rain_in is None:
        return Clarity(low, usual, high, "unknown")
    if rain_in < SOME_RAIN_IN:
        return Clarity((low + usual) / 2, usual, high, "none")
    if rain_in < MUCH_RAIN_IN:
        return Clarity(low, (low + usual) / 2, usual, "some")
    return Clarity(0.7 * low, low, (low + usual) / 2, "much")


def usual_sky(water: Water, day: date, hour: int) -> Sky:
    """The sky of one hour of a solar day as it mostly is there: by the sun's height, and by the month's shares."""
    shares = water.sky.shares(day.month)
    light = max((Light.BRIGHT, Light.BROKEN, Light.OVERCAST), key=lambda one: getattr(shares, one.value))
    dim = light_by_sun(water.latitude, water.longitude, day, hour)
    return Sky(hour, dim or light, max(Wind, key=lambda one: getattr(shares, one.value)))


def light_by_sun(latitude: float, longitude: float, day: date, hour: int) -> Light | None:
    """Night or low sun, where the sun alone says so; None by day. Of one hour of a solar day."""
    middle = to_utc(datetime.combine(day, time()) + timedelta(hours=hour + 0.5), longitude)
    return dim_light(height_deg(latitude, longitude, middle))


def fished(skies: Sequence[Sky]) -> tuple[Sky, ...]:
    """The hours of a trip that are fished: of several days the nights between are slept."""
    by_day = tuple(sky for sky in skies if sky.light is not Light.NIGHT)
    return by_day if len(skies) > DAY_HOURS and by_day else tuple(skies)


def make_hour_situation(
    category: str, sky: Sky, visibility_in: float, stain: Stain, water: Water, day: date, tide: Tide | None = None
) -> Situation:
    """What an hour asks the schools; the food is what is mostly eaten in that month."""
    number, month = day.month, water.months[day.month]
    warm = sky.water_f if sky.water_f is not None else month.temp_f
    northern = northern_month(number, water.latitude)
    return make_situation(
        category,
        water,
        visibility_in=visibility_in,
        light=sky.light,
        stain=stain,
        wind=sky.wind,
        season=find_season(warm, northern),
        month=number,
        water_temp_f=warm,
        cover=water.mostly,
        forage=_eaten(month.food),
        tide=tide,
    )


def _eaten(food: Mapping[Forage, float]) -> tuple[Forage, ...]:
    most = max(food.values(), default=0.0)
    return tuple(one for one, weight in food.items() if weight == most) or (Forage.UNKNOWN,)


@dataclass(frozen=True, slots=True)
class Caution:
    """What can hurt on such a day, and the number that says so, where one does."""

    what: str  # thunder, rain, wind, gusts, cold-water, cold-air, night, wading, sun, hooks
    number: float | None = None
    at: int | None = None  # the hour in which it is worst


def cautions(skies: Sequence[Sky], month: Month, afoot: bool) -> list[Caution]:
    """What to beware of, each once."""
    winds = [(sky.wind_mph, sky.hour) for sky in skies if sky.wind_mph is not None]
    gusts = [(sky.gust_mph, sky.hour) for sky in skies if sky.gust_mph is not None]
    thunder = max(((sky.thunder or 0.0, -sky.hour) for sky in skies), default=(0.0, 0))
    airs = [sky.air_f for sky in skies if sky.air_f is not None]
    waters = [sky.water_f for sky in skies if sky.water_f is not None] or [month.temp_f]
    found = []
    if thunder[0] >= THUNDER:
        found.append(Caution("thunder", thunder[0], -thunder[1]))
    elif any(sky.rain_in for sky in skies):
        found.append(Caution("rain"))
    worst = max(winds, default=(0.0, 0))
    gust = max(gusts, default=(0.0, 0))
    if gust[0] >= MUCH_GUST_MPH and gust[0] > worst[0]:
        found.append(Caution("gusts", *gust))
    elif worst[0] >= MUCH_WIND_MPH:
        found.append(Caution("wind", *worst))
    if min(waters) < COLD_WATER_F:
        found.append(Caution("cold-water", min(waters)))
    if airs and min(airs) < COLD_AIR_F:
        found.append(Caution("cold-air", min(airs)))
    if any(sky.light is Light.NIGHT for sky in skies):
        found.append(Caution("night"))
    if afoot:
        found.append(Caution("wading"))
    if airs and max(airs) >= HARD_SUN_F and any(sky.light is Light.BRIGHT for sky in skies):
        found.append(Caution("sun", max(airs)))
    return [*found, Caution("hooks")]
