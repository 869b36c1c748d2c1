"""Regions: what the climate of a place, in either half of the world, makes of a kind of water."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from tackle.base.vocabulary import Forage, ids
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import ID, Entry
from tackle.situations.months import northern_month

__all__ = ["HALVES", "Region", "load_regions", "region_at", "regions"]

REGIONS_FILE: Final = FOLDER / "regions.toml"
HALVES: Final = ("north", "south")
_FIELDS: Final = ("id", "latitude", "mean_f", "swing_f", "coldest", "dryness", "quarters", "hatch")
_FREEZES_F: Final = 33.0


@dataclass(frozen=True, slots=True)
class Region:
    """The climate of a place. `latitude` in degrees, below 0 in the south; all months but those asked for are northern.

    `quarters`: the months in which winter, spring, summer and fall begin. `hatch`: what comes out in numbers, and when.
    """

    id: str  # of the climate
    half: str  # one of HALVES
    latitude: float
    mean_f: float
    swing_f: float
    coldest: float
    dryness: float
    quarters: tuple[int, ...]
    hatch: Mapping[Forage, tuple[int, ...]]

    @property
    def name(self) -> str:
        """Climate and half of the world: "warm-coast-south"."""
        return f"{self.id}-{self.half}"

    def quarter(self, month: int) -> int:
        """The quarter of the water's year that a month, 1 to 12, lies in: 0 is winter."""
        northern = northern_month(month, self.latitude)
        return min(range(4), key=lambda quarter: (northern - self.quarters[quarter]) % 12)

    def temp_f(self, month: int) -> float:
        """The usual surface temperature (F) of a month: a yearly cosine, never below freezing."""
        since = northern_month(month, self.latitude) - self.coldest
        return round(max(self.mean_f - self.swing_f * math.cos(2 * math.pi * since / 12), _FREEZES_F))

    def out(self, month: int, salinity: str) -> list[Forage]:
        """What is out in numbers in a month, of what lives in water of a salinity; in brackish water all does."""
        in_salt = {"fresh": False, "salt": True}.get(salinity)
        northern = northern_month(month, self.latitude)
        return [food for food, months in self.hatch.items() if northern in months and in_salt in (None, food.in_salt)]


def region_at(latitude: float) -> Region:
    """A rule of thumb where nothing but the latitude is told, in degrees: the swing of the surface of fresh water grows
    with it. Good to some 6 F."""
    far = min(abs(latitude), 65)
    return Region("", HALVES[latitude < 0], latitude, 84 - 0.68 * far, 3 + 0.55 * far, 1.6, 0.5, (12, 3, 6, 9), {})


def load_regions(path: Path) -> dict[str, Region]:
    """The regions of a TOML file by their names, each in both halves of the world.

    Raises DataError naming file, entry and field.
    """
    found: dict[str, Region] = {}
    for raw in read_toml(path).get("region", []):
        entry = Entry(raw, path.name, fields=_FIELDS, kind="region")
        for half, sign in zip(HALVES, (1, -1), strict=True):
            region = _read(entry, half, sign)
            if region.name in found:
                raise entry.error("id", "stands twice")
            found[region.name] = region
    return found


def _read(entry: Entry, half: str, sign: int) -> Region:
    quarters = tuple(int(number) for number in entry.numbers("quarters", 4, low=1))
    if sum((after - before) % 12 for before, after in zip(quarters, (*quarters[1:], quarters[0]), strict=True)) != 12:
        raise entry.error("quarters", "are not four months in the order of the year")
    hatch: dict[Forage, tuple[int, ...]] = {}
    for food, months in entry.table("hatch").items():
        if food not in ids(Forage) or not all(isinstance(month, int) and 1 <= month <= 12 for month in months):
            raise entry.error("hatch", f"{food} = {months!r} is not a food with months from 1 to 12")
        hatch[Forage(food)] = tuple(months)
    return Region(
        id=entry.text("id", ID),
        half=half,
        latitude=sign * entry.number("latitude", 0, 65),
        mean_f=entry.number("mean_f", 33, 95),
        swing_f=entry.number("swing_f", 0, 40),
        coldest=entry.number("coldest", 1, 4),
        dryness=entry.number("dryness", 0, 1),
        quarters=quarters,
        hatch=hatch,
    )


def regions() -> Mapping[str, Region]:
    """The regions that ship with the app by their names, loaded once."""
    return loaded(load_regions, REGIONS_FILE)
