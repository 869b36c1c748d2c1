"""The days to expect: clarity band x light x food, with season, stain, wind and cover as context.

A month's days are split by the shares of each, taken as independent within the month, in whole millionths of a day by
largest remainders, so that they add up to the days fished, exactly.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import ClassVar, Final

import numpy as np
from numpy.typing import NDArray

from tackle.situations.clarity import BANDS, HOUSE_LADDER, Ladder
from tackle.situations.depth import working_depth_ft
from tackle.situations.situation import Situation
from tackle.situations.sun import sun_shares
from tackle.situations.water import Water
from tackle.vocabulary import Cover, Forage, Light, Season, Stain, Wind, ids

__all__ = ["MILLION", "RARE_DAYS", "Expected", "SetAside", "expected_days", "without_rare"]

MILLION: Final = 1_000_000
RARE_DAYS: Final = 0.25  # a situation met less often than a quarter of a day is not worth a lure

_LIGHTS: Final = tuple(Light)
_WINDS: Final = tuple(Wind)
_SEASONS: Final = tuple(Season)
_STAINS: Final = tuple(Stain)
_FOODS: Final = ids(Forage)
_FORAGE: Final = tuple(Forage)
_COVERS: Final = (None, *Cover)


@dataclass(frozen=True, slots=True)
class Expected:
    """One situation to expect: `millionths` of a day, at the middle visibility and temperature of those days."""

    weighs: ClassVar[int] = 50  # see tackle.kept: a share of it, for all answers on the same days hold the same

    water: Water
    band: str
    light: Light
    food: Forage
    season: Season | None
    stain: Stain
    wind: Wind
    cover: Cover | None
    visibility_in: float
    temp_f: float
    millionths: int

    @property
    def days(self) -> float:
        return self.millionths / MILLION

    @property
    def lattice(self) -> tuple[str, Light, Forage]:
        """The place in the lattice that rarity is judged by."""
        return self.band, self.light, self.food

    def situation(self, category: str) -> Situation:
        """The situation that a school is asked about."""
        return Situation(
            category=category,
            visibility_in=self.visibility_in,
            light=self.light,
            stain=self.stain,
            wind=self.wind,
            season=self.season,
            water_temp_f=self.temp_f,
            depth_ft=working_depth_ft(category, self.water.depth_ft),
            norm_in=self.water.norm_in if self.water.relative else None,
            cover=self.cover,
            target=self.water.target,
            forage=(self.food,),
        )


@dataclass(frozen=True, slots=True)
class SetAside:
    """A place of the lattice that is too rare to plan for."""

    band: str
    light: Light
    food: Forage
    days: float


def expected_days(
    waters: Iterable[Water], months: Iterable[int] = range(1, 13), ladder: Ladder = HOUSE_LADDER
) -> list[Expected]:
    """The situations to expect on some waters in some months, clearest and brightest first.

    Closed months, and night hours where night fishing is forbidden, have no days.
    """
    wanted = list(months)
    found = [row for water in waters for row in _of_water(water, wanted, ladder)]
    return sorted(found, key=lambda e: (-BANDS.index(e.band), _LIGHTS.index(e.light), -e.millionths))


def without_rare(rows: Sequence[Expected], least_days: float = RARE_DAYS) -> tuple[list[Expected], list[SetAside]]:
    """The situations worth planning for, and the places of the lattice with fewer than `least_days`, rarest last."""
    totals: dict[tuple[str, Light, Forage], int] = {}
    for row in rows:
        totals[row.lattice] = totals.get(row.lattice, 0) + row.millionths
    rare = {place for place, total in totals.items() if total < least_days * MILLION}
    aside = [SetAside(*place, totals[place] / MILLION) for place in rare]
    return [row for row in rows if row.lattice not in rare], sorted(
        aside, key=lambda s: (-s.days, BANDS.index(s.band), _LIGHTS.index(s.light), _FORAGE.index(s.food))
    )


def _of_water(water: Water, months: Sequence[int], ladder: Ladder) -> list[Expected]:
    keys, counts, logs, temps = [], [], [], []
    for number in months:
        month = water.months[number]
        if month.days <= 0 or number in water.forbidden.months:
            continue
        hours = month.hours - {"night"} if water.forbidden.night else month.hours
        if not hours:
            continue
        bands, middle = month.spread.band_shares(ladder)
        sun, sky = sun_shares(water.latitude, water.longitude, number, hours), water.sky.shares(number)
        light = np.array([sun.up * sky.bright, sun.up * sky.broken, sun.up * sky.overcast, sun.low, sun.night])
        wind = np.array([sky.calm, sky.ripple, sky.chop])
        food = np.array([month.food.get(Forage(word), 0.0) for word in _FOODS])
        if not food.sum():
            food[_FOODS.index(Forage.UNKNOWN)] = 1.0
        cover = np.array([0.0, *(water.cover.get(kind, 0.0) for kind in Cover)])
        if not cover.sum():
            cover[0] = 1.0
        season = water.season(number)
        split = np.einsum("b,l,f,w,c->blfwc", bands, light, food / food.sum(), wind, cover / cover.sum())
        millionths = _whole(split.ravel(), round(month.days * MILLION))
        at = np.flatnonzero(millionths)
        tail = (0 if season is None else 1 + _SEASONS.index(season)) * len(_STAINS) + _STAINS.index(month.stain)
        keys.append(at * ((1 + len(_SEASONS)) * len(_STAINS)) + tail)
        counts.append(millionths[at])
        logs.append(np.log2(middle)[at // (split[0].size)])
        temps.append(np.full(len(at), month.temp_f))
    if not keys:
        return []
    return _merged(water, np.concatenate(keys), np.concatenate(counts), np.concatenate(logs), np.concatenate(temps))


def _merged(
    water: Water,
    keys: NDArray[np.int64],
    counts: NDArray[np.int64],
    logs: NDArray[np.float64],
    temps: NDArray[np.float64],
) -> list[Expected]:
    """One row for each place met in several months, at their middle visibility and temperature."""
    places, back = np.unique(keys, return_inverse=True)
    totals = np.zeros(len(places), dtype=np.int64)
    np.add.at(totals, back, counts)
    visibility = np.exp2(np.bincount(back, logs * counts) / totals)
    temp = np.bincount(back, temps * counts) / totals
    shape = (len(BANDS), len(_LIGHTS), len(_FOODS), len(_WINDS), len(_COVERS), 1 + len(_SEASONS), len(_STAINS))
    # Plain numbers: taking them out of arrays one by one would be most of the work.
    columns = [place.tolist() for place in np.unravel_index(places, shape)]
    found = zip(*columns, visibility.round(2).tolist(), temp.round(2).tolist(), totals.tolist(), strict=True)
    seasons = (None, *_SEASONS)
    return [
        Expected(
            water=water,
            band=BANDS[band],
            light=_LIGHTS[light],
            food=_FORAGE[food],
            season=seasons[season],
            stain=_STAINS[stain],
            wind=_WINDS[wind],
            cover=_COVERS[cover],
            visibility_in=visibility_in,
            temp_f=temp_f,
            millionths=millionths,
        )
        for band, light, food, wind, cover, season, stain, visibility_in, temp_f, millionths in found
    ]


def _whole(shares: NDArray[np.float64], total: int) -> NDArray[np.int64]:
    """Whole numbers near shares x total that add up to total: the largest remainders are rounded up."""
    wanted = shares * (total / shares.sum())
    whole = np.floor(wanted).astype(np.int64)
    missing = total - int(whole.sum())
    if missing > 0:
        whole[np.argsort(whole - wanted, kind="stable")[:missing]] += 1
    return np.asarray(whole, dtype=np.int64)
