"""What the book says of colours before the log speaks."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from tackle.colours.colour import Colour
from tackle.learn.assumed import assumed
from tackle.schools.evaluation import evaluate
from tackle.schools.rulebook import Rulebook
from tackle.situations.columns import tabulate
from tackle.situations.situation import Situation

__all__ = ["mean_advice", "advice_matrix"]


def mean_advice(
    books: Sequence[Rulebook], cards: Sequence[Colour], category: str, situations: Sequence[tuple[Situation, float]]
) -> dict[str, float]:
    """The mean word of some books on each card, over situations by their weights, as the logarithm of a factor.

    0 for all where there is no book or no situation.
    """
    total = sum(weight for _, weight in situations)
    if not books or not total or not cards:
        return {card.id: 0.0 for card in cards}
    data = advice_matrix(books, cards, category, [situation for situation, _ in situations])
    mean = np.array([weight for _, weight in situations]) @ data / total
    return {card.id: float(word) for card, word in zip(cards, mean, strict=True)}


def advice_matrix(
    books: Sequence[Rulebook], cards: Sequence[Colour], category: str, situations: Sequence[Situation]
) -> NDArray[np.float64]:
    """The mean word of some books on each card in each situation, as the logarithm of a factor: (situations, cards)."""
    worth, columns = assumed().book, tabulate(tuple(situations))
    total = np.zeros((len(situations), len(cards)))
    for book in books:
        # The last stands for silence, which a place of -1 finds.
        words = np.array([*(worth[call.grade.value] for call in book.calls), worth["silent"]])
        total += words[evaluate(book, category, tuple(cards), columns)].T
    return np.asarray(total / max(len(books), 1), dtype=np.float64)
