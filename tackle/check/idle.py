"""Colours that answer no expected day, and the water and season in which they would."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product

import numpy as np

from tackle.base.store import kept
from tackle.base.vocabulary import TRAILER, Forage, Grade, Light, Season
from tackle.check.held import HeldInPairs
from tackle.check.reach import Reach
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.cover.plan import Request
from tackle.crate.lure import Lure
from tackle.schools.evaluation import evaluate, suitability
from tackle.schools.rulebook import Rulebook
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.columns import Columns, tabulate
from tackle.situations.situation import make_situation

__all__ = ["Elsewhere", "Idle", "find_idle", "find_idle_trailers"]


@dataclass(frozen=True, slots=True)
class Elsewhere:
    """Where a colour would serve: the clarity, season, light and food it fits most often."""

    band: str
    season: Season
    light: Light
    food: Forage


@dataclass(frozen=True, slots=True)
class Idle:
    """Lures of one colour that answers no expected day; `serves` is None where no school has any use for it."""

    lures: tuple[Lure, ...]
    serves: Elsewhere | None


def find_idle(lures: Sequence[Lure], reach: Reach) -> list[Idle]:
    """Which colours of a planned category answer no expected day."""
    return [
        Idle(of_it, _serving(card, reach.category, reach.requests))
        for card, of_it in _by_card(lures)
        if not reach.serves(card)
    ]


def find_idle_trailers(lures: Sequence[Lure], requests: Sequence[Request], palette: Palette) -> list[Idle]:
    """Which trailers answer no expected day on any jig. `requests`: those for jigs with trailers."""
    plans = [HeldInPairs(request, palette) for request in requests]
    return [
        Idle(of_it, _serving(card, TRAILER, requests))
        for card, of_it in _by_card(lures)
        if plans and not any(plan.serves(card) for plan in plans)
    ]


def _by_card(lures: Sequence[Lure]) -> list[tuple[Colour, tuple[Lure, ...]]]:
    by_card: dict[Colour, list[Lure]] = {}
    for lure in lures:
        by_card.setdefault(lure.card, []).append(lure)
    return [(card, tuple(of_it)) for card, of_it in by_card.items()]


def _serving(card: Colour, category: str, requests: Sequence[Request]) -> Elsewhere | None:
    """Where a colour would serve, by the schools of the first plan that has a use for it."""
    asked = (_elsewhere(request.books, category, card, request.accept) for request in requests)
    return next((found for found in asked if found is not None), None)


@kept("where a colour would serve")
def _elsewhere(books: tuple[Rulebook, ...], category: str, card: Colour, accept: Grade) -> Elsewhere | None:
    places = list(product(BANDS, Season, Light, Forage))
    columns = _everything(category)
    good = np.zeros(len(places), dtype=np.int64)
    for book in books:
        good += suitability(book, evaluate(book, category, (card,), columns), accept)[0]
    if not good.any():
        return None
    by_water: dict[tuple[str, Season], int] = {}
    for (band, season, _, _), worthy in zip(places, good.tolist(), strict=True):
        by_water[band, season] = by_water.get((band, season), 0) + worthy
    band, season = max(by_water, key=lambda place: by_water[place])
    of_it = [
        (worthy, place) for place, worthy in zip(places, good.tolist(), strict=True) if place[:2] == (band, season)
    ]
    best = max(of_it, key=lambda entry: entry[0])[1]
    return Elsewhere(*best)


@kept("every situation")
def _everything(category: str) -> Columns:
    """One situation for each clarity, season, light and food."""
    middles = {band: _middle(band) for band in BANDS}
    return tabulate([
        make_situation(category, visibility_in=middles[band], light=light, season=season, forage=(food,))
        for band, season, light, food in product(BANDS, Season, Light, Forage)
    ])  # fmt: skip


def _middle(band: str) -> float:
    low, below = HOUSE_LADDER.band_range(band)
    return (max(low, 3.0) + (below or low * 1.5)) / 2
