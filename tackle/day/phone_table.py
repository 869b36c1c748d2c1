"""What to throw on the water whatever the day becomes: a table worked out beforehand, for a phone without a signal."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import product
from typing import Final

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.day.rotation import Turns, nearest_step, turns_for
from tackle.schools.rulebook import Rulebook
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.situation import Situation
from tackle.vocabulary import Forage, Light, Wind

__all__ = ["MIDDLES", "DayCell", "DayTable", "table_of"]

# The visibility that stands for each band, in inches: its middle, on a scale of ratios.
MIDDLES: Final[Mapping[str, float]] = {
    band: round((max(low, 4.0) * (below or low * 2)) ** 0.5, 1)
    for band, (low, below) in ((band, HOUSE_LADDER.range_of(band)) for band in BANDS)
}


@dataclass(frozen=True, slots=True)
class DayCell:
    """What a cell of the table is for."""

    band: str
    light: Light
    wind: Wind
    food: Forage


@dataclass(frozen=True, slots=True)
class DayTable:
    """For each cell what to throw, by category, and the situations that were asked about, in the order of the cells;
    and for each category and colour aboard the nearest step from it."""

    cells: Mapping[DayCell, Mapping[str, Turns | None]]
    situations: Mapping[str, Sequence[Situation]]
    near: Mapping[str, Mapping[str, Card | None]]


def table_of(
    day: Situation,
    aboard: Mapping[str, Sequence[Card]],
    foods: Sequence[Forage],
    books: tuple[Rulebook, ...],
    palette: Palette,
) -> DayTable:
    """The table for a day: `day` holds what stays as it is (season, temperature, stain, pace, mood and the like);
    `aboard`, by category, what can be thrown."""
    cells = [DayCell(*each) for each in product(BANDS, Light, Wind, foods)]
    by_category: dict[str, list[Turns | None]] = {}
    asked: dict[str, Sequence[Situation]] = {}
    for category, cards in aboard.items():
        situations = [
            replace(
                day, category=category, visibility_in=MIDDLES[one.band], light=one.light, wind=one.wind,
                forage=(one.food,),
            )
            for one in cells
        ]  # fmt: skip
        asked[category] = situations
        by_category[category] = turns_for(category, situations, cards, books, palette)
    return DayTable(
        {cell: {category: turns[at] for category, turns in by_category.items()} for at, cell in enumerate(cells)},
        asked,
        {category: {card.id: nearest_step(card, cards) for card in cards} for category, cards in aboard.items()},
    )
