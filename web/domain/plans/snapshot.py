"""A plan as plain data: kept as it was, shown again, and held against another."""

from dataclasses import dataclass
from typing import Any, Final

from tackle.base.hashing import content_hash
from tackle.cover.plan import Piece
from web.common.ui.templatetags.wax import counted
from web.common.ui.words import label
from web.domain.plans.selectors import Answered, Basis, answers
from web.domain.plans.terms import write_terms
from web.domain.waters.selectors import Days

_FORM: Final = 2  # of the marks of what a plan was computed from: an older one cannot be held against them


def snapshot(basis: Basis) -> dict[str, Any]:
    """The answers of a plan with what they were computed from."""
    waters: dict[str, float] = {}
    for water, days in basis.days.kept.by_water():
        waters[water.name] = waters.get(water.name, 0.0) + days
    return {
        "terms": write_terms(basis),
        "made_from": {
            "waters": {name: round(days, 1) for name, days in waters.items()},
            "schools": [book.name for book in basis.books],
            "agree": basis.plan.get_agree_display(),
            "right": f"goal: the rulebooks agree on {basis.plan.right * 100:.0f} of 100 days",
            "months": basis.plan.months,
            "crate": {category: dict(cards) for category, cards in basis.owned.items()},
            "marks": {
                "form": _FORM,
                "waters": _marks_of_waters(basis.days),
                "books": {book.name: content_hash(book.calls) for book in basis.books},
                "palette": basis.palette.mark,
            },
        },
        "categories": [_of_category(answer) for answer in answers(basis)],
    }


def _marks_of_waters(days: Days) -> dict[str, str]:
    """For each water of some days what is expected there, and what of the water itself bears on the answers."""
    rows: dict[str, list[Any]] = {}
    for e in days.kept:
        water = e.water
        bears = water.salinity, water.depth_ft, water.norm_in, water.relative, water.forbidden
        data = rows.setdefault(water.name, [bears])
        data.append(
            (e.band, e.light, e.food, e.season, e.stain, e.wind, e.cover, e.visibility_in, e.temp_f, e.millionths)
        )
    return {name: content_hash(data) for name, data in rows.items()}


def _of_category(each: Answered) -> dict[str, Any]:
    return {
        "category": each.category,
        "expected": round(each.answer.expected_days, 3),
        "answered": round(each.answer.answered_days, 3),
        "right": round(each.answer.right_days, 3),
        "first_choice": round(each.answer.first_choice_days, 3),
        "colours": [_piece(piece) for piece in each.answer.pieces],
    }


def _piece(one: Piece) -> dict[str, Any]:
    return {
        "card": one.card.id,
        "category": one.category,
        "name": one.card.name,
        "days": round(one.days, 1),
        "alone": round(one.alone, 1),
        "right": round(one.right, 1),
        "owned": one.owned,
        "reason": one.reason,
    }


def changed_since(then: dict[str, Any], now: dict[str, Any]) -> list[str]:
    """What a plan was computed from that is different now, in sentences. Older plans tell less of it."""
    old, new = then["made_from"], now["made_from"]
    none: dict[str, Any] = {"waters": {}, "books": {}, "palette": ""}
    marks, new_marks = (each.get("marks", none) for each in (old, new))
    same_form = marks.get("form") == new_marks.get("form") == _FORM
    said = []
    for name in sorted({*old["waters"], *new["waters"]}):
        before, after = old["waters"].get(name, 0), new["waters"].get(name, 0)
        if before != after:
            said.append(f"{name}: {before:g} days planned for then, {after:g} now.")
        elif same_form and marks["waters"][name] != new_marks["waters"][name]:
            said.append(f"{name}: as many days, in other water, light or food.")
    words = {
        "schools": "The rulebooks followed",
        "agree": "How rulebooks agree",
        "right": "The goal",
        "months": "The months",
    }
    said += [f"{what} changed." for field, what in words.items() if old.get(field) != new.get(field)]
    both = sorted({*marks["books"]} & {*new_marks["books"]}) if same_form else []
    said += [f"The rules of {book} changed." for book in both if marks["books"][book] != new_marks["books"][book]]
    if same_form and marks["palette"] != new_marks["palette"]:
        said.append("The palette changed.")
    if "terms" in then and "terms" in now and then["terms"]["choices"] != now["terms"]["choices"]:
        said.append("What is locked, dropped or limited changed.")
    if old["crate"] != new["crate"]:
        said.append(_crate_changed(old["crate"], new["crate"]))
    return said


def _crate_changed(old: dict[str, dict[str, int]], new: dict[str, dict[str, int]]) -> str:
    before, after = (
        {(place, card): number for place, cards in crate.items() for card, number in cards.items()}
        for crate in (old, new)
    )
    changes = {
        "came": len(after.keys() - before.keys()),
        "went": len(before.keys() - after.keys()),
        "in another number": sum(before[one] != after[one] for one in before.keys() & after.keys()),
    }
    data = [f"{counted(number, 'colour,colours')} {what}" for what, number in changes.items() if number]
    return f"The tackle box: {', '.join(data)}."


@dataclass(frozen=True, slots=True)
class Difference:
    """One category in two plans: what came, what went, and what of it the angler dropped."""

    category: str
    came: list[dict[str, Any]]
    went: list[dict[str, Any]]
    before: dict[str, Any]
    after: dict[str, Any]
    dropped: list[str]

    @property
    def days_change(self) -> bool:
        """Whether its whole days with a first choice are others in the second plan."""
        before, after = (int(one.get("first_choice", 0) + 0.5) for one in (self.before, self.after))
        return before != after

    @property
    def why(self) -> str:
        """What of the two plans differs here, beside the reasons of the colours themselves."""
        if not self.before["colours"] or not self.after["colours"]:
            return "Only one of the two plans this category."
        if self.before["expected"] != self.after["expected"]:
            return f"The days to cover went from {self.before['expected']:g} to {self.after['expected']:g}."
        return "" if self.came or self.went else "The same colours in both."


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
        dropped = now.get("terms", {}).get("choices", {}).get(category, {}).get("ban", [])
        found.append(Difference(category, came, went, old, new, dropped))
    return found


def _place(colour: dict[str, Any], category: str) -> tuple[str, str]:
    """What tells two entries of a category apart: a jig and a trailer may be of one colour. Older plans say neither."""
    return colour.get("category", category), colour["card"]


def sentence(content: dict[str, Any]) -> str:
    """A plan in one sentence."""
    # A trailer that goes on the jigs of two kinds is one piece.
    colours = len({_place(one, each["category"]) for each in content["categories"] for one in each["colours"]})
    short = {each["category"]: each["expected"] - each["answered"] for each in content["categories"]}
    gone = [f"{label(category)} {counted(left, 'day,days')}" for category, left in short.items() if left >= 0.05]
    missing = f" Not covered: {', '.join(gone)}." if gone else ""
    return f"{colours} colours cover your days in {len(content['categories'])} categories.{missing}"
