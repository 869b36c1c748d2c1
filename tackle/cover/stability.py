"""How a plan stands in other years: drawn anew many times with days and visibility a tenth more or less, and with one
rulebook left out."""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Final

from tackle.colours.colour import Colour
from tackle.colours.family import family
from tackle.colours.palette import Palette
from tackle.cover.plan import Plan, Request
from tackle.cover.planner import make_plan
from tackle.schools.rulebook import Rulebook
from tackle.situations.clarity import MAX_VISIBILITY_IN
from tackle.situations.hashable import HashedTable
from tackle.situations.visibility import Spread
from tackle.situations.water import Water

__all__ = ["DRAWS", "Exchange", "Stays", "drawn_waters", "stays_in", "without_one"]

DRAWS: Final = 100
_SEED: Final = 1
_SD: Final = 0.1  # of the factor on each month's days, and of that on its visibility
_LEAST: Final = 0.5
_LEAST_IN: Final = 1.0


@dataclass(frozen=True, slots=True)
class Stays:
    """A colour of a plan, or another of its family, in so many of `of` draws; what took its place most often where it
    went, None where the set was smaller."""

    category: str
    card: Colour
    times: int
    of: int
    instead: Colour | None


@dataclass(frozen=True, slots=True)
class Exchange:
    """What a plan loses and gains without one of its rulebooks."""

    book: Rulebook
    went: tuple[Colour, ...]
    came: tuple[Colour, ...]


def drawn_waters(waters: Sequence[Water], draws: int = DRAWS) -> Iterator[tuple[Water, ...]]:
    """The waters in so many other years, always the same: each month's days and visibility times a factor of mean 1 and
    standard deviation a tenth."""
    scatter = random.Random(_SEED)

    def factor() -> float:
        return max(scatter.gauss(1.0, _SD), _LEAST)

    def seen(spread: Spread) -> Spread:
        times = factor()
        inches = (spread.low_in, spread.usual_in, spread.high_in)
        return Spread(*(min(max(inch * times, _LEAST_IN), MAX_VISIBILITY_IN) for inch in inches))

    for _ in range(draws):
        yield tuple(
            replace(
                water,
                months=HashedTable({
                    number: replace(month, days=month.days * factor(), spread=seen(month.spread))
                    for number, month in water.months.items()
                }),
            )
            for water in waters
        )  # fmt: skip


def stays_in(
    plan: Plan, requests: Sequence[Request], palette: Palette, tell: Callable[[int], None] = lambda done: None
) -> list[Stays]:
    """How often each colour of a plan stays, where it is made anew for other days. `tell`: after each, how many are
    done."""
    mine = [(piece.category, piece.card) for piece in plan.pieces]
    times: Counter[int] = Counter()
    instead: dict[int, Counter[Colour]] = {at: Counter() for at in range(len(mine))}
    for done, request in enumerate(requests, 1):
        then = [(piece.category, piece.card) for piece in make_plan(request, palette).pieces]
        kin = {(category, family(card, category)) for category, card in then}
        was = {(category, family(card, category)) for category, card in mine}
        came = [(category, card) for category, card in then if (category, family(card, category)) not in was]
        for at, (category, card) in enumerate(mine):
            if (category, family(card, category)) in kin:
                times[at] += 1
            else:
                instead[at].update(one for place, one in came if place == category)
        tell(done)
    return [
        Stays(*mine[at], times[at], len(requests), next((card for card, _ in instead[at].most_common(1)), None))
        for at in range(len(mine))
    ]


def without_one(request: Request, plan: Plan, palette: Palette) -> Iterator[Exchange]:
    """For each rulebook of several, what the plan loses and gains without it."""
    before = {(piece.category, family(piece.card, piece.category)): piece.card for piece in plan.pieces}
    for book in request.books if len(request.books) > 1 else ():
        rest = tuple(one for one in request.books if one is not book)
        then = make_plan(replace(request, books=rest), palette)
        after = {(piece.category, family(piece.card, piece.category)): piece.card for piece in then.pieces}
        went = tuple(card for kin, card in before.items() if kin not in after)
        yield Exchange(book, went, tuple(card for kin, card in after.items() if kin not in before))
