"""The check: the crate held against the plan, with what the angler said of its findings, and how it has gone."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from functools import lru_cache

from django.db import transaction

from tackle.colours.palette import Palette
from tackle.crate.audit import Audit, Fix, Gap, Short, audit, pair_gaps
from tackle.crate.doubles import Double
from tackle.crate.idle import Idle
from tackle.crate.reach import Planned, Reach
from web.accounts.models import User
from web.crate.models import Mark, Score
from web.crate.reads import Stock, marks_of
from web.plans.reads import Answered, Basis, answers, pairs

LATER = timedelta(days=30)
MONTH = timedelta(days=28)


@dataclass(frozen=True, slots=True)
class Finding:
    """One finding with the key it is marked by, and how much of its colour lies at home."""

    key: str
    of: Gap | Double | Short | Idle | Fix
    home: int = 0


@dataclass(frozen=True, slots=True)
class Check:
    """What the check finds beyond what was marked, what was marked, and the days that what is aboard answers."""

    gaps: list[Finding]
    doubles: list[Finding]
    short: list[Finding]
    idle: list[Finding]
    fixes: list[Finding]
    marked: list[Mark]
    answered: float
    expected: float
    before: Score | None
    found: Audit

    def beyond(self, most: int) -> int:
        """How many findings are left out where only so many of each kind are shown."""
        kinds = (self.gaps, self.doubles, self.short, self.idle, self.fixes)
        return sum(max(len(listed) - most, 0) for listed in kinds)

    @property
    def change(self) -> float:
        """By how many days the score is better than a month ago."""
        return round(self.answered - self.before.answered, 1) if self.before else 0.0


def check(owner: User, basis: Basis, stock: tuple[Stock, ...]) -> Check:
    """The check of today, its score written down once a day."""
    every = tuple(answers(basis))
    found, aboard = _audited(stock, every, basis.palette, owner.same_within, owner.any_form)
    paired = [pairs(basis, category) for category in basis.with_trailers]
    out = [one.lure for one in stock if not one.at_home]
    gaps = [gap for gap in found.gaps if gap.category not in basis.with_trailers]
    gaps += [gap for each in paired for gap in pair_gaps(each.answer, out)]
    marks = {mark.finding: mark for mark in marks_of(owner)}
    hidden = {key for key, mark in marks.items() if _hides(mark)}
    home: dict[tuple[str, str], int] = {}
    for one in stock:
        if one.at_home:
            where = one.lure.category, one.lure.card.id
            home[where] = home.get(where, 0) + one.lure.count

    def open_ones(kind: str, listed: Sequence[Gap | Double | Short | Idle | Fix]) -> list[Finding]:
        found = [Finding(_key(kind, one), one, home.get(_where(one), 0)) for one in listed]
        return [one for one in found if one.key not in hidden]

    return Check(
        gaps=open_ones("gap", sorted(gaps, key=lambda gap: -gap.days)),
        doubles=open_ones("double", found.doubles),
        short=open_ones("short", found.short),
        idle=open_ones("idle", found.idle),
        fixes=open_ones("fix", found.fixes),
        marked=[mark for mark in marks.values() if mark.finding in hidden],
        answered=round(aboard, 1),
        expected=round(found.expected_days, 1),
        before=_scored(owner, aboard, found.expected_days),
        found=found,
    )


@lru_cache(maxsize=64)
def _audited(
    stock: tuple[Stock, ...], every: tuple[Answered, ...], palette: Palette, same_within: float, any_form: bool
) -> tuple[Audit, float]:
    """The audit of what is not at home, and the days that what is aboard answers. Kept by all it depends on."""
    planned = [Planned(each.request, each.answer) for each in every]
    found = audit([one.lure for one in stock if not one.at_home], planned, palette, same_within, any_form)
    aboard = 0.0
    for each in planned:
        cards = {one.lure.card for one in stock if one.aboard and one.lure.category == each.request.category}
        aboard += Reach(each.request, palette).days_of(cards)
    return found, aboard


def _hides(mark: Mark) -> bool:
    return mark.state != Mark.State.LATER or mark.at + LATER > date.today()


@transaction.atomic
def _scored(owner: User, answered: float, expected: float) -> Score | None:
    """Writes today's score where it is new; returns the last one that is a month old or more."""
    today = date.today()
    values = {"answered": round(answered, 1), "expected": round(expected, 1)}
    scores = Score.objects.filter(owner=owner)
    if not scores.filter(day=today, **values).exists():
        scores.update_or_create(owner=owner, day=today, defaults=values)
    return scores.filter(day__lte=today - MONTH).first()


def _where(one: Gap | Double | Short | Idle | Fix) -> tuple[str, str]:
    if isinstance(one, Gap):
        return one.category, one.card.id
    if isinstance(one, Short | Double):
        return one.category, one.lures[0].card.id
    return one.lure.category, one.lure.card.id


def _key(kind: str, one: Gap | Double | Short | Idle | Fix) -> str:
    """What a finding is marked by: it holds as long as the same lures and colours are concerned."""
    category, card = _where(one)
    refs = [lure.ref for lure in one.lures] if isinstance(one, Double) else []
    act = one.repair.id if isinstance(one, Fix) else ""
    return ":".join(part for part in (kind, category, card, "+".join(sorted(refs))[:40], act) if part)[:120]
