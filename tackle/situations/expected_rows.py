"""The situations to expect: one, and many as columns."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, fields
from functools import cached_property
from hashlib import blake2b
from typing import Any, Final

import numpy as np
from numpy.typing import NDArray

from tackle.base.vocabulary import TRAILER, Cover, Forage, Light, Season, Stain, Tone, Wind
from tackle.situations.clarity import BANDS, Ladder
from tackle.situations.columns import Columns, Tabulated
from tackle.situations.conditions import CHOICES
from tackle.situations.depth import working_depth_ft
from tackle.situations.light import sight_in
from tackle.situations.rows import MILLION, DayCounts, Rows
from tackle.situations.season import find_season
from tackle.situations.situation import Situation, make_situation
from tackle.situations.thrown import ALWAYS, Circumstances, Thrown
from tackle.situations.water import Water

__all__ = [
    "COVERS", "FORAGE", "LIGHTS", "SEASONS", "STAINS", "WINDS", "Expected", "ExpectedDays", "ExpectedSituations",
]  # fmt: skip

# The words that a column's numbers are the places of.
LIGHTS: Final = tuple(Light)
WINDS: Final = tuple(Wind)
SEASONS: Final = tuple(Season)
STAINS: Final = tuple(Stain)
FORAGE: Final = tuple(Forage)
COVERS: Final = tuple(Cover)
_COVER_WORDS: Final = np.array([*COVERS, ""])  # the last one, at -1: none is told
_WIND_WORDS, _FOOD_WORDS = np.array(WINDS), np.array(FORAGE)
_HUNDRED: Final = 100


@dataclass(frozen=True, slots=True)
class Expected:
    """One situation to expect: `millionths` of a day, at the middle visibility and temperature of those days."""

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

    def situation(self, category: str) -> Situation:
        """The situation that a school is asked about."""
        return make_situation(
            category,
            self.water,
            visibility_in=self.visibility_in,
            light=self.light,
            stain=self.stain,
            wind=self.wind,
            season=self.season,
            water_temp_f=self.temp_f,
            cover=self.cover,
            forage=(self.food,),
        )


@dataclass(frozen=True, eq=False)
class ExpectedDays(Rows[Expected]):
    """n situations to expect, as columns: each is made as it is asked for.

    `water` is the place of each among `waters`, int16 (n,); the words are their places in the vocabulary, int8 (n,), -1
    where there is none; `sight` and `temp` in hundredths of an inch and of a degree Fahrenheit, int32 (n,);
    `millionths`: int64 (n,).
    """

    waters: tuple[Water, ...]
    water: NDArray[np.int16]
    band: NDArray[np.int8]
    light: NDArray[np.int8]
    food: NDArray[np.int8]
    season: NDArray[np.int8]
    stain: NDArray[np.int8]
    wind: NDArray[np.int8]
    cover: NDArray[np.int8]
    sight: NDArray[np.int32]
    temp: NDArray[np.int32]
    millionths: NDArray[np.int64]

    @cached_property
    def mark(self) -> str:
        """Of the situations, and of what bears on the answers of their waters."""
        found = blake2b(digest_size=16)
        for water in self.waters:
            found.update(repr(water.bearing).encode())
        for column in self._columns():
            found.update(column.tobytes())
        return found.hexdigest()

    @cached_property
    def counts(self) -> DayCounts:
        """The days of each."""
        return DayCounts(self.millionths)

    def __len__(self) -> int:
        return len(self.millionths)

    def __iter__(self) -> Iterator[Expected]:
        # Plain numbers: taking them out of the columns one by one would be most of the work.
        for row in zip(*(column.tolist() for column in self._columns()), strict=True):
            yield self._row(*row)

    def at(self, places: NDArray[Any]) -> ExpectedDays:
        """Those at some places, or where a mask (n,) says so."""
        return ExpectedDays(self.waters, *(column[places] for column in self._columns()))

    def throwing(self, category: str) -> tuple[bool, ...]:
        """Which waters are some where a category is one to throw, and is not forbidden."""
        return tuple(water.throws(category) and not water.forbidden.forbids(category) for water in self.waters)

    def on(self, waters: tuple[bool, ...], thrown: Thrown = ALWAYS) -> ExpectedDays:
        """Those on some waters when a kind of lure is thrown at all."""
        return self if all(waters) and thrown == ALWAYS else self.at(self.places_on(waters, thrown))

    def places_on(self, waters: tuple[bool, ...], thrown: Thrown = ALWAYS) -> NDArray[np.intp]:
        """The places of those."""
        there = np.array(waters, dtype=np.bool_)[self.water]
        met = Circumstances(
            self.temp / _HUNDRED, self.sight / _HUNDRED, None,
            _COVER_WORDS[self.cover], _WIND_WORDS[self.wind], _FOOD_WORDS[self.food],
        )  # fmt: skip
        return np.flatnonzero(there & thrown.among(met))

    @property
    def salt(self) -> tuple[bool, ...]:
        """Which are on salt water, or brackish."""
        there = np.array([water.salinity != "fresh" for water in self.waters], dtype=np.bool_)
        return tuple(there[self.water].tolist())

    def situations(self, category: str) -> ExpectedSituations:
        """What the schools are asked about."""
        return ExpectedSituations(self, category)

    def by_water(self) -> list[tuple[Water, float]]:
        """The waters on which there are any, with their days, in the order in which they come first."""
        found, first = np.unique(self.water, return_index=True)
        return [
            (self.waters[place], int(self.millionths[self.water == place].sum()) / MILLION)
            for place in found[np.argsort(first)].tolist()
        ]

    def by_food(self) -> list[tuple[Forage, float]]:
        """What is eaten, with its days, the most first."""
        totals = np.zeros(len(FORAGE), dtype=np.int64)
        np.add.at(totals, self.food, self.millionths)
        data = [(food, total / MILLION) for food, total in zip(FORAGE, totals.tolist(), strict=True) if total]
        return sorted(data, key=lambda one: -one[1])

    def by_place(self, kind: NDArray[np.integer] | None = None) -> list[tuple[str, Light, Forage, int, int]]:
        """The millionths of days by place of the lattice and by `kind` (n,), where it is told, in the order in which
        they come first: band, light, food, kind, millionths."""
        of_kind = np.zeros(len(self), dtype=np.int64) if kind is None else kind.astype(np.int64)
        lattice = (self.band.astype(np.int64) * len(LIGHTS) + self.light) * len(FORAGE) + self.food
        least = int(of_kind.min(initial=0))
        key = (of_kind - least) * (len(BANDS) * len(LIGHTS) * len(FORAGE)) + lattice
        _, first, place = np.unique(key, return_index=True, return_inverse=True)
        totals = np.zeros(len(first), dtype=np.int64)
        np.add.at(totals, place.reshape(-1), self.millionths)
        order = np.argsort(first)
        at = first[order]
        columns = (self.band[at], self.light[at], self.food[at], of_kind[at], totals[order])
        return [
            (BANDS[band], LIGHTS[light], FORAGE[food], one, total)
            for band, light, food, one, total in zip(*(column.tolist() for column in columns), strict=True)
        ]

    def _columns(self) -> list[NDArray[Any]]:
        return [getattr(self, field.name) for field in fields(self) if field.name != "waters"]

    def _made(self, place: int) -> Expected:
        return self._row(*(column[place].item() for column in self._columns()))

    def _row(
        self, water: int, band: int, light: int, food: int, season: int, stain: int, wind: int, cover: int,
        sight: int, temp: int, millionths: int,
    ) -> Expected:  # fmt: skip
        return Expected(
            water=self.waters[water],
            band=BANDS[band],
            light=LIGHTS[light],
            food=FORAGE[food],
            season=None if season < 0 else SEASONS[season],
            stain=STAINS[stain],
            wind=WINDS[wind],
            cover=None if cover < 0 else COVERS[cover],
            visibility_in=sight / _HUNDRED,
            temp_f=temp / _HUNDRED,
            millionths=millionths,
        )


class ExpectedSituations(Rows[Situation], Tabulated):
    """The situations of some days for one category, and as columns."""

    __slots__ = ("_category", "_days")

    def __init__(self, days: ExpectedDays, category: str) -> None:
        self._days, self._category = days, category

    def __len__(self) -> int:
        return len(self._days)

    def __iter__(self) -> Iterator[Situation]:
        return (day.situation(self._category) for day in self._days)

    @property
    def mark(self) -> str:
        return f"{self._days.mark} {self._category}"

    def columns(self, ladder: Ladder) -> Columns:
        """As `tabulate` gives them."""
        days, unsaid = self._days, np.full(len(self), -1, dtype=np.int8)
        visibility, temp = days.sight / _HUNDRED, days.temp / _HUNDRED
        depth = self._of_water([working_depth_ft(self._category, water.depth_ft) for water in days.waters])
        norm = self._of_water([water.norm_in if water.relative else None for water in days.waters])
        season = days.season.copy()
        for place in np.flatnonzero(season < 0):
            phase = find_season(temp[place], None)
            season[place] = -1 if phase is None else SEASONS.index(phase)
        targets = [-1 if water.target is None else CHOICES["target"].index(water.target) for water in days.waters]
        target = np.array(targets, dtype=np.int8)[days.water]
        currents = [-1 if water.current is None else CHOICES["current"].index(water.current) for water in days.waters]
        current = np.array(currents, dtype=np.int8)[days.water]
        said = {
            "stain": days.stain, "light": days.light, "wind": days.wind, "season": season, "cover": days.cover,
            "target": target, "current": current,
        }  # fmt: skip
        if self._category == TRAILER:  # on a jig that is not known it is answered as on green pumpkin
            said["with"] = np.full(len(self), CHOICES["with"].index(Tone.GREEN_PUMPKIN), dtype=np.int8)
        return Columns(
            count=len(self),
            numbers={
                "visibility_in": visibility,
                "sight_in": sight_in(ladder, visibility, days.light, days.wind, depth),
                "water_temp_f": temp,
                "month": np.full(len(self), np.nan),
                "depth_ft": depth,
                "depth_ratio": depth * 12 / visibility,
                "norm_in": norm,
                "norm_ratio": visibility / norm,
            },
            choices={name: said.get(name, unsaid) for name in CHOICES if name != "forage"},
            forage=1 << days.food.astype(np.int64),
        )

    def _of_water(self, values: Sequence[float | None]) -> NDArray[np.float64]:
        """A number of each water, nan where it is not known, for each situation."""
        return np.array([np.nan if one is None else one for one in values], dtype=np.float64)[self._days.water]

    def _made(self, place: int) -> Situation:
        return self._days[place].situation(self._category)
