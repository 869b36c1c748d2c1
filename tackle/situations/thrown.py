"""When a kind of lure is thrown at all: days on which it is not ask nothing of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from tackle.base.vocabulary import CATEGORIES, Cover, Forage, Season, Wind
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry
from tackle.situations.season import mid_season_temp_f
from tackle.situations.situation import Situation

__all__ = ["ALWAYS", "EVEN_WITH", "Circumstances", "Thrown", "best_seasons", "load_thrown", "thrown_by_default"]


_ANY_COVER: Final = "cover"
EVEN_WITH: Final = (*Forage, *Wind, _ANY_COVER)


class Circumstances(NamedTuple):
    """What n situations tell of when a kind is thrown, each (n,): temperatures in degrees Fahrenheit, not a number
    where none is told; visibility in inches; words, empty where none is told; None: told of none of them."""

    warm_f: NDArray[np.float64]
    visibility_in: NDArray[np.float64] | None = None
    months: NDArray[np.int_] | None = None
    cover: NDArray[np.str_] | None = None
    wind: NDArray[np.str_] | None = None
    food: NDArray[np.str_] | None = None


@dataclass(frozen=True, slots=True)
class Thrown:
    """When a kind is thrown: from and up to a water temperature (F), in some months, over some cover, up to a
    visibility (inches); None: any. Beyond that visibility it is thrown all the same where one of `even_with` was told:
    a food, a wind, or "cover" for any cover."""

    from_f: float | None = None
    until_f: float | None = None
    months: frozenset[int] | None = None
    cover: frozenset[Cover] | None = None
    until_in: float | None = None
    even_with: frozenset[str] = frozenset()

    def on(self, situation: Situation) -> bool:
        """Whether it is thrown then. What nobody told does not bind; without a temperature the season's stands."""
        warm = situation.water_temp_f
        if warm is None and situation.phase is not None:
            warm = mid_season_temp_f(situation.phase)
        met = Circumstances(
            np.array([np.nan if warm is None else warm]),
            np.array([situation.visibility_in]),
            None if situation.month is None else np.array([situation.month]),
            np.array([situation.cover.value if situation.cover else ""]),
            np.array([situation.wind.value if situation.wind else ""]),
        )
        foods = [met._replace(food=np.array([food.value])) for food in situation.forage]
        return any(bool(self.among(one)[0]) for one in foods)

    def at(self, warm_f: float) -> bool:
        """Whether it is thrown at a water temperature, in degrees Fahrenheit, whatever else there is."""
        return bool(self.among(Circumstances(np.array([warm_f])))[0])

    def among(self, met: Circumstances) -> NDArray[np.bool_]:
        """On which of some situations it is thrown; (n,)."""
        low = -np.inf if self.from_f is None else self.from_f
        high = np.inf if self.until_f is None else self.until_f
        on = np.isnan(met.warm_f) | ((met.warm_f >= low) & (met.warm_f < high))
        if self.cover is not None and met.cover is not None:
            on &= np.isin(met.cover, ["", *self.cover])
        if self.months is not None and met.months is not None:
            on &= np.isin(met.months, list(self.months))
        if self.until_in is not None and met.visibility_in is not None:
            on &= (met.visibility_in < self.until_in) | self._even_so(met, len(on))
        return np.asarray(on, dtype=np.bool_)

    def _even_so(self, met: Circumstances, count: int) -> NDArray[np.bool_]:
        found = np.zeros(count, dtype=np.bool_)
        for words in (met.food, met.wind):
            if words is not None:
                found |= np.isin(words, list(self.even_with))
        if met.wind is not None and self.even_with & set(Wind):
            found |= met.wind == ""  # a wind that nobody told may be one
        if met.cover is not None and _ANY_COVER in self.even_with:
            found |= ~np.isin(met.cover, ["", Cover.OPEN])
        return found


ALWAYS: Final = Thrown()


def thrown_by_default(category: str) -> Thrown:
    """When a kind is thrown where the angler has not said otherwise."""
    return _house()[category][0]


def best_seasons(category: str) -> tuple[Season, ...]:
    """The seasons in which a kind is at its best; none where all are alike."""
    return _house()[category][1]


def load_thrown(path: Path) -> Mapping[str, tuple[Thrown, tuple[Season, ...]]]:
    """When each kind is thrown, and its best seasons, in a TOML file. Raises DataError naming entry and field."""
    file = Entry(read_toml(path), path.name, "file")
    entries = {category: Entry(file.table(category), path.name, category) for category in CATEGORIES}
    return {category: (_thrown(one), one.some("best", Season)) for category, one in entries.items()}


def _thrown(entry: Entry) -> Thrown:
    data = entry.raw
    return Thrown(
        from_f=entry.number("thrown_from_f", 28, 110) if "thrown_from_f" in data else None,
        until_in=entry.number("thrown_until_in", 1, 600) if "thrown_until_in" in data else None,
        even_with=frozenset(entry.words("even_with", data["even_with"], EVEN_WITH))
        if "even_with" in data
        else frozenset(),
    )


def _house() -> Mapping[str, tuple[Thrown, tuple[Season, ...]]]:
    return loaded(load_thrown, FOLDER / "limits.toml")
