"""Where in the world a newcomer fishes: bands of latitude, inland or by the sea; and what a year there is guessed to
be."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Final

from tackle.base.vocabulary import Forage, Season
from tackle.situations.regions import HALVES, Region, regions
from tackle.situations.water import Water
from web.common.ui.words import label, listed
from web.domain.waters.services import MONTH_NAMES

__all__ = ["Band", "GuessedYear", "guessed_year", "region_map"]

SHORES: Final = ("inland", "coast")
_TOP_F, _FOOT_F = 95.0, 25.0


@dataclass(frozen=True, slots=True)
class Band:
    """A band of latitude: its word, how many degrees from the equator, and its regions, inland and on the coast."""

    word: str
    half: str
    degrees: int
    places: tuple[Region, ...]


def region_map() -> list[Band]:
    """The bands from north to south."""
    every = regions()
    words = list(dict.fromkeys(region.id.rpartition("-")[0] for region in every.values()))
    found = []
    for half, order in zip(HALVES, (words, words[::-1]), strict=True):
        for word in order:
            places = tuple(every[f"{word}-{shore}-{half}"] for shore in SHORES)
            found.append(Band(word, half, round(abs(places[0].latitude)), places))
    return found


@dataclass(frozen=True, slots=True)
class GuessedYear:
    """What a region makes of a year. `bars` are months with their temperature (F), where its bar begins and how high it
    is, and whether they spawn; `spawn` and `out` are in words; `sun` is the share (per cent) of the day under an open
    sky in the month that has least, and most."""

    bars: list[tuple[str, float, tuple[float, float], bool]]
    spawn: str
    out: list[tuple[str, str]]
    sun: list[tuple[str, int]]


def guessed_year(water: Water, region: Region) -> GuessedYear:
    """The year of a water as it is guessed from its region."""
    temps = {month: water.months[month].temp_f for month in range(1, 13)}
    spawns = [month for month in temps if water.season(month) is Season.SPAWN]
    out: dict[Forage, list[int]] = {}
    for month in temps:
        for food in region.out(month, water.salinity):
            out.setdefault(food, []).append(month)
    bright = {month: water.sky.shares(month).bright for month in temps}
    ends = min(bright, key=lambda month: bright[month]), max(bright, key=lambda month: bright[month])
    return GuessedYear(
        bars=[
            (MONTH_NAMES[month - 1], temp, (_TOP_F - temp, temp - _FOOT_F), month in spawns)
            for month, temp in temps.items()
        ],
        spawn=_months_said(spawns),
        out=[(label(food).lower(), _months_said(months)) for food, months in out.items()],
        sun=[(MONTH_NAMES[month - 1], round(bright[month] * 100)) for month in ends],
    )


def _months_said(months: Sequence[int]) -> str:
    """Some months, those that follow one another as a span."""
    runs = [list(run) for _, run in groupby(enumerate(months), lambda data: data[1] - data[0])]
    spans = [[MONTH_NAMES[month - 1] for _, month in run] for run in runs]
    return listed([listed(span) if len(span) < 3 else f"{span[0]} to {span[-1]}" for span in spans]) if spans else ""
