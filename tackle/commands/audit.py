"""The audit as JSON: a crate and plan answers in, what is wrong with the crate out."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any, Final

from tackle.check.audit import Audit, Fix, Gap, audit, nearest
from tackle.check.reach import Planned
from tackle.colours.palette import Palette, house_palette
from tackle.commands.colour import read_colour
from tackle.commands.fields import flag, known_fields, list_of, number, schools_of, share
from tackle.cover.plan import TRAILER, Piece, Plan, Request
from tackle.cover.served import ServedDays
from tackle.crate.lure import SOUNDS, Lure
from tackle.errors import Refused
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.situation import read_days
from tackle.vocabulary import CATEGORIES, Grade

__all__ = ["audit_answer"]

_FIELDS: Final = (
    "id", "lures", "plans", "days", "par", "schools", "agree", "accept", "right", "same_within", "sizes_same",
)  # fmt: skip
_LURE_FIELDS: Final = (
    "ref", "category", "colour", "name", "count", "size_in", "weight_oz", "depth_ft", "sound", "condition",
)  # fmt: skip
_MOST: Final = 100_000


def audit_answer(raw: Mapping[str, Any]) -> dict[str, Any]:
    """What is wrong with a crate. Raises Refused.

    Beyond the fields of the call, `schools`, `agree` and `accept` say what the plans were made with: then days lost
    are worked out anew for what the crate holds. Without them the plan's own numbers for a missing colour are taken
    (the days it alone answers, or else those it serves), and all else is judged by every school.
    """
    known_fields(raw, _FIELDS)
    palette = house_palette()
    lures = [_read_lure(entry, f"lures[{place}]", palette) for place, entry in enumerate(list_of(raw, "lures"))]
    refs = [lure.ref for lure in lures]
    if len(set(refs)) < len(refs):
        raise Refused("lures", f"{next(ref for ref in refs if refs.count(ref) > 1)!r} stands twice", "one ref a lure")
    planned = _read_plans(raw, palette)
    found = audit(
        lures,
        planned,
        palette,
        same_within=number(raw, "same_within", 6.0, 40),
        sizes_same=flag(raw, "sizes_same"),
        par=_read_par(raw),
    )
    gaps = found.gaps if "schools" in raw else _gaps_as_planned(found, planned, lures)
    return _as_json(found, gaps)


def _as_json(found: Audit, gaps: Sequence[Gap]) -> dict[str, Any]:
    return {
        "gaps": [_gap(gap) for gap in sorted(gaps, key=lambda gap: (-gap.right_days, -gap.days))],
        "doubles": [
            {
                "category": double.category,
                "refs": [lure.ref for lure in double.lures],
                "same": double.same.value,
                "apart": round(double.apart, 2),
                "why": {
                    "identical": "the same card",
                    "alike": f"back, side and belly at most {double.apart:.1f} apart, all other traits the same",
                    "same days": "they answer the same days of the plan",
                }[double.same.value],
                "par": double.par,
                "over": double.over,
                "keep": double.keep.ref,
                "spare": [{"ref": ref, "count": count} for ref, count in double.spare],
            }
            for double in found.doubles
        ],
        "short": [
            {
                "category": short.category,
                "colour": short.lures[0].card.id,
                "refs": [lure.ref for lure in short.lures],
                "have": short.have,
                "par": short.par,
                "days": short.days,
            }
            for short in found.short
        ],
        "idle": [
            {
                "ref": lure.ref,
                "serves": None
                if idle.serves is None
                else {
                    "clarity": idle.serves.band,
                    "season": idle.serves.season.value,
                    "light": idle.serves.light.value,
                    "food": idle.serves.food.value,
                },
            }
            for idle in found.idle
            for lure in idle.lures
        ],
        "fixes": [_fix(fix) for fix in found.fixes],
        "answered_days": found.answered_days,
        "expected_days": found.expected_days,
    }


def _gaps_as_planned(found: Audit, planned: list[Planned], lures: list[Lure]) -> list[Gap]:
    """The gaps by the plans' own numbers: the days that a missing colour alone answers, or else those it serves."""
    repairs = {(gap.category, gap.card.id): gap.repair for gap in found.gaps}
    gaps: dict[tuple[str, str], Gap] = {}
    for each in planned:
        for one in each.plan.pieces:
            where = one.category, one.card.id
            mine = [lure for lure in lures if lure.category == one.category and lure.count]
            if where not in gaps and not any(lure.card.id == one.card.id for lure in mine):
                days = one.alone or one.days
                near = nearest(one.card, mine)
                gaps[where] = Gap(one.category, one.card, days, one.right, 0, near, repairs.get(where))
    return list(gaps.values())


def _gap(gap: Gap) -> dict[str, Any]:
    near = gap.nearest
    return {
        "category": gap.category,
        "colour": gap.card.id,
        "days": gap.days,
        "nearest": near and {"ref": near.lure.ref, "apart": round(near.apart, 2), "unlike": list(near.unlike)},
        "repair": _fix(gap.repair) if gap.repair else None,
    }


def _fix(fix: Fix) -> dict[str, Any]:
    return {
        "ref": fix.lure.ref,
        "do": fix.repair.id,
        "words": fix.repair.words,
        "caution": fix.repair.caution,
        "gains": fix.gains,
        "makes": fix.made.traits(),
    }


def _read_lure(entry: Any, field: str, palette: Palette) -> Lure:
    if not isinstance(entry, Mapping):
        raise Refused(field, "is not an object", "an object with ref, category, colour and count")
    for name in entry:
        if name not in _LURE_FIELDS:
            raise Refused(f"{field}.{name}", "is not a known field", _LURE_FIELDS)
    category = entry.get("category")
    if not isinstance(category, str) or category not in CATEGORIES:
        raise Refused(f"{field}.category", f"{category!r} is not a category", CATEGORIES)
    ref = entry.get("ref")
    if not isinstance(ref, str) or not ref:
        raise Refused(f"{field}.ref", "is missing or not text", "a text of your own")
    count = entry.get("count", 1)
    if isinstance(count, bool) or not isinstance(count, int) or not 0 <= count <= _MOST:
        raise Refused(f"{field}.count", f"{count!r} is not allowed", f"a whole number from 0 to {_MOST}")
    sound = entry.get("sound") or ""
    if sound and sound not in SOUNDS:
        raise Refused(f"{field}.sound", f"{sound!r} is not allowed", SOUNDS)
    if not isinstance(entry.get("condition") or "", str):
        raise Refused(f"{field}.condition", f"{entry['condition']!r} is not allowed", "a word, such as worn")
    return Lure(
        ref=ref,
        category=category,
        card=read_colour(entry.get("colour"), f"{field}.colour", category, palette),
        name=str(entry.get("name", "")),
        count=count,
        size_in=number(entry, "size_in", None, 60, field),
        weight_oz=number(entry, "weight_oz", None, 64, field),
        depth_ft=number(entry, "depth_ft", None, 200, field),
        sound=sound,
    )


def _read_plans(raw: Mapping[str, Any], palette: Palette) -> list[Planned]:
    """Plan answers with their days: by the answer's `category`, or in the order of `days`."""
    days = raw.get("days", {})
    if not isinstance(days, Mapping):
        raise Refused("days", "is not an object", "a list of situations with days for each category")
    answers = list_of(raw, "plans")
    names = list(days)
    books = schools_of(raw, () if "schools" in raw else house_rulebooks())
    accept = raw.get("accept", "works")
    if accept not in (Grade.GO_TO, Grade.WORKS):
        raise Refused("accept", f"{accept!r} is not allowed", (Grade.GO_TO, Grade.WORKS))
    if raw.get("agree", "any") not in ("any", "all"):
        raise Refused("agree", f"{raw['agree']!r} is not allowed", ("any", "all"))
    planned = []
    requests: dict[str, Request] = {}
    for place, answer in enumerate(answers):
        if not isinstance(answer, Mapping):
            raise Refused(f"plans[{place}]", "is not an object", "an answer of wax plan")
        category = answer.get("category", names[place] if place < len(names) else None)
        if not isinstance(category, str) or category not in CATEGORIES or category not in days:
            raise Refused(f"plans[{place}].category", f"{category!r} has no days", list(days) or "a category in days")
        if category not in requests:
            situations, numbers = read_days(list_of(days, category, "days."), category, f"days.{category}")
            requests[category] = Request(
                category,
                books,
                situations,
                numbers,
                raw.get("agree", "any") == "all",
                Grade(accept),
                right=share(raw, "right"),
            )
        request = requests[category]
        colours = _read_colours(answer, place, "colours", category, palette)
        trailers = _read_colours(answer, place, "trailers", TRAILER, palette)
        told = number(answer, "expected_days", sum(request.days), 1e9, f"plans[{place}]")
        expected = told or 0.0
        pieces = colours + trailers
        plan = Plan(True, len(pieces), pieces, ServedDays.none(), (), expected, 0.0, ())
        planned.append(Planned(replace(request, with_trailers=bool(trailers)), plan))
    return planned


def _read_colours(
    answer: Mapping[str, Any], place: int, name: str, category: str, palette: Palette
) -> tuple[Piece, ...]:
    entries = list_of(answer, name, f"plans[{place}].")
    return tuple(
        _read_chosen(entry, f"plans[{place}].{name}[{at}]", category, palette) for at, entry in enumerate(entries)
    )


def _read_chosen(entry: Any, field: str, category: str, palette: Palette) -> Piece:
    if not isinstance(entry, Mapping):
        raise Refused(field, "is not an object", "an object with colour, days and alone")
    card = palette.card(str(entry.get("colour")), f"{field}.colour", category)
    days, alone, right = (number(entry, name, 0.0, 1e9, field) or 0.0 for name in ("days", "alone", "right"))
    return Piece(category, card, days, alone, bool(entry.get("owned", False)), str(entry.get("reason", "")), right)


def _read_par(raw: Mapping[str, Any]) -> dict[tuple[str, str], int]:
    par = raw.get("par") or {}
    if not isinstance(par, Mapping):
        raise Refused("par", "is not an object", 'a number for each "category" or "category/colour"')
    found = {}
    for key, wanted in par.items():
        category, _, colour = str(key).partition("/")
        if category not in CATEGORIES:
            raise Refused(f"par.{key}", f"{category!r} is not a category", CATEGORIES)
        if isinstance(wanted, bool) or not isinstance(wanted, int) or not 0 <= wanted <= _MOST:
            raise Refused(f"par.{key}", f"{wanted!r} is not allowed", f"a whole number from 0 to {_MOST}")
        found[category, colour] = wanted
    return found
