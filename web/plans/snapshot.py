"""A plan as plain data: kept as it was, shown again, and held against another."""

from dataclasses import dataclass
from typing import Any

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from tackle.cover.pairs import Piece
from tackle.cover.planner import Chosen
from web.accounts.models import User
from web.plans.models import KeptPlan
from web.plans.reads import Answered, AnsweredPairs, Basis, pairs
from web.ui.words import label


def kept_of(owner: User) -> QuerySet[KeptPlan]:
    return KeptPlan.objects.filter(owner=owner)


def kept_plan_of(owner: User, pk: int) -> KeptPlan:
    return get_object_or_404(kept_of(owner), pk=pk)


def snapshot(basis: Basis, answers: list[Answered]) -> dict[str, Any]:
    """The answers of a plan with what they were computed from."""
    waters: dict[str, float] = {}
    for row in basis.days.kept:
        waters[row.water.name] = waters.get(row.water.name, 0.0) + row.days
    return {
        "made_from": {
            "waters": {name: round(days, 1) for name, days in waters.items()},
            "schools": [book.name for book in basis.books],
            "rules": sorted(call.id for book in basis.books for call in book.calls if call.lifted),
            "agree": basis.plan.get_agree_display(),
            "accept": basis.plan.get_accept_display(),
            "months": basis.plan.months,
            "crate": {category: dict(cards) for category, cards in basis.owned.items()},
        },
        "categories": [
            _of_pairs(pairs(basis, each.category)) if each.category in basis.with_trailers else _of_colours(each)
            for each in answers
        ],
    }


def _of_colours(each: Answered) -> dict[str, Any]:
    return {
        "category": each.category,
        "expected": round(each.answer.expected_days, 1),
        "answered": round(each.answer.answered_days, 1),
        "colours": [_told(one, each.category) for one in each.answer.colours],
    }


def _of_pairs(each: AnsweredPairs) -> dict[str, Any]:
    return {
        "category": each.category,
        "expected": round(each.answer.expected_days, 1),
        "answered": round(each.answer.answered_days, 1),
        "colours": [_told(one, one.category) for one in (*each.answer.jigs, *each.answer.trailers)],
    }


def _told(one: Chosen | Piece, category: str) -> dict[str, Any]:
    return {
        "card": one.card.id,
        "category": category,
        "name": one.card.name,
        "days": round(one.days, 1),
        "alone": round(one.alone, 1),
        "owned": one.owned,
        "reason": one.reason,
    }


def changed_since(then: dict[str, Any], now: dict[str, Any]) -> list[str]:
    """What a plan was computed from that is different now, in sentences."""
    old, new = then["made_from"], now["made_from"]
    said = []
    for name in sorted({*old["waters"], *new["waters"]}):
        before, after = old["waters"].get(name, 0), new["waters"].get(name, 0)
        if before != after:
            said.append(f"{name}: {before:g} days planned for then, {after:g} now.")
    words = {
        "schools": "The schools followed",
        "agree": "How schools agree",
        "accept": "What counts",
        "months": "The months",
    }
    said += [f"{what} changed." for field, what in words.items() if old[field] != new[field]]
    if old["rules"] != new["rules"]:
        said.append("Your house rules changed.")
    if old["crate"] != new["crate"]:
        said.append("The crate changed.")
    return said


@dataclass(frozen=True, slots=True)
class Difference:
    """One category in two plans: what came, what went, and why, as far as the plans tell."""

    category: str
    came: list[dict[str, Any]]
    went: list[dict[str, Any]]
    before: dict[str, Any]
    after: dict[str, Any]

    @property
    def why(self) -> str:
        if not self.before["colours"] or not self.after["colours"]:
            return "Only one of the two plans this category."
        if self.came and self.went:
            return self.came[0]["reason"]
        if self.before["expected"] != self.after["expected"]:
            return f"The days to answer went from {self.before['expected']:g} to {self.after['expected']:g}."
        return "The same colours in both."


def differences(then: dict[str, Any], now: dict[str, Any]) -> list[Difference]:
    """Category by category, what came and what went between two plans."""
    empty = {"colours": [], "expected": 0, "answered": 0}
    before = {each["category"]: each for each in then["categories"]}
    after = {each["category"]: each for each in now["categories"]}
    found = []
    for category in dict.fromkeys((*before, *after)):
        old, new = before.get(category, empty), after.get(category, empty)
        old_ids, new_ids = {_place(c, category) for c in old["colours"]}, {_place(c, category) for c in new["colours"]}
        came = [c for c in new["colours"] if _place(c, category) not in old_ids]
        went = [c for c in old["colours"] if _place(c, category) not in new_ids]
        found.append(Difference(category, came, went, old, new))
    return found


def _place(colour: dict[str, Any], category: str) -> tuple[str, str]:
    """What tells two entries of a category apart: a jig and a trailer may be of one colour. Older plans say neither."""
    return colour.get("category", category), colour["card"]


def sentence(content: dict[str, Any]) -> str:
    """A plan in one sentence."""
    colours = sum(len(each["colours"]) for each in content["categories"])
    short = [each for each in content["categories"] if each["answered"] < each["expected"]]
    missing = f" {', '.join(label(each['category']) for each in short)}: some days open." if short else ""
    return f"{colours} colours in {len(content['categories'])} categories.{missing}"
