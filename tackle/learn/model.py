"""Bites in a turn are Poisson: minutes x the day's own rate x the hour's drift x exp(effect of the colour).

Given how many bites a day gave, which turns they fell in depends on minutes, drift and effects alone (a multinomial),
so that a day's own rate never has to be known. The effects are normal around the book's word; the drift is normal too,
in blocks of an hour that go together the more, the nearer they are, some of it the same on all days, some each day's
own. The posterior is normal around its mode
(Laplace), found by Newton steps; each day's own drift is taken out of the equations as it goes (a Schur complement).
How wide the drift is is not known: a few widths are tried and mixed by how well they explain the log.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import product

import numpy as np
from numpy.typing import NDArray

from tackle.colours.colour import Colour
from tackle.learn.assumed import Assumed
from tackle.learn.log import Turn, bite_size, find_square, merged, telling

__all__ = ["Belief", "believed"]

Array = NDArray[np.float64]
_ROUNDS = 40
_SURE_ENOUGH = 1e-9
_DRAWS = 20_000


@dataclass(frozen=True, slots=True, eq=False)
class Belief:
    """What is believed of some colours: normal distributions of their effects, mixed.

    `shares` (g,) of the mixture, `means` (g, k) and `covariances` (g, k, k). Effects are relative to the mean of all.
    """

    colours: tuple[str, ...]
    shares: Array
    means: Array
    covariances: Array

    def interval(self, low: float, high: float, place: int) -> tuple[float, float]:
        """The effects that hold from one share of the belief to another, for one colour."""
        return self._at(low, place), self._at(high, place)

    def mean(self, place: int) -> float:
        """The mean effect of one colour."""
        return float(self.shares @ self.means[:, place])

    def better(self, one: int, other: int) -> float:
        """How likely it is that one colour's effect is above another's."""
        apart = self.means[:, one] - self.means[:, other]
        spread = self.covariances[:, one, one] + self.covariances[:, other, other] - 2 * self.covariances[:, one, other]
        return float(self.shares @ [_below(a / math.sqrt(max(s, 1e-300))) for a, s in zip(apart, spread, strict=True)])

    def best(self) -> list[float]:
        """For each colour how likely it is the best, by seeded draws."""
        if not self.colours:
            return []
        draws = self.draws(np.random.default_rng(20_260_501), _DRAWS)
        return [float(share) for share in np.bincount(draws.argmax(axis=1), minlength=len(self.colours)) / len(draws)]

    def draws(self, rng: np.random.Generator, count: int) -> Array:
        """Effects drawn from the belief, (about count, k)."""
        parts = []
        for share, mean, spread in zip(self.shares, self.means, self.covariances, strict=True):
            parts.append(mean + rng.standard_normal((max(round(count * share), 0), len(mean))) @ _root(spread).T)
        return np.concatenate(parts)

    def drawn(self, rng: np.random.Generator) -> Array:
        """Effects drawn once from the belief, (k,)."""
        part = int(rng.choice(len(self.shares), p=self.shares))
        normal = rng.standard_normal(len(self.colours))
        return np.asarray(self.means[part] + _root(self.covariances[part]) @ normal, dtype=np.float64)

    def _at(self, share: float, place: int) -> float:
        means, deviations = self.means[:, place], np.sqrt(np.maximum(self.covariances[:, place, place], 1e-300))
        low, high = float((means - 9 * deviations).min()), float((means + 9 * deviations).max())
        for _ in range(80):
            middle = (low + high) / 2
            below = float(self.shares @ [_below((middle - m) / s) for m, s in zip(means, deviations, strict=True)])
            low, high = (middle, high) if below < share else (low, middle)
        return (low + high) / 2


def _root(spread: Array) -> Array:
    """A matrix whose square is a spread, which may be flat in some directions."""
    values, vectors = np.linalg.eigh(spread)
    return np.asarray(vectors * np.sqrt(np.maximum(values, 0)), dtype=np.float64)


def _below(value: float) -> float:
    """The standard normal distribution function."""
    return 0.5 * math.erfc(-value / math.sqrt(2))


def believed(
    turns: Sequence[Turn],
    cards: Sequence[Colour],
    book: Mapping[str, float],
    data: Assumed,
    cell: tuple[str, str] | None = None,
) -> Belief:
    """What the log and the book say of some cards: in one clarity and light, or on the whole of what was thrown.

    `book`: the word of the book before the log, by card id.
    """
    colours = tuple(card.id for card in cards)
    if not cards:
        return Belief((), np.ones(1), np.zeros((1, 0)), np.zeros((1, 0, 0)))
    mine = [turn for turn in merged(turns, data) if turn.colour in book]
    days = telling(mine)
    problem = _Problem(days, mine, cards, book, data, cell)
    timed = any(turn.at is not None for day in days for turn in day)
    widths = list(product(data.drift, data.drift)) if timed else [(0.0, 0.0)]
    fits = [problem.fit(common, own) for common, own in widths]
    before = dict(zip(data.drift, data.drift_before, strict=True))
    evidence = np.array([
        fit[2] + math.log(before[common] * before[own]) for fit, (common, own) in zip(fits, widths, strict=True)
    ])  # fmt: skip
    shares = np.exp(evidence - evidence.max())
    return Belief(
        colours, shares / shares.sum(), np.array([fit[0] for fit in fits]), np.array([fit[1] for fit in fits])
    )


class _Problem:
    """The telling days as arrays, padded to the longest: turns by day, and what each turn hangs on."""

    def __init__(
        self,
        days: Sequence[Sequence[Turn]],
        mine: Sequence[Turn],
        cards: Sequence[Colour],
        book: Mapping[str, float],
        data: Assumed,
        cell: tuple[str, str] | None,
    ) -> None:
        place = {card.id: at for at, card in enumerate(cards)}
        thrown = sorted({
            (turn.colour, where) for day in days for turn in day if (where := find_square(turn.situation, data))
        } | ({(card.id, cell) for card in cards} if cell else set()))  # fmt: skip
        cells = {one: len(cards) + at for at, one in enumerate(thrown)}
        blocks = sorted({_block(turn, data) for day in days for turn in day})
        self.colours, self.cells, self.blocks = len(cards), len(cells), len(blocks)
        count, longest = len(days), max((len(day) for day in days), default=1)
        own = max((len({_block(turn, data) for turn in day}) for day in days), default=1)
        self.minutes = np.zeros((count, longest))
        self.bites = np.zeros((count, longest))
        self.fixed = np.zeros((count, longest, self.colours + self.cells))
        self.common = np.zeros((count, longest, self.blocks))
        self.own = np.zeros((count, longest, own))
        hours = np.array([block * data.block_hours for block in blocks] or [0.0])
        self.kernel = _along(hours, data)
        self.own_kernel = np.tile(np.eye(own), (count, 1, 1))
        for d, day in enumerate(days):
            here = sorted({_block(turn, data) for turn in day})
            times = np.array([block * data.block_hours for block in here])
            self.own_kernel[d, : len(here), : len(here)] = _along(times, data)
            for t, turn in enumerate(day):
                self.minutes[d, t], self.bites[d, t] = turn.minutes, turn.bites
                self.fixed[d, t, place[turn.colour]] = 1
                if where := find_square(turn.situation, data):
                    self.fixed[d, t, cells[turn.colour, where]] = 1
                self.common[d, t, blocks.index(_block(turn, data))] = 1
                self.own[d, t, here.index(_block(turn, data))] = 1
        self.own_precision = np.linalg.inv(self.own_kernel)
        self.size = bite_size([turn for day in days for turn in day], data)
        self.prior = np.zeros(self.colours + self.cells)
        self.prior[: self.colours] = [book[card.id] for card in cards]
        self.spread = np.zeros((len(self.prior), len(self.prior)))
        self.spread[: self.colours, : self.colours] = _together(cards, data)
        rest = np.arange(self.colours, len(self.prior))
        self.spread[rest, rest] = data.departure**2
        self.shown = self._shown(mine, cards, cells, data, cell)

    def _shown(
        self,
        mine: Sequence[Turn],
        cards: Sequence[Colour],
        cells: Mapping[tuple[str, tuple[str, str]], int],
        data: Assumed,
        cell: tuple[str, str] | None,
    ) -> Array:
        """What is asked for, as a matrix on all effects: each card's own, with its departure in the cell asked for, or
        in all that were thrown by their minutes; less the mean of the cards."""
        minutes: dict[tuple[str, str], float] = {}
        for turn in mine:
            if where := find_square(turn.situation, data):
                minutes[where] = minutes.get(where, 0.0) + turn.minutes
        total = sum(minutes.values())
        shown = np.zeros((self.colours, len(self.prior)))
        for at, card in enumerate(cards):
            shown[at, at] = 1
            for where, share in ({cell: 1.0} if cell else {one: m / total for one, m in minutes.items()}).items():
                if (card.id, where) in cells:
                    shown[at, cells[card.id, where]] = share
        return np.asarray(shown - shown.mean(axis=0), dtype=np.float64)

    def fit(self, common: float, own: float) -> tuple[Array, Array, float]:
        """The means and spreads of what is asked for, with drifts so wide; and the logarithm of the evidence."""
        spread, prior = self.spread, self.prior
        features = self.fixed
        if common:
            spread = _blocked(spread, self.kernel * common**2)
            prior = np.concatenate((prior, np.zeros(self.blocks)))
            features = np.concatenate((features, self.common), axis=2)
        precision: Array = np.asarray(np.linalg.inv(spread), dtype=np.float64)
        local = self.own if own else np.zeros((*self.own.shape[:2], 0))
        mode, drift = prior.copy(), np.zeros((len(local), local.shape[2]))
        worth = self._worth(mode, drift, features, local, precision, prior, own)
        for _ in range(_ROUNDS):
            step, step_own = self._step(mode, drift, features, local, precision, prior, own)[:2]
            size = 1.0
            while size > 1e-4:
                tried = mode + size * step, drift + size * step_own
                then = self._worth(*tried, features, local, precision, prior, own)
                if then >= worth - 1e-12:
                    break
                size /= 2
            gained, worth = then - worth, then
            mode, drift = tried
            if gained < _SURE_ENOUGH:
                break
        _, _, curved, log_own = self._step(mode, drift, features, local, precision, prior, own)
        after = np.linalg.inv(curved)
        evidence = worth - 0.5 * (np.linalg.slogdet(curved)[1] - np.linalg.slogdet(precision)[1] + log_own)
        shown = np.zeros((self.colours, len(prior)))
        shown[:, : self.shown.shape[1]] = self.shown
        return shown @ mode, shown @ after @ shown.T, float(evidence)

    def _chances(self, mode: Array, drift: Array, features: Array, local: Array) -> Array:
        """For each turn its share of its day's bites."""
        rate = features @ mode + (local @ drift[..., None])[..., 0]
        rate = np.where(self.minutes > 0, rate, -np.inf)
        weighed = self.minutes * np.exp(rate - rate.max(axis=1, keepdims=True, initial=-1e300))
        return np.asarray(weighed / np.maximum(weighed.sum(axis=1, keepdims=True), 1e-300), dtype=np.float64)

    def _worth(
        self, mode: Array, drift: Array, features: Array, local: Array, precision: Array, prior: Array, own: float
    ) -> float:
        chances = self._chances(mode, drift, features, local)
        fits = float((self.bites * np.log(np.maximum(chances, 1e-300))).sum()) / self.size
        off = mode - prior
        return fits - 0.5 * float(off @ precision @ off) - (0.5 * self._roughness(drift) / own**2 if own else 0.0)

    def _roughness(self, drift: Array) -> float:
        """The drifts' squares, by how they go together within each day."""
        return float(np.einsum("db,dbc,dc->", drift, self.own_precision, drift))

    def _step(
        self, mode: Array, drift: Array, features: Array, local: Array, precision: Array, prior: Array, own: float
    ) -> tuple[Array, Array, Array, float]:
        """A Newton step of the effects and of each day's drift; the curvature left, its logarithm for the drifts."""
        chances = self._chances(mode, drift, features, local)
        totals = self.bites.sum(axis=1) / self.size
        left = self.bites / self.size - totals[:, None] * chances
        weights = totals[:, None] * chances
        mean = np.einsum("dt,dtp->dp", chances, features)
        flat = features.reshape(-1, features.shape[2])
        curved = precision + (flat * weights.reshape(-1, 1)).T @ flat - (mean * totals[:, None]).T @ mean
        slope = flat.T @ left.reshape(-1) - precision @ (mode - prior)
        if not own:
            return np.linalg.solve(curved, slope), drift, curved, 0.0
        mean_own = np.einsum("dt,dtb->db", chances, local)
        weighed = local * weights[..., None]
        inner = (
            np.einsum("dtb,dtc->dbc", weighed, local) - totals[:, None, None] * mean_own[:, :, None] * mean_own[:, None]
        )
        inner += self.own_precision / own**2
        cross = (
            np.einsum("dtp,dtb->dpb", features, weighed) - totals[:, None, None] * mean[:, :, None] * mean_own[:, None]
        )
        slope_own = np.einsum("dt,dtb->db", left, local) - (self.own_precision @ drift[..., None])[..., 0] / own**2
        solved = np.linalg.solve(inner, np.concatenate((cross.transpose(0, 2, 1), slope_own[..., None]), axis=2))
        curved = curved - np.einsum("dpb,dbq->pq", cross, solved[..., :-1])
        step = np.linalg.solve(curved, slope - np.einsum("dpb,db->p", cross, solved[..., -1]))
        step_own = solved[..., -1] - np.einsum("dbp,p->db", solved[..., :-1], step)
        log_own = float((np.linalg.slogdet(inner)[1] - np.linalg.slogdet(self.own_precision / own**2)[1]).sum())
        return step, step_own, curved, log_own


def _block(turn: Turn, data: Assumed) -> int:
    """The block of hours that a turn begins in; -1 where it does not say."""
    return -1 if turn.at is None else int(turn.at // data.block_hours)


def _along(hours: Array, data: Assumed) -> Array:
    """How the drift in some hours goes together: the less, the further they are apart."""
    return np.asarray(np.exp(-np.abs(hours[:, None] - hours[None, :]) / data.drift_hours), dtype=np.float64)


def _together(cards: Sequence[Colour], data: Assumed) -> Array:
    """How the effects of cards go together before the log: those of one tone and opacity somewhat."""
    alike = np.array([[card.tone is other.tone and card.opacity is other.opacity for other in cards] for card in cards])
    return data.spread**2 * (data.family * alike + (1 - data.family) * np.eye(len(cards)))


def _blocked(one: Array, other: Array) -> Array:
    whole = np.zeros((len(one) + len(other), len(one) + len(other)))
    whole[: len(one), : len(one)] = one
    whole[len(one) :, len(one) :] = other
    return whole
