"""What a plan is computed from, and the answers to it."""

from dataclasses import dataclass
from functools import lru_cache

from tackle.colours.palette import Palette
from tackle.cover.planner import Plan as Answer
from tackle.cover.planner import Request, Served, make_plan
from tackle.schools.rulebook import Rulebook
from tackle.situations.expected import Expected, SetAside, without_rare
from tackle.vocabulary import CATEGORIES, Grade
from web.accounts.models import User
from web.colours.reads import palette_of
from web.crate.reads import counts_owned
from web.plans.changes import plan_for
from web.plans.models import Choice, Plan
from web.schools.reads import books_of
from web.waters.reads import days_to_expect, waters_of


@dataclass(frozen=True, slots=True)
class Basis:
    """All that the answers of one plan depend on, read once."""

    plan: Plan
    palette: Palette
    books: tuple[Rulebook, ...]
    expected: tuple[Expected, ...]  # without what is too rare to plan for
    aside: tuple[SetAside, ...]
    owned: dict[str, dict[str, int]]  # category -> card id -> count
    choices: dict[str, Choice]

    def days_for(self, category: str) -> list[Expected]:
        """The days on waters where a category is thrown, and may be."""
        return [e for e in self.expected if e.water.throws(category) and not e.water.forbidden.forbids(category)]

    def left_out(self, category: str) -> list[tuple[str, float, str]]:
        """The waters where a category is forbidden: the name, the days, and why."""
        days: dict[tuple[str, str], float] = {}
        for e in self.expected:
            if e.water.throws(category) and (why := e.water.forbidden.forbids(category)):
                days[e.water.name, why] = days.get((e.water.name, why), 0.0) + e.days
        return [(name, total, why) for (name, why), total in days.items()]


@dataclass(frozen=True, slots=True)
class Answered:
    """One category's days, the request made of them, and the answer."""

    category: str
    expected: list[Expected]
    request: Request
    answer: Answer

    def served(self) -> dict[int, Served]:
        return {served.index: served for served in self.answer.served}


def basis_of(owner: User) -> Basis:
    """What the owner's plan is computed from."""
    plan = plan_for(owner)
    books = books_of(owner)
    kept, aside = without_rare(days_to_expect(waters_of(owner).filter(plans=plan), plan.months), owner.rare_days)
    return Basis(
        plan=plan,
        palette=palette_of(owner),
        books=tuple(books[school] for school in plan.schools if school in books),
        expected=tuple(kept),
        aside=tuple(aside),
        owned=counts_owned(owner),
        choices={choice.category: choice for choice in plan.choices.all()},
    )


@lru_cache(maxsize=64)
def _planned(request: Request, palette: Palette) -> Answer:
    """The plan for a request. Kept by all that it depends on, so that it is never stale."""
    return make_plan(request, palette)


def answer(basis: Basis, category: str) -> Answered:
    """The plan for one category."""
    expected = basis.days_for(category)
    sold = {card.id for card in basis.palette.sold_in(category)}
    choice = basis.choices.get(category) or Choice()
    request = Request(
        category=category,
        books=basis.books,
        situations=tuple(e.situation(category) for e in expected),
        days=tuple(e.days for e in expected),
        agree_all=basis.plan.agree == Plan.Agree.ALL,
        accept=Grade(basis.plan.accept),
        owned=frozenset(basis.owned.get(category, {})) & sold,
        lock=frozenset(choice.lock) & sold,
        ban=frozenset(choice.ban) & sold,
        at_most=choice.at_most,
    )
    return Answered(category, expected, request, _planned(request, basis.palette))


def answers(basis: Basis) -> list[Answered]:
    """The plan for each of its categories."""
    return [answer(basis, category) for category in basis.plan.categories if category in CATEGORIES]
