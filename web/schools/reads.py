"""The schools as one angler follows them: ours and their club's, with their own rules on top."""

from collections.abc import Mapping
from functools import lru_cache
from typing import Any

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from tackle.schools.call import Call
from tackle.schools.rulebook import Rulebook, house_rulebooks, on_top, read_calls
from web.accounts.models import User
from web.schools.models import OwnSchool, Rule

OWN = "your house rules"


def rules_of(owner: User) -> QuerySet[Rule]:
    return Rule.objects.filter(owner=owner)


def rule_of(owner: User, pk: int) -> Rule:
    return get_object_or_404(Rule, owner=owner, pk=pk)


def schools_of(owner: User) -> QuerySet[OwnSchool]:
    return OwnSchool.objects.filter(owner=owner)


def books_of(owner: User) -> Mapping[str, Rulebook]:
    """The rulebooks an angler follows, by id: ours in their order, then their own schools."""
    entries: dict[str, list[dict[str, Any]]] = {}
    for rule in rules_of(owner).filter(on=True):
        entries.setdefault(rule.school, []).append(rule.entry)
    calls = {school: read_calls(listed, OWN, lifted=True) for school, listed in entries.items()}
    books = {school: on_top(book, calls.get(school, ())) for school, book in house_rulebooks().items()}
    for place, own in enumerate(schools_of(owner)):
        books[own.school] = _own_book(
            own.school, own.name, own.question, own.short, 100 + place, calls.get(own.school, ())
        )
    return books


@lru_cache(maxsize=512)
def _own_book(school: str, name: str, question: str, short: str, order: int, calls: tuple[Call, ...]) -> Rulebook:
    """One object for one content, so that what is worked out of a rulebook is kept between requests."""
    return Rulebook(school, name, question, short, order, calls)
