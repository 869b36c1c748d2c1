"""A record month by month: how far one sees, with an interval; skies and temperatures as they were counted."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from math import exp, log, sqrt
from statistics import median
from typing import Final

import numpy as np

from tackle.records.long_run import DayValue, fit_long_run
from tackle.records.measured import Measured
from tackle.records.moments import moment_day
from tackle.records.numbers import AT_LEAST, AT_MOST
from tackle.situations.sky import SKIES, sky_under, surface_under

__all__ = [
    "Curve",
    "MonthSeen",
    "by_day",
    "by_month",
    "clarity_from",
    "fit_pairs",
    "pairs_noted",
    "percentile",
    "sky_counts",
    "sky_shares",
    "time_span",
    "usual_by_month",
]

_TURBID: Final = re.compile(r"(\d+(?:[.,]\d+)?) ?(?:NTU|FNU)", re.I)
# A rough curve of our own, for waters without pairs: inches of sight at one NTU, its slope, and its spread (log).
ROUGH: Final = (110.0, -0.7, 0.5)
FEWEST_PAIRS: Final = 5


@dataclass(frozen=True, slots=True)
class MonthSeen:
    """What a month's values are: how many, over how many years, their tenth, fiftieth and ninetieth of a hundred, and
    an interval that holds the usual one nine times of ten."""

    month: int
    readings: int
    years: int
    low: float
    usual: float
    high: float
    interval: tuple[float, float]
    bound: str = ""  # "at least", "at most" where over half of the values are such bounds


@dataclass(frozen=True, slots=True)
class Curve:
    """Inches of sight at so much turbidity: `at_one` times turbidity to the power `slope`; `spread`: of the log."""

    at_one: float
    slope: float
    spread: float
    pairs: int

    @property
    def rough(self) -> bool:
        """Whether it is the rough one, for want of pairs."""
        return self.pairs < FEWEST_PAIRS

    @property
    def off_by(self) -> float:
        """Log: what it may be off by for all turbidities alike."""
        return self.spread if self.rough else self.spread / sqrt(self.pairs)

    def inches(self, turbidity: float) -> float:
        return float(min(max(self.at_one * turbidity**self.slope, 0.5), 1_200.0))


def fit_pairs(pairs: Sequence[tuple[float, float]]) -> Curve:
    """The curve through a water's own pairs of turbidity (NTU) and visibility (in): robust, in logs (Theil 1950, Sen
    1968), its spread from the median of what is left over; the rough one where they are fewer than five."""
    data = [(log(turbidity), log(inches)) for turbidity, inches in pairs if turbidity > 0 and inches > 0]
    if len(data) < FEWEST_PAIRS:
        return Curve(*ROUGH, len(data))
    slopes = [
        (b[1] - a[1]) / (b[0] - a[0]) for i, a in enumerate(data) for b in data[i + 1 :] if abs(b[0] - a[0]) > 1e-9
    ]
    slope = min(float(np.median(slopes)), 0.0) if slopes else ROUGH[1]
    level = float(np.median([y - slope * x for x, y in data]))
    left = np.abs([y - level - slope * x for x, y in data])
    return Curve(exp(level), slope, max(1.4826 * float(np.median(left)), 0.05), len(data))


def pairs_noted(noted: Iterable[tuple[str, float]]) -> list[tuple[float, float]]:
    """Pairs of turbidity (NTU) and visibility (in), from readings whose note tells the turbidity: "12 NTU"."""
    found = ((_TURBID.search(note), inches) for note, inches in noted)
    return [(float(data[1].replace(",", ".")), inches) for data, inches in found if data]


def clarity_from(turbidity: Sequence[Measured], curve: Curve) -> list[Measured]:
    """How far one saw at each turbidity, in inches."""
    turned = {AT_LEAST: AT_MOST, AT_MOST: AT_LEAST}
    return [
        Measured(one.moment, one.station, curve.inches(one.value), turned.get(one.bound, ""))
        for one in turbidity if one.value > 0
    ]  # fmt: skip


def by_month(measured: Sequence[Measured], more_spread: float = 0.0) -> list[MonthSeen]:
    """The months that have values, in order. `more_spread`: of the log, where each value is a guess."""
    if not measured:
        return []
    long_run = fit_long_run([DayValue(day, log(value), bound) for day, value, bound in by_day(measured)])
    found = []
    months: defaultdict[int, list[Measured]] = defaultdict(list)
    for one in measured:
        months[one.moment.month].append(one)
    for month, mine in sorted(months.items()):
        low, usual, high = (percentile(mine, share) for share in (0.1, 0.5, 0.9))
        years = len({one.moment.year for one in mine})
        interval = long_run.interval(month, more_spread)
        found.append(MonthSeen(month, len(mine), years, low, usual, high, interval, usual_bound(mine)))
    return found


def usual_bound(measured: Sequence[Measured]) -> str:
    """What the middle of some values is where over half of them are bounds: "at least" or "at most"; else empty."""
    for bound in (AT_LEAST, AT_MOST):
        if 2 * sum(one.bound == bound for one in measured) > len(measured):
            return bound
    return ""


def percentile(measured: Sequence[Measured], share: float) -> float:
    """The value below which a share of some values lies, between two of them by how near it is to either. What a bound
    weighs goes over to the values beyond it (Efron 1967)."""
    if not any(one.bound for one in measured):
        return float(np.percentile([one.value for one in measured], 100 * share))
    rows = sorted(measured, key=lambda one: (one.value, one.bound == AT_LEAST))
    weights = np.ones(len(rows))
    for bound, order in ((AT_LEAST, range(len(rows))), (AT_MOST, range(len(rows) - 1, -1, -1))):
        for at in order:
            beyond = slice(at + 1, None) if bound == AT_LEAST else slice(0, at)
            others = np.array([one.bound != bound for one in rows[beyond]])
            if rows[at].bound == bound and others.any():
                weights[beyond] += others * weights[at] * weights[beyond] / (others * weights[beyond]).sum()
                weights[at] = 0.0
    left = weights > 0
    values, weights = np.array([one.value for one in rows])[left], weights[left]
    before = np.cumsum(weights) - weights
    return float(np.interp(share * (len(rows) - weights[-1]), before, values))


def by_day(measured: Iterable[Measured]) -> list[tuple[date, float, str]]:
    """One a day: the middle of those of a day, so that a gauge's hours count no more than a boat's one look; where all
    of a day are bounds, the tightest."""
    days: defaultdict[date, list[Measured]] = defaultdict(list)
    for one in measured:
        if one.value > 0:
            days[moment_day(one.moment)].append(one)
    return [(day, *_of_day(those)) for day, those in sorted(days.items())]


def _of_day(those: Sequence[Measured]) -> tuple[float, str]:
    whole = [one.value for one in those if not one.bound]
    if whole:
        return median(whole), ""
    least = [one.value for one in those if one.bound == AT_LEAST]
    return (max(least), AT_LEAST) if least else (min(one.value for one in those), AT_MOST)


def time_span(measured: Sequence[Measured]) -> tuple[date, date, date, date] | None:
    """The first and the last day of some values, and the last and next one around the longest time without; None where
    there are none."""
    days = sorted({moment_day(one.moment) for one in measured})
    if not days:
        return None
    before, after = max(zip(days, days[1:] or days, strict=False), key=lambda pair: pair[1] - pair[0])
    return days[0], days[-1], before, after


def usual_by_month(measured: Sequence[Measured]) -> dict[int, float]:
    """The middle value of each month that has some."""
    months: defaultdict[int, list[float]] = defaultdict(list)
    for one in measured:
        months[one.moment.month].append(one.value)
    return {month: median(values) for month, values in sorted(months.items())}


def sky_shares(cloud: Sequence[Measured]) -> Mapping[int, tuple[int, float, float, float]]:
    """For each month with hours of sky: how many, and the shares of sun, broken and cloud."""
    found = {}
    for month, counts in sky_counts(cloud, ()).items():
        sun, broken, cover = (counts.get(word, 0) for word in SKIES)
        every = sun + broken + cover
        found[month] = (every, sun / every, broken / every, cover / every)
    return found


def sky_counts(cloud: Sequence[Measured], wind: Sequence[Measured]) -> dict[int, dict[str, int]]:
    """By month, how many observations there are of each sky and each surface, as a water keeps them."""
    counts: dict[int, dict[str, int]] = {}
    for measured, said in ((cloud, sky_under), (wind, surface_under)):
        for one in measured:
            seen = counts.setdefault(one.moment.month, {})
            word = said(one.value).value
            seen[word] = seen.get(word, 0) + 1
    return dict(sorted(counts.items()))
