"""How sure a plan is: what hangs on one school, what would change in other water, what it costs to satisfy all."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.cover.plan import Plan, Request
from tackle.cover.planner import make_plan, make_problem
from tackle.cover.served import Served
from tackle.schools.rulebook import Rulebook

__all__ = ["HALF_AND_TWICE", "Agreement", "Hangs", "Shift", "Sureness", "visibility_factors", "how_sure"]

HALF_AND_TWICE: Final = (0.5, 2.0)


@dataclass(frozen=True, slots=True)
class Shift:
    """The set if fish saw `factor` times as far on every day: what it would lose and gain, and how it would do."""

    factor: float
    went: tuple[Colour, ...]
    came: tuple[Colour, ...]
    answered_days: float
    right_days: float


@dataclass(frozen=True, slots=True)
class Agreement:
    """What would satisfy all schools that are not silent: colours, days, and how many more than the plan has."""

    colours: tuple[Colour, ...]
    more: int
    answered_days: float


@dataclass(frozen=True, slots=True)
class Hangs:
    """Situations, by their places in the request, and their days together."""

    indexes: tuple[int, ...]
    days: float


@dataclass(frozen=True, slots=True)
class Sureness:
    """`one_school`: what only one of the plan's schools answers with the set, by school, most days first.

    `will_do`: those covered without a first choice.
    """

    one_school: tuple[tuple[Rulebook, Hangs], ...]
    will_do: Hangs
    shifts: tuple[Shift, ...]
    agreement: Agreement


def visibility_factors(levels: Sequence[tuple[float, float] | None]) -> tuple[float, float]:
    """By what sight may be off: as far as records leave open, told for each water as its least and most; half and twice
    where a water has none."""
    known = [level for level in levels if level]
    if not known or len(known) < len(levels):
        return HALF_AND_TWICE
    return round(min(low for low, _ in known), 3), round(max(high for _, high in known), 3)


def how_sure(
    request: Request,
    plan: Plan,
    palette: Palette,
    every_book: Sequence[Rulebook],
    factors: Sequence[float] = HALF_AND_TWICE,
) -> Sureness:
    """How sure the answer to a request is. `factors`: of sight, for which it is asked what would change."""
    problem = make_problem(request, palette)
    alone: dict[Rulebook, list[Served]] = {}
    by_kind = problem.schools_for(problem.mask({(piece.category, piece.card.id) for piece in plan.pieces}))
    for served in plan.served:
        schools = by_kind[problem.kind_indices[served.index]]
        if len(schools) == 1 and len(request.books) > 1:
            alone.setdefault(schools[0], []).append(served)
    hanging = [(book, _hangs(listed)) for book, listed in alone.items()]
    return Sureness(
        one_school=tuple(sorted(hanging, key=lambda entry: -entry[1].days)),
        will_do=_hangs([served for served in plan.served if not served.way.is_first]),
        shifts=tuple(_shift(request, plan, palette, factor) for factor in factors),
        agreement=_agreement(request, plan, palette, tuple(every_book)),
    )


def _hangs(listed: Sequence[Served]) -> Hangs:
    return Hangs(tuple(served.index for served in listed), sum(served.days for served in listed))


def _shift(request: Request, plan: Plan, palette: Palette, factor: float) -> Shift:
    seen = tuple(replace(situation, visibility_in=situation.visibility_in * factor) for situation in request.situations)
    then = make_plan(replace(request, situations=seen), palette)
    before, after = [piece.card for piece in plan.pieces], [piece.card for piece in then.pieces]
    return Shift(
        factor=factor,
        went=tuple(card for card in before if card not in after),
        came=tuple(card for card in after if card not in before),
        answered_days=then.answered_days,
        right_days=then.right_days,
    )


def _agreement(request: Request, plan: Plan, palette: Palette, books: tuple[Rulebook, ...]) -> Agreement:
    agreed = make_plan(replace(request, books=books, agree_all=True, at_most=None), palette)
    colours = tuple(piece.card for piece in agreed.pieces)
    return Agreement(colours, len(colours) - plan.size, agreed.answered_days)
