"""When a kind of lure is thrown at all: days on which it is not ask nothing of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from types import MappingProxyType
from typing import Final

from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry
from tackle.situations.situation import Situation
from tackle.vocabulary import CATEGORIES, Cover, Season

__all__ = ["ALWAYS", "Thrown", "best_seasons", "load_thrown", "thrown_by_default"]

# What stands for a season where nobody measured, for this question alone: degrees Fahrenheit.
USUAL_F: Final = MappingProxyType({
    Season.WINTER: 42.0, Season.PRESPAWN: 54.0, Season.SPAWN: 65.0, Season.POSTSPAWN: 72.0, Season.SUMMER: 78.0,
    Season.FALL: 62.0,
})  # fmt: skip


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
            warm = USUAL_F[situation.phase]
        return (
            self.at(warm)
            and (self.months is None or situation.month is None or situation.month in self.months)
            and (self.cover is None or situation.cover is None or situation.cover in self.cover)
        )

    def at(self, warm_f: float | None) -> bool:
        """Whether it is thrown at a water temperature, in degrees Fahrenheit."""
        if warm_f is None:
            return True
        return (self.from_f is None or warm_f >= self.from_f) and (self.until_f is None or warm_f < self.until_f)


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
