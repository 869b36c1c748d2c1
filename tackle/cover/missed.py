"""Roles beside right: what the schools reach for and the set has none of, and what one colour more would answer."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.colours.role import Role, find_role
from tackle.cover.instance import bits
from tackle.cover.opinions import Opinions, to_mask
from tackle.cover.plan import Plan, Request
from tackle.cover.planner import make_problem
from tackle.cover.problem import Problem

__all__ = ["SEASONAL", "Missed", "Split", "find_missed", "open_days", "split_days"]

SEASONAL: Final = "seasonal"
_LEAST_DAYS: Final = 0.5
_SEASON: Final = frozenset(("season", "month", "water_temp_f"))


@dataclass(frozen=True, slots=True)
class Missed:
    """A role that the set has none of on some days, as shares of the schools; the colour that would fill it best, and
    the right days that it would add."""

    role: str  # a Role, or SEASONAL
    days: float
    card: Colour
    adds_right: float


def find_missed(request: Request, plan: Plan, palette: Palette) -> tuple[Missed, ...]:
    """The roles missed by a plan, the most days first; of jigs with trailers those of the jigs."""
    if not request.right:
        return ()
    problem = make_problem(request, palette)
    lead, pieces = problem.lead, problem.mask({(piece.category, piece.card.id) for piece in plan.pieces})
    mine = frozenset(piece.card.id for piece in plan.pieces if piece.category == request.category)
    chosen, able_to_be = to_mask(lead.cards, mine), _may_be(problem, request.category)
    of_role = _by_role(lead)
    days: dict[str, int] = {}
    fills: dict[str, int] = {}
    seasonal_had = False
    for kind, of_kind in enumerate(problem.lead_days.tolist()):
        masks = lead.choices[lead.choice_of[kind]]
        asked = sum(map(bool, masks))
        if not asked or not of_kind:
            continue
        share = of_kind * lead.shares // asked
        for school, mask in enumerate(masks):
            if not mask:
                continue
            for role, cards in of_role.items():
                if mask & cards and not mask & cards & chosen:
                    days[role] = days.get(role, 0) + share
                    fills[role] = fills.get(role, 0) | cards
            if _is_seasonal(lead, school, mask, kind):
                seasonal_had |= bool(mask & chosen)
                days[SEASONAL] = days.get(SEASONAL, 0) + share
                fills[SEASONAL] = fills.get(SEASONAL, 0) | mask
    if seasonal_had:
        days.pop(SEASONAL, None)
    right = problem.right(pieces)

    def adds(place: int) -> int:
        return problem.right(pieces | problem.mask({(request.category, lead.cards[place].id)})) - right

    found = []
    for role, missing in days.items():
        able = list(bits(fills[role] & ~chosen & able_to_be))
        if missing >= _LEAST_DAYS * problem.share and able:
            best = max(able, key=lambda place: (adds(place), -place))
            found.append(Missed(role, missing / problem.share, lead.cards[best], adds(best) / problem.share))
    return tuple(sorted(found, key=lambda one: -one.days))


def open_days(request: Request, plan: Plan, palette: Palette) -> float:
    """The days that nothing of the plan answers, less the shares on which they are right all the same."""
    unanswered = sum(gone.days for gone in plan.unanswered)
    if not request.agree_all:
        return unanswered  # a first choice answers its day
    problem = make_problem(request, palette)
    chosen = problem.mask({(piece.category, piece.card.id) for piece in plan.pieces})
    right = 0.0
    for gone in plan.unanswered:
        hit, asked = problem.hit(int(problem.kind_indices[gone.index]), chosen)
        right += gone.days * hit / asked if asked else 0.0
    return unanswered - right


@dataclass(frozen=True, slots=True)
class Split:
    """The days expected, by shares of the schools: right, made do, open; they add up to `expected`."""

    expected: float
    right: float
    made_do: float
    open: float


def split_days(request: Request, plan: Plan, palette: Palette) -> Split:
    """How the days expected of a plan are answered."""
    still_open = open_days(request, plan, palette)
    return Split(
        plan.expected_days, plan.right_days, max(plan.expected_days - plan.right_days - still_open, 0.0), still_open
    )


def _may_be(problem: Problem, category: str) -> int:
    """What of the lead's cards a set may hold: one of each family, nothing banned."""
    open_to = {
        card for index, (where, card) in enumerate(problem.pieces) if problem.open_to >> index & 1 and where == category
    }
    return sum(1 << index for index, card in enumerate(problem.lead.cards) if card in open_to)


def _by_role(opinions: Opinions) -> Mapping[str, int]:
    found: dict[str, int] = {role.value: 0 for role in Role}
    for index, card in enumerate(opinions.cards):
        found[find_role(card)] |= 1 << index
    return found


def _is_seasonal(opinions: Opinions, school: int, mask: int, kind: int) -> bool:
    """Whether a school's first choices on a kind of day are so by a call that names season, month or temperature."""
    place = int(opinions.deciding_rules[school, next(bits(mask)), kind])
    call = opinions.books[school].calls[place]
    return any(name in _SEASON for name, _ in (*call.ranges, *call.among))
