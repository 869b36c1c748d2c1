"""The terms of one category, and the answer on them: kept by all that it depends on."""

import json
import zlib
from collections.abc import Hashable
from dataclasses import dataclass, fields, replace
from fractions import Fraction
from typing import Final

from tackle.cache import Cache
from tackle.colours.palette import Palette
from tackle.cover.plan import Plan as Answer
from tackle.cover.plan import Point, Request
from tackle.cover.planner import make_plan, plan_curve
from tackle.cover.written import plan_from, plan_told
from tackle.schools.rulebook import Rulebook
from tackle.situations.expected_rows import ExpectedDays
from tackle.situations.rows import MILLION
from tackle.situations.thrown import ALWAYS, Thrown
from web.ui.marks import mark_of
from web.ui.shared import SHARED
from web.watched.timing import timed
from web.waters.reads import Days


@dataclass(frozen=True, slots=True)
class Terms:
    """All that one category's answer depends on. Books and palette are one object for one content."""

    category: str
    days: Days
    books: tuple[Rulebook, ...]
    palette: Palette
    agree_all: bool
    right: Fraction
    owned: frozenset[str]
    lock: frozenset[str]
    ban: frozenset[str]
    at_most: int | None
    crossover: bool
    cents: frozenset[tuple[str, int]]
    owned_trailers: frozenset[str] | None
    thrown: Thrown
    makeable: frozenset[str]  # of its colours: those that could be made of what is owned

    @property
    def weighs(self) -> int:
        """See tackle.cache: their days are kept by themselves too, and by all that is kept of the plan."""
        return 2_000 + self.days.weighs // 16

    @property
    def mark(self) -> str:
        """Of all of it, the same in every process; it holds none of its days."""
        rest = (getattr(self, one.name) for one in fields(self) if one.name not in ("days", "right"))
        return mark_of((self.days.kept.mark.hex(), str(self.right), *rest))

    @property
    def here(self) -> Hashable:
        """The same within this process, where two rulebooks are one only if they are one object."""
        return self.mark, self.books, self.palette


@dataclass(frozen=True, slots=True, eq=False)
class Answered:
    """The terms of one category, and the answer: a set of colours, or jigs with trailers."""

    terms: Terms
    answer: Answer

    @property
    def weighs(self) -> int:
        """See tackle.cache."""
        answer = self.answer
        return self.terms.weighs + answer.served.weighs + 200 * len(answer.unanswered) + 1_500 * len(answer.pieces)

    @property
    def expected(self) -> ExpectedDays:
        """Its days."""
        return expected_of(self.terms.days, self.category, self.terms.thrown)

    @property
    def not_thrown_days(self) -> float:
        """The days on its waters on which it is not thrown."""
        days, waters = self.terms.days.kept, self.terms.days.kept.throwing(self.category)
        every = sum(int(days.millionths[place]) for place in days.places_on(waters).tolist())
        return (every - int(self.expected.millionths.sum())) / MILLION

    @property
    def request(self) -> Request:
        """What was asked of its days."""
        return request_of(self.terms)

    @property
    def category(self) -> str:
        return self.terms.category

    @property
    def paired(self) -> bool:
        return self.terms.owned_trailers is not None


_ON_SOME: Final = Cache[ExpectedDays](megabytes=7)


def expected_of(days: Days, category: str, thrown: Thrown) -> ExpectedDays:
    """The days on which a category is thrown, on waters where it may be: one object for all categories of the same."""
    waters = days.kept.throwing(category)
    if all(waters) and thrown == ALWAYS:
        return days.kept
    return _ON_SOME.once((days.kept.mark, waters, thrown), lambda: days.kept.on(waters, thrown))


def request_of(terms: Terms) -> Request:
    """What the core is asked on some terms."""
    expected = expected_of(terms.days, terms.category, terms.thrown)
    return Request(
        category=terms.category,
        books=terms.books,
        situations=expected.situations(terms.category),
        days=expected.counts,
        agree_all=terms.agree_all,
        owned=terms.owned,
        lock=terms.lock,
        ban=terms.ban,
        at_most=terms.at_most,
        salt=expected.salt if terms.crossover else (),
        cents=terms.cents,
        right=terms.right,
        with_trailers=terms.owned_trailers is not None,
        owned_trailers=terms.owned_trailers,
        makeable=terms.makeable,
    )


_ANSWERED = Cache[Answered](megabytes=18)


def answered_on(terms: Terms) -> Answered:
    """The plan on some terms. Kept by all that it depends on, so that it is never stale: in this process, and packed
    for all."""
    return _ANSWERED.once(terms.here, lambda: Answered(terms, _found(terms)))


def _found(terms: Terms) -> Answer:
    told = SHARED.get(*shelf_of(terms))
    if told:
        plan = json.loads(zlib.decompress(told))
        return plan_from(plan, terms.palette, terms.books, expected_of(terms.days, terms.category, terms.thrown).counts)
    plan = _made(terms)
    SHARED.put(*shelf_of(terms), packed(plan))
    return plan


@timed("plan")
def _made(terms: Terms) -> Answer:
    return make_plan(request_of(terms), terms.palette)


def shelf_of(terms: Terms) -> tuple[str, str]:
    """Where the answer on some terms lies for all processes."""
    return f"plan {terms.mark}", ""


def packed(plan: Answer) -> bytes:
    """A plan as bytes, for another process."""
    return zlib.compress(json.dumps(plan_told(plan)).encode(), 1)


@timed("curve")
def curve_on(terms: Terms) -> tuple[Point, ...]:
    """The most that each number of colours can do, however many are allowed."""
    return plan_curve(replace(request_of(terms), at_most=None), terms.palette)


def is_kept(terms: Terms) -> bool:
    """Whether the plan on some terms is kept already."""
    return _ANSWERED.get(terms.here) is not None or SHARED.get(*shelf_of(terms)) is not None
