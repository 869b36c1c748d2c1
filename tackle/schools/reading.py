"""A school as it is read: where each of its calls comes first, and where two schools want different things."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from tackle.colours.colour import Colour
from tackle.schools.evaluation import evaluate, first_choices, reaching
from tackle.schools.rule import Rule
from tackle.schools.rulebook import Rulebook
from tackle.situations.columns import tabulate
from tackle.situations.situation import Situation

__all__ = ["calls_on", "comes_first", "want_apart"]


def calls_on(book: Rulebook, category: str) -> list[tuple[Rule, ...]]:
    """The calls of a school for a category in the order of its file; those written as one, together."""
    together: dict[str, list[Rule]] = {}
    for call in book.calls:
        if category in call.categories:
            together.setdefault(call.written, []).append(call)
    return [tuple(calls) for calls in together.values()]


def comes_first(
    book: Rulebook, category: str, cards: tuple[Colour, ...], situations: Sequence[Situation]
) -> list[str | None]:
    """For each situation the id, as written, of the call that the school first reaches by; None where by none."""
    deciding_rules, firsts = _said(book, category, cards, situations)
    if not len(cards):
        return [None] * len(situations)
    best = deciding_rules[reaching(book, deciding_rules).argmin(axis=0), np.arange(len(situations))].tolist()
    some = np.logical_or.reduce(firsts, axis=0).tolist()
    return [book.calls[call].written if first else None for call, first in zip(best, some, strict=True)]


def want_apart(
    one: Rulebook, other: Rulebook, category: str, cards: tuple[Colour, ...], situations: Sequence[Situation]
) -> NDArray[np.bool_]:
    """Where both schools reach for something, and no first choice of one is one of the other; shape (situations,)."""
    mine, theirs = (_said(book, category, cards, situations)[1] for book in (one, other))
    return np.asarray(mine.any(axis=0) & theirs.any(axis=0) & ~(mine & theirs).any(axis=0), dtype=np.bool_)


def _said(
    book: Rulebook, category: str, cards: tuple[Colour, ...], situations: Sequence[Situation]
) -> tuple[NDArray[np.int16], NDArray[np.bool_]]:
    deciding_rules = evaluate(book, category, cards, tabulate(situations))
    return deciding_rules, first_choices(book, deciding_rules)
