"""The check: the crate held against the plan, with what the angler said of its findings, and how it has gone."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Generic, TypeVar

from tackle.check.audit import Audit, Covered, Fix, Gap, Mend, Short, audit
from tackle.check.doubles import Double
from tackle.check.held import held
from tackle.check.idle import Idle
from tackle.check.reach import Planned
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from web.common.accounts.models import User
from web.common.ui.words import adding_up, total_shown
from web.common.watching.timing import timed
from web.domain.crate.models import Mark, Score
from web.domain.crate.selectors import Stock, list_marks, score_before
from web.domain.plans.kept_plans import checked_too
from web.domain.plans.models import KeptPlan
from web.domain.plans.selectors import Basis, planned
from web.domain.plans.terms import basis_on_terms
from web.domain.trips.selectors import eaten_a_trip

LATER = timedelta(days=30)
MONTH = timedelta(days=28)


T = TypeVar("T", Gap, Double, Short, Idle, Fix, Mend)


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
    """A kept plan that the crate is held against too, and of how many of its categories what is aboard covers every
    day."""

    plan: KeptPlan
    whole: int
    categories: int


@dataclass(frozen=True, slots=True)
class CoveredDays:
    """How the days of a category are covered, as it is shown: what is covered, each gap's days and those that no colour
    would cover add up to what is expected."""

    category: str
    expected: str
    covered: str
    first_choice: str
    gaps: list[tuple[Colour, str]]
    no_colour: str
    is_whole: bool


@dataclass(frozen=True, slots=True)
class Check:
    """What the check finds beyond what was marked, what was marked, and how each category's days are covered.
    `answered` and `expected` days of all categories are noted to be compared with those of another day, no more."""

    gaps: list[Finding[Gap]]
    doubles: list[Finding[Double]]
    short: list[Finding[Short]]
    idle: list[Finding[Idle]]
    fixes: list[Finding[Fix]]
    mends: list[Finding[Mend]]
    covered: list[CoveredDays]
    marked: list[Mark]
    answered: float
    expected: float
    before: Score | None
    found: Audit
    others: list[HeldAgainst]

    def beyond(self, most: int) -> int:
        """How many findings are left out where only so many of each kind are shown."""
        kinds = (self.gaps, self.doubles, self.short, self.idle, self.fixes, self.mends)
        return sum(max(len(listed) - most, 0) for listed in kinds)

    @property
    def headline(self) -> list[tuple[str, str, str]]:
        """What was found in a few words: how each is marked, its words, and what stands between it and the next."""
        counts = (
            ("bad", len(self.gaps), "gap", "gaps"), ("twice", len(self.doubles), "duplicate", "duplicates"),
            ("low", len(self.short), "colour low", "colours low"),
            ("bad", len(self.mends), "lure to mend", "lures to mend"),
        )  # fmt: skip
        said = [(kind, f"{count} {one if count == 1 else many}") for kind, count, one, many in counts if count]
        ends = [*[", "] * (len(said) - 2), *[" and "] * (len(said) > 1), "."]
        return [(kind, words, then) for (kind, words), then in zip(said, ends, strict=True)] if said else []

    @property
    def change(self) -> float:
        """By how many days the score is better than a month ago."""
        return round(self.answered - self.before.answered, 1) if self.before else 0.0

    @property
    def whole(self) -> int:
        """Of how many categories every day is covered."""
        return sum(one.is_whole for one in self.covered)


def check(owner: User, basis: Basis, stock: tuple[Stock, ...]) -> Check:
    """The check of today."""
    also = [(plan, held) for plan in checked_too(owner) if (held := basis_on_terms(plan, basis)) is not None]
    every = tuple(tuple(planned(each)) for each in (basis, *(held for _, held in also)))
    found, asked, aboard = _audited(stock, every, basis.palette, owner.any_form, eaten_a_trip(owner))
    marks = {mark.finding: mark for mark in list_marks(owner)}
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
        doubles=open_ones("double", [double for double in found.doubles if double.over]),
        short=open_ones("short", found.short),
        idle=open_ones("idle", found.idle),
        fixes=open_ones("fix", found.fixes),
        mends=open_ones("mend", found.mends),
        covered=[_covered_days(category, one, found.gaps) for category, one in found.covered.items()],
        marked=[mark for mark in marks.values() if mark.finding in hidden],
        answered=round(sum(days for days, _ in aboard[0]), 1),
        expected=round(sum(days for _, days in aboard[0]), 1),
        before=score_before(owner, date.today() - MONTH),
        found=found,
        others=[
            HeldAgainst(plan, sum(_is_whole(*days) for days in aboard[index]), len(aboard[index]))
            for index, (plan, _) in enumerate(also, 1)
        ],
    )


@timed("check")
def _audited(
    stock: tuple[Stock, ...],
    every: tuple[tuple[Planned, ...], ...],
    palette: Palette,
    any_form: bool,
    eaten: Mapping[str, float],
) -> tuple[Audit, list[set[tuple[str, str]]], list[list[tuple[float, float]]]]:
    """The audit of what is not at home; for each plan what it asks for, and for each of its categories the days that
    what is aboard covers, of those expected."""
    out = [one.lure for one in stock if not one.at_home]
    found = audit(out, [each for listed in every for each in listed], palette, sizes_same=any_form, eaten=eaten)
    asked = [{(place, card.id) for each in listed for place, card in each.wanted} for listed in every]
    aboard = {(one.lure.category, one.lure.card) for one in stock if one.aboard and one.lure.is_usable}
    return found, asked, [
        [(held(each, palette).reached(aboard).days, each.plan.expected_days) for each in listed] for listed in every
    ]  # fmt: skip


def _covered_days(category: str, covered: Covered, gaps: Sequence[Gap]) -> CoveredDays:
    of_it = [(gap.card, days) for gap in gaps for place, days in gap.of_days if place == category]
    reached = covered.reached
    shown = adding_up((reached.days, *(days for _, days in of_it), covered.no_colour))
    return CoveredDays(
        category, total_shown(shown), shown[0], adding_up((reached.first,))[0],
        [(card, days) for (card, _), days in zip(of_it, shown[1:-1], strict=True) if days != "0"],
        shown[-1], _is_whole(reached.days, covered.expected),
    )  # fmt: skip


def _is_whole(days: float, expected: float) -> bool:
    return days >= expected - 0.5


def _hides(mark: Mark) -> bool:
    return mark.state != Mark.State.LATER or mark.at + LATER > date.today()


def _where(one: Gap | Double | Short | Idle | Fix | Mend) -> tuple[str, str]:
    if isinstance(one, Gap):
        return one.category, one.card.id
    if isinstance(one, Short | Double):
        return one.category, one.lures[0].card.id
    lure = one.lures[0] if isinstance(one, Idle) else one.lure
    return lure.category, lure.card.id


def _key(kind: str, one: Gap | Double | Short | Idle | Fix | Mend) -> str:
    """What a finding is marked by: it holds as long as the same lures and colours are concerned."""
    category, card = _where(one)
    refs = [lure.ref for lure in one.lures] if isinstance(one, Double) else []
    act = one.repair.id if isinstance(one, Fix) else ""
    return ":".join(part for part in (kind, category, card, "+".join(sorted(refs))[:40], act) if part)[:120]
