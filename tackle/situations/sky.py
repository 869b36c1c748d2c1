"""Sky and wind by month, from one of three sources behind one interface: a climate, observations, or typed shares."""

from __future__ import annotations

import csv
import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final, Protocol

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_whole
from tackle.base.strict import is_plain
from tackle.base.vocabulary import Light, Wind
from tackle.situations.months import northern_month

__all__ = [
    "RAINS", "SKIES", "WINDS", "Climate", "Observed", "SkyShares", "SkySource", "Typed", "read_observations",
    "sky_under", "surface_under",
]  # fmt: skip


@dataclass(frozen=True, slots=True)
class SkyShares:
    """Shares of the day's sky and of the surface in one month; each three add up to 1."""

    bright: float
    broken: float
    overcast: float
    calm: float
    ripple: float
    chop: float

    @staticmethod
    def of(sky: tuple[float, float, float], wind: tuple[float, float, float]) -> SkyShares:
        """Shares from weights, at least one of each three above 0. Raises InvalidInput."""
        for name, weights in (("sky", sky), ("wind", wind)):
            if min(weights) < 0 or sum(weights) <= 0 or not all(map(math.isfinite, weights)):
                raise InvalidInput(name, f"{weights} are not shares", "three numbers from 0, not all of them 0")
        return SkyShares(*(w / sum(sky) for w in sky), *(w / sum(wind) for w in wind))


class SkySource(Protocol):
    """Where a water's sky comes from."""

    def shares(self, month: int) -> SkyShares:
        """The shares of a month, 1 to 12."""
        ...


@dataclass(frozen=True, slots=True)
class Climate:
    """A plain stand-in for a climate record: from latitude (degrees), month and dryness (0 wet to 1 dry).

    Cloud is commonest in winter, the more so the farther from the equator; wind in early spring. It is a rule of
    thumb for where nothing better is known, not a record.
    """

    latitude: float
    dryness: float = 0.5

    def shares(self, month: int) -> SkyShares:
        northern = northern_month(month, self.latitude)
        winterliness = (1 + math.cos(2 * math.pi * (northern - 1) / 12)) / 2
        far = min(abs(self.latitude), 65) / 65
        overcast = (0.16 + 0.34 * far * winterliness) * (1.5 - self.dryness)
        bright = (0.42 - 0.16 * far * winterliness) * (0.5 + self.dryness)
        windy = (1 + math.cos(2 * math.pi * (northern - 3.5) / 12)) / 2
        chop, calm = 0.10 + 0.16 * windy, 0.44 - 0.16 * windy
        return SkyShares.of((bright, max(1 - bright - overcast, 0.15), overcast), (calm, 1 - chop - calm, chop))


@dataclass(frozen=True, slots=True)
class Typed:
    """Shares that the angler typed, by month; other months come from another source."""

    by_month: Mapping[int, SkyShares]
    otherwise: SkySource

    def shares(self, month: int) -> SkyShares:
        return self.by_month.get(month) or self.otherwise.shares(month)


@dataclass(frozen=True, slots=True)
class Observed:
    """What the angler saw: for each month, how many observations of each sky and wind. Others from another source."""

    counts: Mapping[int, Mapping[str, int]]
    otherwise: SkySource

    def shares(self, month: int) -> SkyShares:
        seen, usual = self.counts.get(month, {}), self.otherwise.shares(month)
        sky = tuple(seen.get(word, 0) for word in SKIES)
        wind = tuple(seen.get(word, 0) for word in WINDS)
        return SkyShares.of(
            (sky[0], sky[1], sky[2]) if sum(sky) else (usual.bright, usual.broken, usual.overcast),
            (wind[0], wind[1], wind[2]) if sum(wind) else (usual.calm, usual.ripple, usual.chop),
        )


def sky_under(cloud: float) -> Light:
    """The sky where so much of it is covered, a share: sun, broken or cloud."""
    return Light.BRIGHT if cloud < 0.3 else Light.BROKEN if cloud < 0.75 else Light.OVERCAST


def surface_under(wind_mph: float) -> Wind:
    """Beaufort 0-1, 2-3 and more: glassy, small wavelets, waves that break up the surface."""
    return Wind.CALM if wind_mph < 4 else Wind.RIPPLE if wind_mph < 13 else Wind.CHOP


MOST_LINES: Final = 5_000
SKIES: Final = ("bright", "broken", "overcast")
WINDS: Final = ("calm", "ripple", "chop")
RAINS: Final = ("wet", "dry")  # days after rain, and the others


def read_observations(text: str) -> dict[int, dict[str, int]]:
    """Counts by month from CSV with a heading of month, sky and wind; either of the last two may be empty.

    Raises InvalidInput with the line and what is allowed.
    """
    lines = text.splitlines()
    if len(lines) > MOST_LINES or not is_plain(text) or any(len(line) > 200 for line in lines):
        raise InvalidInput(
            "file", "has too many or too long lines", f"at most {MOST_LINES} lines of month, sky and wind"
        )
    rows = csv.DictReader(lines)
    if not rows.fieldnames or "month" not in rows.fieldnames:
        raise InvalidInput("line 1", "has no column named month", "a heading of month, sky, wind")
    counts: dict[int, dict[str, int]] = {}
    for number, row in enumerate(rows, 2):
        month = (row.get("month") or "").strip()
        which = read_whole(month, 1, 12)
        if which is None:
            raise InvalidInput(f"line {number}, month", f"{month[:20]!r} is not a month", "1 to 12")
        for column, words in (("sky", SKIES), ("wind", WINDS)):
            word = (row.get(column) or "").strip().lower()
            if word and word not in words:
                raise InvalidInput(f"line {number}, {column}", f"{word!r} is not known", words)
            if word:
                seen = counts.setdefault(which, {})
                seen[word] = seen.get(word, 0) + 1
    return counts
