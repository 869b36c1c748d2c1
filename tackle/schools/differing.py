"""The day on which schools differ: what to ask somebody who does not know yet whom they think like."""

from __future__ import annotations

from collections.abc import Sequence

from tackle.colours.colour import Colour
from tackle.schools.evaluation import first_choice_ratings, rank
from tackle.schools.rulebook import Rulebook
from tackle.situations.situation import Situation

__all__ = ["Beginning", "most_differing"]

Beginning = tuple[Rulebook, Colour | None]  # a school, and what it begins with


def most_differing(
    books: Sequence[Rulebook], cards: Sequence[Colour], situations: Sequence[Situation]
) -> tuple[int, list[Beginning]]:
    """The place of the situation in which schools begin with most different colours, the first of several, and with
    what each begins there. There is one situation at least."""
    data = [[_beginning(book, cards, situation) for book in books] for situation in situations]
    return max(enumerate(data), key=lambda one: len({card for _, card in one[1]}))


def _beginning(book: Rulebook, cards: Sequence[Colour], situation: Situation) -> Beginning:
    reached = first_choice_ratings(rank(book, cards, situation))
    return book, reached[0].card if reached else None
