"""The check: the crate held against the plan, with what the angler said of its findings, and how it has gone."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Generic, TypeVar

from tackle.check.audit import Audit, Fix, Gap, Short, audit
from tackle.check.doubles import Double
from tackle.check.idle import Idle
from tackle.check.reach import Planned, reached_of
from tackle.colours.card import Card
from tackle.colours.palette import Palette
from web.accounts.models import User
from web.crate.models import Mark, Score
from web.crate.reads import Stock, marks_of, score_before
from web.plans.kept_plans import checked_too
from web.plans.models import KeptPlan
from web.plans.reads import Basis, planned
from web.plans.terms import basis_on_terms
from web.watched.timing import timed

LATER = timedelta(days=30)
MONTH = timedelta(days=28)


T = TypeVar("T", Gap, Double, Short, Idle, Fix)


@dataclass(frozen=True, slots=True)
class Finding(Generic[T]):
    """One finding with the key it is marked by, how much of its colour lies at home, and the kept plans that want it.

    `here`: whether the plan of now wants it.
    """

    key: str
    of: T
    home: int = 0
    here: bool = True
    kept: tuple[KeptPlan, ...] = ()


@dataclass(frozen=True, slots=True)
class HeldAgainst:
    """A kept plan that the crate is held against too, and the days of it that what is aboard answers."""

    plan: KeptPlan
    answered: float
    expected: float


@dataclass(frozen=True, slots=True)
class Check:
    """What the check finds beyond what was marked, what was marked, and the days that what is aboard answers."""

    gaps: list[Finding[Gap]]
    doubles: list[Finding[Double]]
    short: list[Finding[Short]]
    idle: list[Finding[Idle]]
    fixes: list[Finding[Fix]]
    marked: list[Mark]
    answered: float
    expected: float
    before: Score | None
    found: Audit
    others: list[HeldAgainst]

    def beyond(self, most: int) -> int:
        """How many findings are left out where only so many of each kind are shown."""
        kinds = (self.gaps, self.doubles, self.short, self.idle, self.fixes)
        return sum(max(len(listed) - most, 0) for listed in kinds)

    @property
    def change(self) -> float:
        """By how many days the score is better than a month ago."""
        return round(self.answered - self.before.answered, 1) if self.before else 0.0


def check(owner: User, basis: Basis, stock: tuple[Stock, ...]) -> Check:
    """The check of today."""
    also = [(plan, held) for plan in checked_too(owner) if (held := basis_on_terms(plan, basis)) is not None]
    every = tuple(tuple(planned(each)) for each in (basis, *(held for _, held in also)))
    found, asked, aboard = _audited(stock, every, basis.palette, owner.same_within, owner.any_form)
    expected = [sum(each.plan.expected_days for each in listed) for listed in every]
    marks = {mark.finding: mark for mark in marks_of(owner)}
    hidden = {key for key, mark in marks.items() if _hides(mark)}
    home: dict[tuple[str, str], int] = {}
    for one in stock:
        if one.at_home:
            where = one.lure.category, one.lure.card.id
            home[where] = home.get(where, 0) + one.lure.count

    def open_ones(kind: str, listed: Sequence[T]) -> list[Finding[T]]:
        found = []
        for one in listed:
            where = _where(one)
            plans = tuple(plan for (plan, _), wants in zip(also, asked[1:], strict=True) if where in wants)
            found.append(Finding(_key(kind, one), one, home.get(where, 0), where in asked[0], plans))
        return [one for one in found if one.key not in hidden]

    return Check(
        gaps=open_ones("gap", found.gaps),
        doubles=open_ones("double", found.doubles),
        short=open_ones("short", found.short),
        idle=open_ones("idle", found.idle),
        fixes=open_ones("fix", found.fixes),
        marked=[mark for mark in marks.values() if mark.finding in hidden],
        answered=round(aboard[0], 1),
        expected=round(expected[0], 1),
        before=score_before(owner, date.today() - MONTH),
        found=found,
        others=[HeldAgainst(plan, aboard[place], expected[place]) for place, (plan, _) in enumerate(also, 1)],
    )


@timed("check")
def _audited(
    stock: tuple[Stock, ...],
    every: tuple[tuple[Planned, ...], ...],
    palette: Palette,
    same_within: float,
    any_form: bool,
) -> tuple[Audit, list[set[tuple[str, str]]], list[float]]:
    """The audit of what is not at home; for each plan what it asks for, and its days that what is aboard answers."""
    out = [one.lure for one in stock if not one.at_home]
    found = audit(out, [each for listed in every for each in listed], palette, same_within, any_form)
    asked = [{(place, card.id) for each in listed for place, card in each.wanted} for listed in every]
    aboard: dict[str, set[Card]] = {}
    for one in stock:
        if one.aboard:
            aboard.setdefault(one.lure.category, set()).add(one.lure.card)
    return found, asked, [
        sum(reached_of(each.request, palette)(aboard.get(each.request.category, ())).days for each in listed)
        for listed in every
    ]  # fmt: skip


def _hides(mark: Mark) -> bool:
    return mark.state != Mark.State.LATER or mark.at + LATER > date.today()


def _where(one: Gap | Double | Short | Idle | Fix) -> tuple[str, str]:
    if isinstance(one, Gap):
        return one.category, one.card.id
    if isinstance(one, Short | Double):
        return one.category, one.lures[0].card.id
    lure = one.lures[0] if isinstance(one, Idle) else one.lure
    return lure.category, lure.card.id


def _key(kind: str, one: Gap | Double | Short | Idle | Fix) -> str:
    """What a finding is marked by: it holds as long as the same lures and colours are concerned."""
    category, card = _where(one)
    refs = [lure.ref for lure in one.lures] if isinstance(one, Double) else []
    act = one.repair.id if isinstance(one, Fix) else ""
    return ":".join(part for part in (kind, category, card, "+".join(sorted(refs))[:40], act) if part)[:120]
