"""A water's year as guessed and as measured, together: for each month how far one sees, and how sure that is.

On the log scale a month's sight is normal about a middle. What the guess is off by is drawn from a stated spread: by so
much for the whole water, by so much for a month, months beside one another alike. With readings that is a Gaussian with
a closed form (Bayesian linear regression; Gelman et al., Bayesian Data Analysis, 3rd ed., ch. 14), so that a month
borrows from its neighbours and from the kind of water as far as it has too little of its own. Readings of days that
follow one another weigh by what each adds to the others, years differ by a term of their own (`long_run` says how much
of either there is), and a reading that is a bound counts by the part of the curve beyond it (Tobin 1958).
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from statistics import NormalDist
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.records.long_run import DayValue, innovation_weights, likeness_of_days
from tackle.records.numbers import AT_LEAST, AT_MOST
from tackle.situations.clarity import HOUSE_LADDER, MAX_VISIBILITY_IN, Ladder
from tackle.situations.visibility import Spread

__all__ = ["HALF_LIFE_Y", "KnownYear", "Rests", "Seen", "WET_IN", "known_year"]

HALF_LIFE_Y: Final = 8.0  # after so many years a reading weighs half
WET_IN: Final = 0.4  # of rain in the two days before, from which a reading is one after rain
OFF_ALL, OFF_MONTH, ALIKE = 0.35, 0.25, 0.6  # log: what a guess is off by; how alike neighbouring months are
SAID: Final = 0.5  # of that for a month that its angler has said
_RAIN_MEAN, _RAIN_SD = -0.3, 0.3  # log: what rain does to sight
_WORKED_OUT, _LEAST_OFF = 0.2, 1e-3  # log: what one reading from turbidity is off by alone; never nothing
_SPREAD_COUNTS_AS: Final = 8.0  # readings that the guess of a month's spread is worth
_LEAST_SPREAD: Final = 0.12
_TENTH: Final = 1.2815515655446004  # of a normal, with a tenth above
_EVEN_AT: Final = np.array([-1.25, -1.0, 0.0, 1.0, 1.25]) * _TENTH
_EVEN_BELOW: Final = (0.0, 0.1, 0.5, 0.9, 1.0)
_NORMAL_AT: Final = np.linspace(-4, 4, 81)
_NORMAL_BELOW: Final = tuple(NormalDist().cdf(at) for at in _NORMAL_AT.tolist())
_DRAWS: Final = 400
_ROUNDS: Final = 4
_BOUND_ROUNDS: Final = 12
_LEAST_COUNT: Final = 1e-6  # of a bound that is met anyhow
_NORMAL: Final = NormalDist()


@dataclass(frozen=True, slots=True)
class Seen:
    """A reading: its day, how far one saw (in), and the rain of the two days before (in), where that is known.

    `off_by`: log; what the curve that it was worked out by, from turbidity, may be off by, for all such alike; 0: it
    was seen. `bound`: "at least" or "at most" where it is one, as of a white disk on the bottom.
    """

    day: date
    inches: float
    rain_in: float | None = None
    off_by: float = 0.0
    bound: str = ""


@dataclass(frozen=True, slots=True)
class Rests:
    """On what a month rests: readings, over how many years, on how many the rain before is known, and what they weigh
    together, by age and by what each adds to those of the days around it."""

    readings: int
    years: int
    rain_known: int
    weight: float


@dataclass(frozen=True, slots=True)
class KnownYear:
    """The months, each with its spread, an interval that holds its usual sight (in) nine times of ten, and on what it
    rests. `middles` and `spreads`, (draws, 12): logs of inches, drawn from what may be true."""

    months: Mapping[int, Spread]
    intervals: Mapping[int, tuple[float, float]]
    rests: Mapping[int, Rests]
    middles: NDArray[np.float64]
    spreads: NDArray[np.float64]
    sides: NDArray[np.float64]

    @property
    def level(self) -> tuple[float, float]:
        """By what factors the whole year may be off, nine times of ten."""
        low, high = np.percentile((self.middles - self.middles.mean(axis=0)).mean(axis=1), (5, 95))
        return float(np.exp(low)), float(np.exp(high))

    def band_days(self, days: Mapping[int, float], ladder: Ladder = HOUSE_LADDER) -> NDArray[np.float64]:
        """For each band, murkiest first, between which days a year nine of ten draws lie. Shape (6, 2).

        Whether a month's days lie evenly between its numbers, as they are planned for, or as a normal does, is not
        known: half of the draws have them so, half so.
        """
        fished = np.array([days.get(month, 0.0) for month in range(1, 13)])
        steps = (np.log(ladder.edges_in) - self.middles[:, :, None]) / self.spreads[:, :, None]
        steps = np.where(steps < 0, steps / self.sides[:, :1], steps / self.sides[:, 1:])
        even = np.interp(steps, _EVEN_AT, _EVEN_BELOW)
        normal = np.interp(steps, _NORMAL_AT, _NORMAL_BELOW)
        below = np.where(np.arange(len(steps))[:, None, None] % 2, even, normal)
        ends = np.zeros((*below.shape[:2], 1)), np.ones((*below.shape[:2], 1))
        shares = np.diff(np.concatenate([ends[0], below, ends[1]], axis=2), axis=2)
        return np.asarray(np.percentile(np.einsum("dmb,m->db", shares, fished), (5, 95), axis=0).T)


def known_year(
    guess: Mapping[int, Spread],
    said: Collection[int],
    readings: Sequence[Seen],
    today: date,
    half_life_y: float = HALF_LIFE_Y,
    wet: Mapping[int, float] | None = None,
) -> KnownYear:
    """The year of a water, months 1 to 12. `said`: the months that its angler told. `wet`: the share of days after rain
    by month, where that is known: rain then counts, of readings of which it is known too."""
    middle = np.log([guess[month].usual_in for month in range(1, 13)])
    below, above = (
        np.abs(np.log([getattr(guess[month], edge) for month in range(1, 13)]) - middle) / _TENTH
        for edge in ("low_in", "high_in")
    )
    width = np.maximum((below + above) / 2, _LEAST_SPREAD)
    sides = np.clip(np.stack([below, above], axis=1) / width[:, None], 0.3, 1.7)
    rained = np.array([(wet or {}).get(month, 0.0) for month in range(1, 13)])
    worked_out = np.array([reading.off_by for reading in readings])
    noise = np.where(worked_out > 0, _WORKED_OUT, 0.0) ** 2
    alike, differ = likeness_of_days(_day_values(readings)) if readings else (0.0, 0.0)
    years = sorted({reading.day.year for reading in readings})
    size = 14 + len(years)
    prior = np.zeros((size, size))  # what each month is off by, what rain does, what the curve is off by, and each year
    prior[:12, :12] = _off(said)
    prior[12, 12], prior[13, 13] = _RAIN_SD**2, max(worked_out.max(initial=0.0), _LEAST_OFF) ** 2
    prior[14:, 14:] = np.eye(len(years)) * max(differ, _LEAST_OFF) ** 2
    mean = np.array([*np.zeros(12), _RAIN_MEAN, *np.zeros(size - 13)])
    rows = _rows(readings, rained, bool(wet), years)
    weight = _weights(readings, today, half_life_y, alike)
    bounds = np.array([{AT_LEAST: 1.0, AT_MOST: -1.0}.get(reading.bound, 0.0) for reading in readings])
    month = np.array([reading.day.month - 1 for reading in readings], dtype=np.int64)
    data = np.log(np.array([reading.inches for reading in readings])) - middle[month] + _RAIN_MEAN * rained[month]
    scale, found = 1.0, mean
    for _ in range(_BOUND_ROUNDS if bounds.any() else _ROUNDS):
        spread2 = scale * width[month] ** 2 + noise
        target, counts = _beyond(data, rows @ found, np.sqrt(spread2), bounds)
        precision = weight * counts / spread2
        inner = np.linalg.inv(prior) + rows.T @ (rows * precision[:, None])
        cover = np.linalg.inv(inner)
        found = cover @ (np.linalg.inv(prior) @ mean + rows.T @ (precision * target))
        left = np.where(bounds == 0, data - rows @ found, np.sqrt(spread2))
        spare = np.einsum("ij,jk,ik->i", rows, cover, rows)
        seen = (weight * np.maximum(left**2 + spare - noise, 0.0) / width[month] ** 2).sum()
        scale = float((_SPREAD_COUNTS_AS + seen) / (_SPREAD_COUNTS_AS + weight.sum()))
    # What rain does was in the guess already, as far as it usually rains.
    shift = np.concatenate([np.eye(12), rained[:, None], np.zeros((12, size - 13))], axis=1)
    at = middle + shift @ found - _RAIN_MEAN * rained
    pick = np.random.default_rng(12)
    drawn = pick.multivariate_normal(found, cover, _DRAWS, method="cholesky") @ shift.T + middle - _RAIN_MEAN * rained
    freedom = _SPREAD_COUNTS_AS + weight.sum()
    scales = np.sqrt(scale * freedom / pick.chisquare(freedom, _DRAWS))
    unsure = np.sqrt(np.einsum("ij,jk,ik->i", shift, cover, shift))
    months = {
        number: _spread(
            at[number - 1], np.hypot(np.sqrt(scale) * width[number - 1], unsure[number - 1]), sides[number - 1]
        )
        for number in range(1, 13)
    }
    ends = np.exp(np.percentile(drawn, (5, 95), axis=0).T)
    return KnownYear(
        months=months,
        intervals={number: (float(ends[number - 1, 0]), float(ends[number - 1, 1])) for number in months},
        rests={number: _rests(readings, weight, number) for number in months},
        middles=drawn,
        spreads=scales[:, None] * width,
        sides=sides,
    )


def _off(said: Collection[int]) -> NDArray[np.float64]:
    """How what the guesses of the months are off by goes together. Shape (12, 12), of logs."""
    place = np.arange(12)
    apart = np.abs(place[:, None] - place)
    kernel = OFF_ALL**2 + OFF_MONTH**2 * ALIKE ** np.minimum(apart, 12 - apart)
    trust = np.array([SAID if month in said else 1.0 for month in range(1, 13)])
    return np.asarray(kernel * np.outer(trust, trust))


def _day_values(readings: Sequence[Seen]) -> list[DayValue]:
    """One value a day, the first of it: what days in a row have in common is to be told, not what hours have."""
    first = {reading.day: reading for reading in reversed(readings)}
    return [DayValue(day, float(np.log(one.inches)), one.bound) for day, one in sorted(first.items())]


def _beyond(
    data: NDArray[np.float64], at: NDArray[np.float64], spread: NDArray[np.float64], bounds: NDArray[np.float64]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """What each reading is taken for, and how much it then counts: a whole one for itself, a bound for the mean of what
    lies beyond it, and less the surer it is met anyhow."""
    target, counts = data.copy(), np.ones(len(data))
    for index in np.flatnonzero(bounds):
        edge = min(max(bounds[index] * (data[index] - at[index]) / spread[index], -8.0), 8.0)
        hazard = _NORMAL.pdf(edge) / max(1 - _NORMAL.cdf(edge), 1e-15)
        counts[index] = max(hazard * (hazard - edge), _LEAST_COUNT)
        target[index] = at[index] + bounds[index] * spread[index] * hazard / counts[index]
    return target, counts


def _rows(
    readings: Sequence[Seen], rained: NDArray[np.float64], by_rain: bool, years: Sequence[int]
) -> NDArray[np.float64]:
    rows = np.zeros((len(readings), 14 + len(years)))
    for at, one in enumerate(readings):
        rows[at, one.day.month - 1], rows[at, 13] = 1.0, float(one.off_by > 0)
        rows[at, 14 + years.index(one.day.year)] = 1.0
        if by_rain:
            usual = rained[one.day.month - 1]
            rows[at, 12] = usual if one.rain_in is None else float(one.rain_in >= WET_IN)
    return rows


def _weights(readings: Sequence[Seen], today: date, half_life_y: float, alike: float) -> NDArray[np.float64]:
    """What each reading weighs: half as much after each half-life, and what it adds to those of the days around it;
    those of one day as one together."""
    of_day = Counter(reading.day.toordinal() for reading in readings)
    days = sorted(of_day)
    adds = dict(zip(days, innovation_weights(days, alike), strict=True)) if days else {}
    return np.array(
        [
            0.5 ** (max((today - reading.day).days, 0) / 365.25 / half_life_y)
            * adds[reading.day.toordinal()] / of_day[reading.day.toordinal()]
            for reading in readings
        ],
        dtype=np.float64,
    )  # fmt: skip


def _rests(readings: Sequence[Seen], weight: NDArray[np.float64], month: int) -> Rests:
    mine = [(one, float(weighs)) for one, weighs in zip(readings, weight, strict=True) if one.day.month == month]
    return Rests(
        readings=len(mine),
        years=len({one.day.year for one, _ in mine}),
        rain_known=sum(one.rain_in is not None for one, _ in mine),
        weight=sum(weighs for _, weighs in mine),
    )


def _spread(middle: float, width: float, sides: NDArray[np.float64]) -> Spread:
    low, high = middle - _TENTH * width * sides[0], middle + _TENTH * width * sides[1]
    low, usual, high = (float(one) for one in np.clip(np.exp([low, middle, high]), 0.5, MAX_VISIBILITY_IN))
    return Spread(low, usual, high)
