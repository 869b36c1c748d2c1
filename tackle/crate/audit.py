"""The crate held against plans: what is missing, what is there twice, what runs short."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from tackle.colours.card import Card
from tackle.colours.likeness import SAME_WITHIN, difference, unlike_traits
from tackle.colours.palette import Palette
from tackle.cover.planner import Plan, Request, days_answered
from tackle.crate.lure import Lure, par_of

__all__ = ["Audit", "Double", "Gap", "Planned", "Short", "audit"]


@dataclass(frozen=True, slots=True)
class Planned:
    """A plan for one category, with the request it answers."""

    request: Request
    plan: Plan


@dataclass(frozen=True, slots=True)
class Gap:
    """A colour that a plan wants and the crate lacks: buying it answers `days` that nothing owned answers."""

    category: str
    card: Card
    days: float
    par: int


@dataclass(frozen=True, slots=True)
class Double:
    """Lures that are one colour for the purpose, `over` par together.

    `apart` is the largest CIE 1976 difference from the first of them (0: the same card).
    """

    category: str
    lures: tuple[Lure, ...]
    apart: float
    par: int
    over: int


@dataclass(frozen=True, slots=True)
class Short:
    """A colour owned below par, with the days it serves in the plan (None: no plan for the category)."""

    category: str
    lures: tuple[Lure, ...]
    have: int
    par: int
    days: float | None


@dataclass(frozen=True, slots=True)
class Audit:
    """What is wrong with a crate, the gravest of each kind first."""

    gaps: tuple[Gap, ...]
    doubles: tuple[Double, ...]
    short: tuple[Short, ...]


def audit(
    lures: Sequence[Lure], planned: Sequence[Planned], palette: Palette, same_within: float = SAME_WITHIN
) -> Audit:
    """Holds lures against plans, at most one a category. `same_within`: the CIE 1976 difference of one colour."""
    stocked = [lure for lure in lures if lure.count > 0]
    gaps = [gap for each in planned for gap in _gaps(stocked, each, palette)]
    by_category = {each.request.category: each.plan for each in planned}
    doubles = [
        double
        for group in _groups(stocked, same_within, by_size=True)
        if (double := _double(group, by_category)) is not None
    ]
    shorts = [
        short
        for group in _groups(stocked, same_within, by_size=False)
        if (short := _short(group, by_category)) is not None
    ]
    return Audit(
        gaps=tuple(sorted(gaps, key=lambda gap: -gap.days)),
        doubles=tuple(sorted(doubles, key=lambda double: -double.over)),
        short=tuple(sorted(shorts, key=lambda short: -(short.days or 0))),
    )


def _gaps(lures: Sequence[Lure], planned: Planned, palette: Palette) -> list[Gap]:
    category = planned.request.category
    owned = frozenset(lure.card.id for lure in lures if lure.category == category)
    serves = {chosen.card: chosen.days for chosen in planned.plan.colours}
    missing = [card for card in serves if card.id not in owned]
    if not missing:
        return []
    # Where schools must agree, two missing colours may answer a day only together: then each is worth what
    # leaving it out of the whole would lose.
    whole = owned | {card.id for card in missing}
    sets = [owned, whole, *(owned | {card.id} for card in missing), *(whole - {card.id} for card in missing)]
    now, then, *each = days_answered(planned.request, palette, sets)
    gains = [round(days - now, 6) for days in each[: len(missing)]]
    losses = [round(then - days, 6) for days in each[len(missing) :]]
    return [
        Gap(category, card, gain or loss, par_of(category, card, serves[card]))
        for card, gain, loss in zip(missing, gains, losses, strict=True)
        if gain or loss
    ]


def _groups(lures: Sequence[Lure], same_within: float, *, by_size: bool) -> list[list[Lure]]:
    """Lures of one category that look alike, gathered around the first of each look."""
    groups: list[list[Lure]] = []
    for lure in lures:
        for group in groups:
            first = group[0]
            if (
                first.category == lure.category
                and not (by_size and first.size_in != lure.size_in)
                and _alike(first.card, lure.card, same_within)
            ):
                group.append(lure)
                break
        else:
            groups.append([lure])
    return groups


def _alike(one: Card, other: Card, same_within: float) -> bool:
    return one.id == other.id or (not unlike_traits(one, other) and difference(one, other) <= same_within)


def _served(group: list[Lure], plans: Mapping[str, Plan]) -> float | None:
    """The days that a group's colours serve in the plan for their category; None where no plan asks for one of them."""
    cards = {lure.card.id for lure in group}
    plan = plans.get(group[0].category)
    wanted = [chosen.days for chosen in plan.colours if chosen.card.id in cards] if plan else []
    return sum(wanted) if wanted else None


def _double(group: list[Lure], plans: Mapping[str, Plan]) -> Double | None:
    par = par_of(group[0].category, group[0].card, _served(group, plans) or 0.0)
    over = sum(lure.count for lure in group) - par
    if len(group) < 2 or over <= 0:
        return None
    apart = max(difference(group[0].card, lure.card) for lure in group)
    return Double(group[0].category, tuple(group), apart, par, over)


def _short(group: list[Lure], plans: Mapping[str, Plan]) -> Short | None:
    category, days = group[0].category, _served(group, plans)
    if category in plans and days is None:
        return None  # a colour that the plan does without need not be kept to par
    par = par_of(category, group[0].card, days or 0.0)
    have = sum(lure.count for lure in group)
    return Short(category, tuple(group), have, par, days) if have < par else None
