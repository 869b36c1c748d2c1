"""The long run of a month's values that follow one another: an interval for its usual value, whatever few days and
years it was seen on.

On the log scale a value is the month's usual one, and what the year adds, and a day's own part that goes over into the
next day's (an autoregression of order one; Hamilton, Time Series Analysis, ch. 3). How alike neighbouring days are and
how far years differ is shared by all months, and is summed out over a grid with stated priors, as is each month's own
spread, so that a densely sampled year counts little more than a few readings of it, and one year says little of the
next. Bounds are drawn anew under what is known of their neighbours (Tanner and Wong 1987).
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from statistics import NormalDist
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from tackle.records.numbers import AT_LEAST

__all__ = ["DayValue", "LongRun", "fit_long_run", "innovation_weights", "likeness_of_days"]

Array = NDArray[np.float64]

_ALIKE: Final = np.array([0.0, 0.5, 0.8, 0.9, 0.95, 0.98, 0.99, 0.995])  # from a day to the next
_ALIKE_PRIOR: Final = np.array([1.0, 1.0, 2.0, 3.0, 3.0, 3.0, 2.0, 1.0])
_YEARS: Final = np.array([0.0, 0.05, 0.1, 0.15, 0.2, 0.27, 0.35, 0.45, 0.6])  # log: how far a year's months are off
_YEARS_SD: Final = 0.27  # of the half-normal prior of that
_SPREAD: Final = np.exp(np.linspace(np.log(0.08), np.log(1.1), 12))  # log: of the days' own part
_SPREAD_PRIOR: Final = (np.log(0.32), 0.45)
_DRAWS, _SWEEPS, _FIRST_SWEEPS = 4_000, 16, 4
_Z: Final = NormalDist()


class DayValue(NamedTuple):
    """A day's value, as a logarithm; `bound`: as of a measured value."""

    day: date
    log: float
    bound: str = ""


@dataclass(frozen=True, slots=True)
class LongRun:
    """`draws`: by month, of the logarithm of its usual value, from what may be true."""

    draws: Mapping[int, Array]

    def interval(self, month: int, more_spread: float = 0.0) -> tuple[float, float]:
        """Between which values the usual one of a month lies nine times of ten. `more_spread`: of the log, what all the
        values may be off by."""
        draws = self.draws[month]
        if more_spread:
            draws = draws + np.random.default_rng(month).normal(0, more_spread, len(draws))
        low, high = np.percentile(draws, (5, 95))
        return float(np.exp(low)), float(np.exp(high))


@dataclass(slots=True)
class _Block:
    """The values of one month of one year, by day; `fixed`: those that are no bounds."""

    month: int
    gaps: NDArray[np.int64]
    logs: Array
    bounds: list[tuple[int, str, float]]


def innovation_weights(days: Sequence[int], alike: float) -> Array:
    """What each of some days in a row (ordinals, rising) adds to what is known of their mean: the row sums of the
    inverse of their correlation, `alike` to the power of the days between two. Shape (days,)."""
    count = len(days)
    if count == 1 or alike <= 0:
        return np.ones(count)
    passes = alike ** np.diff(np.array(days, dtype=np.float64))
    one_side = np.concatenate([[0.0], passes / (1 + passes)])
    other = np.concatenate([passes / (1 + passes), [0.0]])
    return np.asarray(1.0 - one_side - other)


def fit_long_run(values: Sequence[DayValue]) -> LongRun:
    """What some days tell of the long run of their months. At least one value; one a day."""
    blocks = _blocks(values)
    pick = np.random.default_rng(17)
    bounded = [at for at, block in enumerate(blocks) if block.bounds]
    sweeps = _FIRST_SWEEPS + _SWEEPS if bounded else 1
    each = _DRAWS // _SWEEPS if bounded else _DRAWS
    draws: defaultdict[int, list[Array]] = defaultdict(list)
    found = np.array([_quadratics(block) for block in blocks])
    for sweep in range(sweeps):
        grid = _Grid(blocks, found)
        if sweep >= _FIRST_SWEEPS or not bounded:
            for month in grid.months:
                draws[month].append(grid.draw(month, each, pick))
        for at in bounded:
            _redraw(blocks[at], grid, pick)
            found[at] = _quadratics(blocks[at])
    return LongRun({month: np.concatenate(drawn) for month, drawn in draws.items()})


def likeness_of_days(values: Sequence[DayValue]) -> tuple[float, float]:
    """How alike a day is to the next, and how far years differ (log), as they are to be expected; bounds count as what
    they are bounds of."""
    blocks = _blocks(values)
    grid = _Grid(blocks, np.array([_quadratics(block) for block in blocks]))
    return grid.alike, grid.years


def _blocks(values: Sequence[DayValue]) -> list[_Block]:
    parts: defaultdict[tuple[int, int], list[DayValue]] = defaultdict(list)
    for one in sorted(values):
        parts[one.day.month, one.day.year].append(one)
    found = []
    for (month, _), part in sorted(parts.items()):
        days = np.array([one.day.toordinal() for one in part])
        logs = np.array([one.log for one in part])
        bounds = [(at, one.bound, one.log) for at, one in enumerate(part) if one.bound]
        for at, bound, _ in bounds:
            logs[at] += 0.15 if bound == AT_LEAST else -0.15
        found.append(_Block(month, np.diff(days), logs, bounds))
    return found


class _Grid:
    """What may be true: each combination of how alike days are, how far years differ, and a month's own spread, with
    how likely it is, and what it says of each month's usual value."""

    def __init__(self, blocks: Sequence[_Block], quadratics: Array) -> None:
        """`quadratics`: of each block. Shape (blocks, 4, likenesses)."""
        self.months = sorted({block.month for block in blocks})
        spread2, years2 = _SPREAD**2, _YEARS[:, None] ** 2
        a, b, c, det = (quadratics[:, part, :, None, None] for part in range(4))
        counts = np.array([len(block.logs) for block in blocks])[:, None, None, None]
        both = spread2 + years2 * a
        log_det = (counts - 1) * np.log(spread2) + det + np.log(both)
        square = c / spread2 - years2 * b**2 / (spread2 * both)
        of_month = np.array([block.month for block in blocks])
        spread_prior = -0.5 * ((np.log(_SPREAD) - _SPREAD_PRIOR[0]) / _SPREAD_PRIOR[1]) ** 2
        fits = np.zeros((len(_ALIKE), len(_YEARS)))
        own, self.precision, self.score = {}, {}, {}
        for month in self.months:
            mine = of_month == month
            precision, score = (a[mine] / both[mine]).sum(axis=0), (b[mine] / both[mine]).sum(axis=0)
            left = log_det[mine].sum(axis=0) + square[mine].sum(axis=0) - score**2 / precision + np.log(precision)
            log_fit = -0.5 * left + spread_prior
            top = log_fit.max(axis=2, keepdims=True)
            shares = np.exp(log_fit - top)
            fits += top[:, :, 0] + np.log(shares.sum(axis=2))
            own[month] = shares / shares.sum(axis=2, keepdims=True)
            self.precision[month], self.score[month] = precision.ravel(), score.ravel()
        prior = np.log(_ALIKE_PRIOR)[:, None] - 0.5 * (_YEARS[None, :] / _YEARS_SD) ** 2
        shared = np.exp(fits + prior - (fits + prior).max())
        shared /= shared.sum()
        self.likely = {month: np.cumsum((shared[:, :, None] * own[month]).ravel()) for month in self.months}
        self.alike = float((shared.sum(axis=1) * _ALIKE).sum())
        self.years = float((shared.sum(axis=0) * _YEARS).sum())

    def _pick(self, month: int, count: int, pick: np.random.Generator) -> NDArray[np.int64]:
        likely = self.likely[month]
        return np.minimum(np.searchsorted(likely, pick.uniform(0, likely[-1], count)), len(likely) - 1)

    def draw(self, month: int, count: int, pick: np.random.Generator) -> Array:
        """Usual values of a month (log), drawn from what may be true."""
        at = self._pick(month, count, pick)
        precision = self.precision[month][at]
        return np.asarray(self.score[month][at] / precision + pick.standard_normal(count) / np.sqrt(precision))

    def one(self, month: int, pick: np.random.Generator) -> tuple[float, float, float, float]:
        """One combination that may be true: alike, years, spread, and a usual value of a month."""
        at = int(self._pick(month, 1, pick)[0])
        alike, years, spread = np.unravel_index(at, (len(_ALIKE), len(_YEARS), len(_SPREAD)))
        precision, score = self.precision[month][at], self.score[month][at]
        usual = score / precision + pick.standard_normal() / np.sqrt(precision)
        return float(_ALIKE[alike]), float(_YEARS[years]), float(_SPREAD[spread]), float(usual)


def _quadratics(block: _Block) -> Array:
    """For each likeness of days, with their correlation R and values x: 1'R⁻¹1, 1'R⁻¹x, x'R⁻¹x and log det R. Each
    value less what the one before foretells, over what is left of its spread, is independent of the others."""
    logs = block.logs
    passes = _ALIKE[:, None] ** block.gaps[None, :]
    left = np.sqrt(np.maximum(1 - passes**2, 1e-12))
    ones = np.concatenate([np.ones((len(_ALIKE), 1)), (1 - passes) / left], axis=1)
    values = np.concatenate([np.full((len(_ALIKE), 1), logs[0]), (logs[1:] - passes * logs[:-1]) / left], axis=1)
    log_det = 2 * np.log(left).sum(axis=1)
    return np.stack([(ones**2).sum(axis=1), (ones * values).sum(axis=1), (values**2).sum(axis=1), log_det])


def _redraw(block: _Block, grid: _Grid, pick: np.random.Generator) -> None:
    """Draws the bounds of a block anew, each beyond its bound, under its neighbours."""
    alike, years, spread, usual = grid.one(block.month, pick)
    weights = innovation_weights(np.concatenate([[0], np.cumsum(block.gaps)]).tolist(), alike)
    around = weights.sum() / spread**2
    pull = (weights * (block.logs - usual)).sum() / spread**2
    precision = around + (1 / years**2 if years else np.inf)
    year = 0.0 if not years else pull / precision + pick.standard_normal() / np.sqrt(precision)
    middle, last = usual + year, len(block.logs) - 1
    for at, bound, edge in block.bounds:
        before = alike ** float(block.gaps[at - 1]) if at else 0.0
        after = alike ** float(block.gaps[at]) if at < last else 0.0
        one, other = before**2 / max(1 - before**2, 1e-9), after**2 / max(1 - after**2, 1e-9)
        told = 1 + one + other
        mean = 0.0
        if at:
            mean += before / max(1 - before**2, 1e-9) * (block.logs[at - 1] - middle)
        if at < last:
            mean += after / max(1 - after**2, 1e-9) * (block.logs[at + 1] - middle)
        centre, width = middle + mean / told, spread / np.sqrt(told)
        at_edge = _Z.cdf((edge - centre) / width)
        share = pick.uniform(at_edge, 1.0) if bound == AT_LEAST else pick.uniform(0.0, at_edge)
        share = min(max(share, 1e-9), 1 - 1e-9)
        drawn = centre + width * _Z.inv_cdf(share)
        block.logs[at] = max(drawn, edge) if bound == AT_LEAST else min(drawn, edge)
