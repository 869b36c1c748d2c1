"""When a kind of lure is thrown at all: days on which it is not ask nothing of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry
from tackle.situations.season import mid_season_temp_f
from tackle.situations.situation import Situation
from tackle.vocabulary import CATEGORIES, Cover, Season

__all__ = ["ALWAYS", "Thrown", "best_seasons", "load_thrown", "thrown_by_default"]


@dataclass(frozen=True, slots=True)
class Thrown:
    """When a kind is thrown: from and up to a water temperature (F), in some months, over some cover; None: any."""

    from_f: float | None = None
    until_f: float | None = None
    months: frozenset[int] | None = None
    cover: frozenset[Cover] | None = None

    def on(self, situation: Situation) -> bool:
        """Whether it is thrown then. What nobody told does not bind; without a temperature the season's stands."""
        warm = situation.water_temp_f
        if warm is None and situation.phase is not None:
            warm = mid_season_temp_f(situation.phase)
        covers = None if situation.cover is None else np.array([situation.cover.value])
        months = None if situation.month is None else np.array([situation.month])
        return bool(self.among(np.array([np.nan if warm is None else warm]), covers, months)[0])

    def at(self, warm_f: float) -> bool:
        """Whether it is thrown at a water temperature, in degrees Fahrenheit, in whatever month and over any cover."""
        return bool(self.among(np.array([warm_f]), None, None)[0])

    def among(
        self, warm_f: NDArray[np.float64], cover: NDArray[np.str_] | None, months: NDArray[np.int_] | None
    ) -> NDArray[np.bool_]:
        """On which of n situations it is thrown: by their temperatures (n,) in degrees Fahrenheit, not a number where
        none is told; their cover (n,), empty where none is told; and their months (n,). None: told of none of them."""
        low = -np.inf if self.from_f is None else self.from_f
        high = np.inf if self.until_f is None else self.until_f
        on = np.isnan(warm_f) | ((warm_f >= low) & (warm_f < high))
        if self.cover is not None and cover is not None:
            on &= np.isin(cover, ["", *self.cover])
        if self.months is not None and months is not None:
            on &= np.isin(months, list(self.months))
        return np.asarray(on, dtype=np.bool_)


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
    return Thrown(entry.number("thrown_from_f", 28, 110)) if "thrown_from_f" in entry.raw else ALWAYS


def _house() -> Mapping[str, tuple[Thrown, tuple[Season, ...]]]:
    return loaded(load_thrown, FOLDER / "limits.toml")
