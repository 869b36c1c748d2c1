"""What the book says of colours before the log speaks."""

from __future__ import annotations

from collections.abc import Sequence

from tackle.colours.card import Card
from tackle.learn.assumed import assumed
from tackle.schools.evaluation import evaluate
from tackle.schools.rulebook import Rulebook
from tackle.situations.columns import tabulate
from tackle.situations.situation import Situation

__all__ = ["word_of"]


def word_of(
    books: Sequence[Rulebook], cards: Sequence[Card], category: str, situations: Sequence[tuple[Situation, float]]
) -> dict[str, float]:
    """The mean word of some books on each card, over situations by their weights, as the logarithm of a factor.

    0 for all where there is no book or no situation.
    """
    total = sum(weight for _, weight in situations)
    words = {card.id: 0.0 for card in cards}
    if not books or not total or not cards:
        return words
    worth = assumed().book
    columns = tabulate(tuple(situation for situation, _ in situations))
    for book in books:
        for card, decided in zip(cards, evaluate(book, category, tuple(cards), columns), strict=True):
            for (_, weight), place in zip(situations, decided, strict=True):
                grade = book.calls[place].grade.value if place >= 0 else "silent"
                words[card.id] += worth[grade] * weight / total / len(books)
    return words
