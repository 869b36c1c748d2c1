"""What a plan is computed from, and the answers to it."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from tackle.colours.palette import Palette
from tackle.cover.planner import Plan as Answer
from tackle.cover.planner import Request, Served, make_plan
from tackle.schools.rulebook import Rulebook
from tackle.situations.expected import Expected
from tackle.situations.situation import Situation
from tackle.vocabulary import CATEGORIES, Grade
from web.accounts.models import User
from web.colours.reads import palette_of
from web.crate.reads import counts_owned
from web.plans.changes import plan_for
from web.plans.models import Choice, Plan
from web.schools.reads import books_of
from web.waters.models import Water
from web.waters.reads import Days, days_to_expect, waters_of


@dataclass(frozen=True, slots=True)
class Basis:
    """All that the answers of one plan depend on, read once."""

    plan: Plan
    palette: Palette
    every_book: Mapping[str, Rulebook]
    books: tuple[Rulebook, ...]  # those the plan follows
    every_water: list[Water]
    water_ids: set[int]  # those the plan is for
    days: Days
    owned: dict[str, dict[str, int]]  # category -> card id -> count
    choices: dict[str, Choice]

    def left_out(self, category: str) -> list[tuple[str, float, str]]:
        """The waters where a category is forbidden: the name, the days, and why."""
        return _left_out(self.days, category)


@dataclass(frozen=True, slots=True, eq=False)
class Answered:
    """One category's days, the request made of them, and the answer. One object for one content."""

    category: str
    expected: tuple[Expected, ...]
    request: Request
    answer: Answer

    def served(self) -> dict[int, Served]:
        return {served.index: served for served in self.answer.served}


def basis_of(owner: User) -> Basis:
    """What the owner's plan is computed from."""
    plan = plan_for(owner)
    books = books_of(owner)
    waters = list(waters_of(owner).prefetch_related("year", "readings"))
    planned = set(plan.waters.values_list("pk", flat=True).order_by())
    return Basis(
        plan=plan,
        palette=palette_of(owner),
        every_book=books,
        books=tuple(books[school] for school in plan.schools if school in books),
        every_water=waters,
        water_ids=planned,
        days=days_to_expect([water for water in waters if water.pk in planned], plan.months, owner.rare_days),
        owned=counts_owned(owner),
        choices={choice.category: choice for choice in plan.choices.all()},
    )


@lru_cache(maxsize=64)
def _left_out(days: Days, category: str) -> list[tuple[str, float, str]]:
    found: dict[tuple[str, str], float] = {}
    for e in days.kept:
        if e.water.throws(category) and (why := e.water.forbidden.forbids(category)):
            found[e.water.name, why] = found.get((e.water.name, why), 0.0) + e.days
    return [(name, total, why) for (name, why), total in found.items()]


@dataclass(frozen=True, slots=True)
class _Terms:
    """All that one category's answer depends on. Days, books and palette are one object for one content."""

    category: str
    days: Days
    books: tuple[Rulebook, ...]
    palette: Palette
    agree_all: bool
    accept: Grade
    owned: frozenset[str]
    lock: frozenset[str]
    ban: frozenset[str]
    at_most: int | None


@lru_cache(maxsize=256)
def _situations(days: Days, category: str) -> tuple[tuple[Expected, ...], tuple[Situation, ...]]:
    """The days on waters where a category is thrown, and may be."""
    there = tuple(e for e in days.kept if e.water.throws(category) and not e.water.forbidden.forbids(category))
    return there, tuple(e.situation(category) for e in there)


@lru_cache(maxsize=256)
def _answered(terms: _Terms) -> Answered:
    """The plan on some terms. Kept by all that it depends on, so that it is never stale."""
    expected, situations = _situations(terms.days, terms.category)
    request = Request(
        category=terms.category,
        books=terms.books,
        situations=situations,
        days=tuple(e.days for e in expected),
        agree_all=terms.agree_all,
        accept=terms.accept,
        owned=terms.owned,
        lock=terms.lock,
        ban=terms.ban,
        at_most=terms.at_most,
    )
    return Answered(terms.category, expected, request, make_plan(request, terms.palette))


def answer(basis: Basis, category: str) -> Answered:
    """The plan for one category."""
    sold = {card.id for card in basis.palette.sold_in(category)}
    choice = basis.choices.get(category) or Choice()
    return _answered(
        _Terms(
            category=category,
            days=basis.days,
            books=basis.books,
            palette=basis.palette,
            agree_all=basis.plan.agree == Plan.Agree.ALL,
            accept=Grade(basis.plan.accept),
            owned=frozenset(basis.owned.get(category, {})) & sold,
            lock=frozenset(choice.lock) & sold,
            ban=frozenset(choice.ban) & sold,
            at_most=choice.at_most,
        )
    )


def answers(basis: Basis) -> list[Answered]:
    """The plan for each of its categories."""
    return [answer(basis, category) for category in basis.plan.categories if category in CATEGORIES]
