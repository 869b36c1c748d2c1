"""What records are worth: whether intervals hold what they say, and what a plan from records loses against one from the
template, over waters drawn from the spread that the template is said to have."""

from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction
from itertools import product
from statistics import NormalDist

import numpy as np
from numpy.typing import NDArray

from tackle.colours.palette import house_palette
from tackle.cover.plan import Request
from tackle.cover.planner import make_plan
from tackle.records.measured import Measured
from tackle.records.months import by_month
from tackle.records.posterior import Seen, known_year
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.clarity import HOUSE_LADDER
from tackle.situations.expected import expected_days
from tackle.situations.hashable import HashedTable
from tackle.situations.regions import regions
from tackle.situations.starting import first_guess, kinds
from tackle.situations.visibility import Spread
from tackle.situations.water import Water

TODAY = date(2026, 11, 30)
CORRELATED = ((0.95, 0.15), (0.8, 0.0), (0.99, 0.4))  # how alike days are, how far years differ; the first is asked
COUNTS = (2, 5, 10, 20, 50, 200)
WATERS, PLANNED, YEARS = 120, 24, 6
MOST, AT_MOST = 0.95, 4
LEAST = 0.85
TENTH = NormalDist().inv_cdf(0.9)


class Truth:
    """A water as it is: the months wander from the guess by a walk round the year, and spread other than it."""

    def __init__(self, guess: Water, pick: np.random.Generator, even: bool) -> None:
        self.guess, self.pick, self.even = guess, pick, even
        months = guess.months
        walk, step = [], 0.0
        for blow in pick.normal(0, 0.25 * np.sqrt(1 - 0.6**2), 72):
            step = 0.6 * step + blow
            walk.append(step)
        off = pick.normal(0, 0.35) + np.array(walk[-12:])
        self.usual = {m: months[m].spread.usual_in * float(np.exp(off[m - 1])) for m in months}
        wider = float(np.sqrt(8 / pick.chisquare(8)))
        self.below = {m: wider * np.log(months[m].spread.usual_in / months[m].spread.low_in) / TENTH for m in months}
        self.above = {m: wider * np.log(months[m].spread.high_in / months[m].spread.usual_in) / TENTH for m in months}

    def readings(self, count: int) -> list[Seen]:
        """So many looks on days of some years, each under the sight of its day."""
        found = []
        for back in self.pick.integers(0, YEARS * 365, count):
            day = TODAY - timedelta(days=int(back))
            share = float(self.pick.random())
            step = float(np.interp(share, EVEN[1], EVEN[0])) if self.even else NormalDist().inv_cdf(share)
            side = self.below if step < 0 else self.above
            found.append(Seen(day, self.usual[day.month] * float(np.exp(step * side[day.month]))))
        return found

    def band_days(self) -> NDArray[np.float64]:
        """Days a year in each band, murkiest first."""
        total = np.zeros(6)
        for number, month in self.guess.months.items():
            at = np.log(HOUSE_LADDER.edges_in) - np.log(self.usual[number])
            steps = np.where(at < 0, at / self.below[number], at / self.above[number])
            below = np.interp(steps, *EVEN) if self.even else np.array([NormalDist().cdf(one) for one in steps])
            total += month.days * np.diff(np.concatenate([[0.0], below, [1.0]]))
        return total

    def water(self) -> Water:
        return with_spreads(
            self.guess,
            {
                m: Spread(
                    self.usual[m] * float(np.exp(-TENTH * self.below[m])), self.usual[m],
                    min(self.usual[m] * float(np.exp(TENTH * self.above[m])), 1200.0),
                )
                for m in self.usual
            },
        )  # fmt: skip


EVEN = (np.array([-1.25, -1.0, 0.0, 1.0, 1.25]) * TENTH, np.array([0.0, 0.1, 0.5, 0.9, 1.0]))


def with_spreads(water: Water, spreads: dict[int, Spread]) -> Water:
    months = {number: replace(month, spread=spreads[number]) for number, month in water.months.items()}
    return replace(water, months=HashedTable(months))


def guesses() -> list[Water]:
    return [first_guess(kind, region) for kind in kinds().values() for region in regions().values()]


def run() -> bool:
    return _intervals() & _long_run() & _losses()


def _intervals() -> bool:
    good, every = True, guesses()
    for count in COUNTS:
        usual: list[bool] = []
        bands: list[bool] = []
        for seed in range(WATERS):
            truth = Truth(every[seed * 7 % len(every)], np.random.default_rng(100 * seed + count), bool(seed % 2))
            spreads = {m: month.spread for m, month in truth.guess.months.items()}
            known = known_year(spreads, (), truth.readings(count), TODAY, half_life_y=1000)
            usual += [low <= truth.usual[m] <= high for m, (low, high) in known.intervals.items()]
            told = known.band_days({m: month.days for m, month in truth.guess.months.items()})
            days = truth.band_days()
            bands += [
                low <= there <= high for there, (low, high) in zip(days, told, strict=True) if max(there, high) >= 0.5
            ]
        held = float(np.mean(usual)), float(np.mean(bands))
        good &= all(LEAST <= one <= MOST for one in held)
        print(
            f"     {count:4} readings: intervals of 90 % hold {held[0]:.1%} of months, {held[1]:.1%} of days by water"
        )
    return good


def _long_run() -> bool:
    """Months of records whose days follow one another: as they are asked to hold, and where that was not fitted to."""
    good = True
    for (alike, years_sd), years, every, bounds in product(CORRELATED, (1, 8), (1, 7, 15, 30), (0.0, 0.2)):
        asked = (alike, years_sd) == CORRELATED[0]
        if bounds and not asked:
            continue
        held = []
        for seed in range(max(WATERS // 10, 1)):
            readings, usual = _correlated(np.random.default_rng(seed), alike, years_sd, years, every, bounds)
            held += [month.interval[0] <= usual <= month.interval[1] for month in by_month(readings)]
        share = float(np.mean(held))
        good &= not asked or LEAST <= share <= MOST
        print(f"     {years} years, every {every:2} days, alike by {alike}, years by {years_sd}, {bounds:.0%} bounds: "
              f"intervals of 90 % hold {share:.1%}")  # fmt: skip
    return good


def _correlated(
    pick: np.random.Generator, alike: float, years_sd: float, years: int, every: int, bounds: float
) -> tuple[list[Measured], float]:
    """A record of so many years, a reading every so many days, and its usual value (in)."""
    usual, days, own = 30.0, 365 * years, pick.standard_normal()
    of_year = pick.normal(0, years_sd, years + 1)
    found = []
    for ahead in range(days):
        own = alike * own + np.sqrt(1 - alike**2) * pick.standard_normal()
        day = date(2015, 1, 1) + timedelta(days=ahead)
        if ahead % every == 0:
            inches = usual * float(np.exp(of_year[day.year - 2015] + 0.3 * own))
            bound = "at least" if pick.random() < bounds else ""
            found.append(
                Measured(day, "", inches * (float(np.exp(-abs(pick.normal(0, 0.15)))) if bound else 1.0), bound)
            )
    return found, usual


def _losses() -> bool:
    good, every = True, [one for one in guesses() if one.salinity == "fresh"]
    for count in COUNTS:
        lost = {"template": 0.0, "records": 0.0}
        for seed in range(PLANNED):
            truth = Truth(every[seed * 5 % len(every)], np.random.default_rng(900 + 100 * seed + count), bool(seed % 2))
            spreads = {m: month.spread for m, month in truth.guess.months.items()}
            known = known_year(spreads, (), truth.readings(count), TODAY, half_life_y=1000)
            true = truth.water()
            best = _right(true, _set(true))
            lost["template"] += best - _right(true, _set(truth.guess))
            lost["records"] += best - _right(true, _set(with_spreads(truth.guess, dict(known.months))))
        if count >= 20:
            good &= lost["records"] <= lost["template"] / 2
        told = ", ".join(f"{name} {days / PLANNED:.2f}" for name, days in lost.items())
        print(f"     {count:4} readings: right days a year lost by the plan from {told}")
    return good


def _asked(water: Water) -> Request:
    expected = expected_days([water]).on((True,))
    books = tuple(house_rulebooks().values())
    return Request("worm", books, expected.situations("worm"), expected.counts, at_most=AT_MOST, right=Fraction(1))


def _set(water: Water) -> frozenset[str]:
    return frozenset(piece.card.id for piece in make_plan(_asked(water), house_palette()).pieces)


def _right(water: Water, chosen: frozenset[str]) -> float:
    """The right days of a set in the water as it is."""
    others = house_palette().ids_in("worm") - chosen
    return make_plan(replace(_asked(water), lock=chosen, ban=others), house_palette()).right_days
