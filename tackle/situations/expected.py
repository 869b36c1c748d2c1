"""The days to expect: clarity band x light x food, with season, stain, wind and cover as context.

A month's days are split by the shares of each, taken as independent within the month, in whole millionths of a day by
largest remainders, so that they add up to the days fished, exactly.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from tackle.base.vocabulary import Cover, Forage, Light
from tackle.situations.clarity import BANDS, HOUSE_LADDER, Ladder
from tackle.situations.expected_rows import COVERS, FORAGE, LIGHTS, SEASONS, STAINS, WINDS, ExpectedDays
from tackle.situations.rows import MILLION
from tackle.situations.sun import sun_shares
from tackle.situations.together import shares_together
from tackle.situations.water import Water

__all__ = ["RARE_DAYS", "SetAside", "expected_days", "without_rare"]

RARE_DAYS: Final = 0.25  # a situation met less often than a quarter of a day is not worth a lure


@dataclass(frozen=True, slots=True)
class SetAside:
    """A place of the lattice that is too rare to plan for."""

    band: str
    light: Light
    food: Forage
    days: float


def expected_days(
    waters: Iterable[Water], months: Iterable[int] = range(1, 13), ladder: Ladder = HOUSE_LADDER
) -> ExpectedDays:
    """The situations to expect on some waters in some months, clearest and brightest first.

    Closed months, and night hours where night fishing is forbidden, have no days.
    """
    every, wanted = tuple(waters), list(months)
    found = [_of_water(water, index, wanted, ladder) for index, water in enumerate(every)]
    whole = [np.concatenate(column) for column in zip(*found, strict=True)] or _none()
    days = ExpectedDays(every, *whole)
    return days.at(np.lexsort((-days.millionths, days.light, -days.band)))


def without_rare(days: ExpectedDays, least_days: float = RARE_DAYS) -> tuple[ExpectedDays, list[SetAside]]:
    """The situations worth planning for, and the places of the lattice with fewer than `least_days`, rarest last."""
    shape = len(BANDS), len(LIGHTS), len(FORAGE)
    lattice = np.ravel_multi_index((days.band, days.light, days.food), shape)
    totals = np.zeros(shape, dtype=np.int64)
    np.add.at(totals.reshape(-1), lattice, days.millionths)
    rare = totals < least_days * MILLION
    aside = [
        SetAside(BANDS[band], LIGHTS[light], FORAGE[food], int(totals[band, light, food]) / MILLION)
        for band, light, food in np.argwhere(rare & (totals > 0)).tolist()
    ]
    return days.at(~rare.reshape(-1)[lattice]), sorted(
        aside, key=lambda s: (-s.days, BANDS.index(s.band), LIGHTS.index(s.light), FORAGE.index(s.food))
    )


def _of_water(water: Water, place: int, months: Sequence[int], ladder: Ladder) -> list[NDArray[Any]]:
    """The columns of one water's days, those of a place met in several months together."""
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
        wind = np.array([sky.calm, sky.ripple, sky.chop])
        day = shares_together(bands, np.array([sky.bright, sky.broken, sky.overcast]), wind, month.together)
        surface = day.sum(axis=1, keepdims=True)
        light = np.concatenate([sun.up * day, sun.low * surface, sun.night * surface], axis=1)
        food = np.array([month.food.get(one, 0.0) for one in FORAGE])
        if not food.sum():
            food[FORAGE.index(Forage.UNKNOWN)] = 1.0
        cover = np.array([0.0, *(water.cover.get(kind, 0.0) for kind in Cover)])
        if not cover.sum():
            cover[0] = 1.0
        season = water.season(number)
        split = np.einsum("blw,f,c->blfwc", light, food / food.sum(), cover / cover.sum())
        millionths = _whole(split.ravel(), round(month.days * MILLION))
        at = np.flatnonzero(millionths)
        tail = (0 if season is None else 1 + SEASONS.index(season)) * len(STAINS) + STAINS.index(month.stain)
        keys.append(at * ((1 + len(SEASONS)) * len(STAINS)) + tail)
        counts.append(millionths[at])
        logs.append(np.log2(middle)[at // (split[0].size)])
        temps.append(np.full(len(at), month.temp_f))
    if not keys:
        return _none()
    return _merged(place, np.concatenate(keys), np.concatenate(counts), np.concatenate(logs), np.concatenate(temps))


def _merged(
    place: int,
    keys: NDArray[np.int64],
    counts: NDArray[np.int64],
    logs: NDArray[np.float64],
    temps: NDArray[np.float64],
) -> list[NDArray[Any]]:
    """One row for each place met in several months, at their middle visibility and temperature."""
    places, back = np.unique(keys, return_inverse=True)
    totals = np.zeros(len(places), dtype=np.int64)
    np.add.at(totals, back, counts)
    visibility = np.exp2(np.bincount(back, logs * counts) / totals)
    temp = np.bincount(back, temps * counts) / totals
    shape = (len(BANDS), len(LIGHTS), len(FORAGE), len(WINDS), 1 + len(COVERS), 1 + len(SEASONS), len(STAINS))
    band, light, food, wind, cover, season, stain = np.unravel_index(places, shape)
    words = band, light, food, season - 1, stain, wind, cover - 1
    return [
        np.full(len(places), place, dtype=np.int16), *(word.astype(np.int8) for word in words),
        np.rint(visibility * 100).astype(np.int32), np.rint(temp * 100).astype(np.int32), totals,
    ]  # fmt: skip


def _none() -> list[NDArray[Any]]:
    """The columns of no days."""
    return [np.zeros(0, dtype=kind) for kind in (np.int16, *[np.int8] * 7, np.int32, np.int32, np.int64)]


def _whole(shares: NDArray[np.float64], total: int) -> NDArray[np.int64]:
    """Whole numbers near shares x total that add up to total: the largest remainders are rounded up."""
    wanted = shares * (total / shares.sum())
    whole = np.floor(wanted).astype(np.int64)
    missing = total - int(whole.sum())
    if missing > 0:
        whole[np.argsort(whole - wanted, kind="stable")[:missing]] += 1
    return np.asarray(whole, dtype=np.int64)
