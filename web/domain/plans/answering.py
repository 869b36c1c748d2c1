"""The terms of one category, and the answer on them: kept by what it depends on."""

import json
import zlib
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cached_property

from tackle.base.hashing import content_hash, to_plain
from tackle.base.store import STORE, Serializer
from tackle.colours.palette import Palette
from tackle.cover.plan import Plan as Answer
from tackle.cover.plan import Point, Request
from tackle.cover.planner import make_plan, plan_curve
from tackle.cover.written import plan_from_dict, plan_to_dict
from tackle.schools.rulebook import Rulebook
from tackle.situations.expected_rows import ExpectedDays
from tackle.situations.rows import MILLION
from tackle.situations.thrown import ALWAYS, Thrown
from web.common.watching.timing import timed
from web.domain.waters.selectors import Days


@dataclass(frozen=True)
class Terms:
    """All that one category's answer depends on."""

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
    reworkable: frozenset[str]  # of its colours: those that could be made of what is owned

    @cached_property
    def mark(self) -> str:
        """See tackle.base.hashing."""
        return content_hash(to_plain(self))

    @cached_property
    def expected(self) -> ExpectedDays:
        """The days on which the category is thrown, on waters where it may be."""
        return select_expected(self.days, self.category, self.thrown)

    @cached_property
    def request(self) -> Request:
        """What the core is asked."""
        return Request(
            category=self.category,
            books=self.books,
            situations=self.expected.situations(self.category),
            days=self.expected.counts,
            agree_all=self.agree_all,
            owned=self.owned,
            lock=self.lock,
            ban=self.ban,
            at_most=self.at_most,
            salt=self.expected.salt if self.crossover else (),
            cents=self.cents,
            right=self.right,
            with_trailers=self.owned_trailers is not None,
            owned_trailers=self.owned_trailers,
            reworkable=self.reworkable,
        )


@dataclass(frozen=True, slots=True, eq=False)
class Answered:
    """The terms of one category, and the answer: a set of colours, or jigs with trailers."""

    terms: Terms
    answer: Answer

    @property
    def expected(self) -> ExpectedDays:
        """Its days."""
        return self.terms.expected

    @property
    def not_thrown_days(self) -> float:
        """The days on its waters on which it is not thrown."""
        days, waters = self.terms.days.kept, self.terms.days.kept.throwing(self.category)
        return (int(days.millionths[days.places_on(waters)].sum()) - int(self.expected.millionths.sum())) / MILLION

    @property
    def request(self) -> Request:
        """What was asked of its days."""
        return self.terms.request

    @property
    def category(self) -> str:
        return self.terms.category

    @property
    def paired(self) -> bool:
        return self.terms.owned_trailers is not None


def select_expected(days: Days, category: str, thrown: Thrown) -> ExpectedDays:
    """The days on which a category is thrown, on waters where it may be."""
    waters = days.kept.throwing(category)
    return days.kept if all(waters) and thrown == ALWAYS else days.kept.on(waters, thrown)


def answered_on(terms: Terms) -> Answered:
    """The plan on some terms."""
    packing = Serializer(_packed, lambda data: _unpacked(data, terms))
    return Answered(terms, STORE.once("plan", terms, lambda: _made(terms), packing))


def is_answered(terms: Terms) -> bool:
    """Whether the plan on some terms is kept."""
    return STORE.has("plan", terms)


@timed("plan")
def _made(terms: Terms) -> Answer:
    return make_plan(terms.request, terms.palette)


def _packed(plan: Answer) -> bytes:
    return zlib.compress(json.dumps(plan_to_dict(plan)).encode(), 1)


def _unpacked(data: bytes, terms: Terms) -> Answer:
    return plan_from_dict(json.loads(zlib.decompress(data)), terms.palette, terms.books, terms.expected.counts)


@timed("curve")
def curve_on(terms: Terms) -> tuple[Point, ...]:
    """The most that each number of colours can do, however many are allowed."""
    return plan_curve(replace(terms.request, at_most=None), terms.palette)
