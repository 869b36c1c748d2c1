"""The schools as one angler follows them: ours and their club's, with their own rules on top."""

import json
from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from tackle.base.errors import DataError
from tackle.schools.rule import Rule as RulebookRule
from tackle.schools.rulebook import Rulebook, house_rulebooks, on_top, read_calls
from web.common.accounts.models import User
from web.domain.rulebooks.models import OwnSchool, Rule

OWN = "your own rules"


def list_rules(owner: User) -> QuerySet[Rule]:
    return Rule.objects.filter(owner=owner)


def get_rule(owner: User, pk: int) -> Rule:
    return get_object_or_404(Rule, owner=owner, pk=pk)


def list_own_schools(owner: User) -> QuerySet[OwnSchool]:
    return OwnSchool.objects.filter(owner=owner)


def list_rulebooks(owner: User) -> Mapping[str, Rulebook]:
    """The rulebooks an angler may follow, by id: ours in their order, then their own schools.

    A stored rule that does not read any more is left out; `set_aside` tells which those are.
    """
    calls = _calls_by_school(list_rules(owner).filter(on=True))
    books = {school: on_top(book, calls.get(school, ())) for school, book in house_rulebooks().items()}
    for index, own in enumerate(list_own_schools(owner)):
        book = Rulebook(own.school, own.name, own.question, own.short, 100 + index, ())
        books[own.school] = on_top(book, calls.get(own.school, ()))
    return books


def set_aside(rules: Iterable[Rule]) -> set[int]:
    """The keys of the rules that do not read any more, or stand in another's way."""
    return {rule.pk for rule, calls in _read(rules) if not calls}


def readable_entries(owner: User, school: str) -> list[dict[str, Any]]:
    """The entries of an angler's rules on one school, without what is set aside."""
    return [rule.entry for rule, calls in _read(list_rules(owner).filter(school=school)) if calls]


def _calls_by_school(rules: Iterable[Rule]) -> dict[str, tuple[RulebookRule, ...]]:
    found: dict[str, tuple[RulebookRule, ...]] = {}
    for rule, calls in _read(rules):
        found[rule.school] = (*found.get(rule.school, ()), *calls)
    return found


def _read(rules: Iterable[Rule]) -> Iterator[tuple[Rule, tuple[RulebookRule, ...]]]:
    """Each rule with its calls; none where it does not read, or an earlier one of the school has its id."""
    taken: set[tuple[str, str]] = set()
    for rule in rules:
        calls = _read_entry(json.dumps(rule.entry, sort_keys=True))
        ids = {(rule.school, call.id) for call in calls}
        if ids & taken:
            calls = ()
        taken |= ids
        yield rule, calls


def _read_entry(text: str) -> tuple[RulebookRule, ...]:
    try:
        return read_calls([json.loads(text)], OWN, lifted=True)
    except DataError:
        return ()
