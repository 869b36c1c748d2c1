"""What a log alone says of some cards, as a factor for each clarity and light: to be weighed together with the book."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from itertools import product
from typing import Final

from tackle.colours.colour import Colour
from tackle.learn.assumed import CLARITIES, assumed
from tackle.learn.log import Turn, find_square, merged, telling
from tackle.learn.model import believed
from tackle.situations.situation import Situation

__all__ = ["CELLS", "NOTED", "Factors", "factors_here", "log_factors"]

Factors = Mapping[tuple[str, str], Mapping[str, float]]
CELLS: Final = tuple(product(CLARITIES, ("bright", "dim")))
NOTED: Final = 1.15  # times the average: from here on the log is named as who says it


def log_factors(cards: Sequence[Colour], turns: Sequence[Turn]) -> Factors:
    """By clarity and light how many times the average of some cards bite on each, all starting equal; nothing where the
    log tells nothing between them."""
    data, ids = assumed(), {card.id for card in cards}
    mine = [turn for turn in merged(turns, data) if turn.colour in ids]
    if not telling(mine):
        return {}
    level = dict.fromkeys(ids, 0.0)
    beliefs = {cell: believed(mine, cards, level, data, cell) for cell in CELLS}
    return {
        cell: {colour: math.exp(belief.mean(index)) for index, colour in enumerate(belief.colours)}
        for cell, belief in beliefs.items()
    }


def factors_here(factors: Factors, situation: Situation) -> Mapping[str, float]:
    """The factors in one situation, by card id."""
    cell = find_square(situation, assumed())
    return factors.get(cell, {}) if cell else {}
