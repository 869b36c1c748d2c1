"""The audit as JSON: a crate and plan answers in, what is wrong with the crate out."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any, Final

from tackle.base.errors import InvalidInput
from tackle.base.typed import ANYTHING, FLAG, Number, OptionalKind, Record, Table, Text, Whole, Word
from tackle.base.vocabulary import CATEGORIES, TRAILER, Grade
from tackle.check.audit import Audit, Fix, Gap, Mend, audit, nearest
from tackle.check.held import is_among
from tackle.check.reach import Planned
from tackle.colours.palette import Palette, house_palette
from tackle.commands.colour import read_colour
from tackle.commands.fields import ACCEPT, AGREE, CATEGORY, SCHOOLS, SHARE, read_schools, rows
from tackle.cover.plan import Piece, Plan, Request
from tackle.cover.served import ServedDays
from tackle.crate.lure import SOUNDS, Lure
from tackle.intake.kinds import own_kind_word
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.situation import read_days
from tackle.situations.thrown import thrown_by_default

__all__ = ["audit_answer"]

_COUNT: Final = Whole(0, 100_000)
_DAYS: Final = OptionalKind(Number(0, 1e9), 0.0)
_REQUEST: Final = Record({
    "id": ANYTHING, "lures": rows(), "plans": rows(), "days": OptionalKind(Table(ANYTHING, rows()), {}),
    "par": OptionalKind(Table(ANYTHING, _COUNT), {}), "schools": SCHOOLS, "agree": AGREE, "accept": ACCEPT,
    "right": SHARE,
    "eaten": OptionalKind(Table(CATEGORY, Number(0, 1000)), {}),
    "same_within": OptionalKind(Number(0, 40)), "sizes_same": OptionalKind(FLAG, False),
})  # fmt: skip
_LURE: Final = Record({
    "ref": Text(), "category": CATEGORY, "colour": ANYTHING, "name": OptionalKind(Text(least=0), ""),
    "count": OptionalKind(_COUNT, 1), "size_in": OptionalKind(Number(0, 60)), "weight_oz": OptionalKind(Number(0, 64)),
    "depth_ft": OptionalKind(Number(0, 200)), "sound": OptionalKind(Word(("", *SOUNDS)), ""),
    "condition": OptionalKind(Text(least=0), ""), "as": OptionalKind(Text(80), ""),
})  # fmt: skip
# An answer of wax plan, of which no more is read than this.
_ANSWER: Final = Record(
    {"colours": rows(), "trailers": rows(), "expected_days": OptionalKind(Number(0, 1e9))}, others=True
)
_CHOSEN: Final = Record({
    "days": _DAYS, "alone": _DAYS, "right": _DAYS, "adds_first": _DAYS, "loses_right": _DAYS,
    "owned": OptionalKind(FLAG, False), "reason": OptionalKind(Text(2000, 0), ""),
}, others=True)  # fmt: skip


def audit_answer(raw: Mapping[str, Any]) -> dict[str, Any]:
    """What is wrong with a crate. Raises InvalidInput.

    Beyond the fields of the call, `schools`, `agree` and `accept` say what the plans were made with: then days lost
    are worked out anew for what the crate holds. Without them the plan's own numbers for a missing colour are taken
    (the days it alone answers, or else those it serves), and all else is judged by every school.
    """
    asked, palette = _REQUEST.read(raw), house_palette()
    lures = [_read_lure(entry, f"lures[{index}]", palette) for index, entry in enumerate(asked["lures"])]
    refs = [lure.ref for lure in lures]
    if len(set(refs)) < len(refs):
        raise InvalidInput(
            "lures", f"{next(ref for ref in refs if refs.count(ref) > 1)!r} stands twice", "one ref a lure"
        )
    planned = _read_plans(asked, raw, palette)
    found = audit(
        lures,
        planned,
        palette,
        same_within=asked["same_within"],
        sizes_same=asked["sizes_same"],
        par=_read_par(asked["par"]),
        eaten=asked["eaten"],
    )
    gaps = found.gaps if "schools" in raw else _gaps_as_planned(found, planned, lures)
    return _as_json(found, gaps)


def _as_json(found: Audit, gaps: Sequence[Gap]) -> dict[str, Any]:
    return {
        "gaps": [_gap(gap) for gap in gaps],
        "doubles": [
            {
                "category": double.category,
                "refs": [lure.ref for lure in double.lures],
                "same": double.same.value,
                "apart": round(double.apart, 2),
                "why": {
                    "identical": "the same card",
                    "alike": f"one family, back, side and belly at most {double.apart:.1f} apart",
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
        "short_elsewhere": found.short_elsewhere,
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
        "mend": [_mend(mend) for mend in found.mends],
        "answered_days": round(sum(one.reached.days for one in found.covered.values()), 6),
        "expected_days": round(sum(one.expected for one in found.covered.values()), 6),
        "categories": {
            category: {
                "expected_days": round(one.expected, 6),
                "answered_days": one.reached.days,
                "first_choice_days": one.reached.first,
                "right_days": one.reached.right,
                "no_colour": round(one.no_colour, 6),
            }
            for category, one in found.covered.items()
        },
    }


def _mend(one: Mend) -> dict[str, Any]:
    return {
        "ref": one.lure.ref,
        "condition": one.lure.condition,
        "do": one.way and f"mend: {one.way.words}",
        "minutes": one.way and one.way.minutes,
        "caution": one.way.caution if one.way else "",
        "gains": one.gains.days,
        "gains_right": one.gains.right,
        "gains_first": one.gains.first,
    }


def _gaps_as_planned(found: Audit, planned: list[Planned], lures: list[Lure]) -> list[Gap]:
    """The gaps by the plans' own numbers: the days that a missing colour alone answers, or else those it serves."""
    repairs = {(gap.category, gap.card.id): gap.repair for gap in found.gaps}
    gaps: dict[tuple[str, str], Gap] = {}
    for each in planned:
        for piece in each.plan.pieces:
            where = piece.category, piece.card.id
            mine = [lure for lure in lures if lure.category == piece.category and lure.count and lure.is_usable]
            if where not in gaps and not is_among(
                (piece.category, piece.card), {(piece.category, lure.card) for lure in mine}
            ):
                days, near = piece.alone or piece.days, nearest(piece.card, mine)
                gaps[where] = Gap(
                    piece.category, piece.card, days, piece.right, piece.adds_first, 0, near, repairs.get(where),
                    of_days=((each.request.category, days),),
                )  # fmt: skip
    return sorted(gaps.values(), key=lambda gap: (-gap.first_choice_days, -gap.right_days, -gap.days))


def _gap(gap: Gap) -> dict[str, Any]:
    near = gap.nearest
    return {
        "category": gap.category,
        "colour": gap.card.id,
        "days": gap.days,
        "right_days": gap.right_days,
        "first_choice_days": gap.first_choice_days,
        "of": dict(gap.of_days),
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
        "right": fix.right,
        "makes": fix.made.traits(),
    }


def _read_lure(entry: Any, field: str, palette: Palette) -> Lure:
    data = _LURE.read(entry, field)
    card = read_colour(data.pop("colour"), f"{field}.colour", data["category"], palette)
    word = data.pop("as") or own_kind_word(data["name"])
    return Lure(card=card, kind_word=word, **data)


def _read_plans(asked: Mapping[str, Any], raw: Mapping[str, Any], palette: Palette) -> list[Planned]:
    """Plan answers with their days: by the answer's `category`, or in the order of `days`."""
    days, names = asked["days"], list(asked["days"])
    books = read_schools(asked["schools"], () if "schools" in raw else house_rulebooks())
    accept = Grade(asked["accept"])
    planned = []
    requests: dict[str, Request] = {}
    for index, answer in enumerate(asked["plans"]):
        field = f"plans[{index}]"
        data = _ANSWER.read(answer, field)
        category = answer.get("category", names[index] if index < len(names) else None)
        if not isinstance(category, str) or category not in CATEGORIES or category not in days:
            raise InvalidInput(f"{field}.category", f"{category!r} has no days", list(days) or "a category in days")
        if category not in requests:
            thrown = thrown_by_default(category)
            rows = zip(*read_days(days[category], category, f"days.{category}"), strict=True)
            met = [(one, number) for one, number in rows if thrown.on(one)]
            situations, numbers = tuple(one for one, _ in met), tuple(number for _, number in met)
            requests[category] = Request(
                category,
                books,
                situations,
                numbers,
                asked["agree"] == "all",
                accept,
                right=asked["right"],
            )
        request = requests[category]
        trailers = _read_colours(data["trailers"], f"{field}.trailers", TRAILER, palette)
        pieces = _read_colours(data["colours"], f"{field}.colours", category, palette) + trailers
        expected = sum(request.days) if data["expected_days"] is None else data["expected_days"]
        plan = Plan(True, len(pieces), pieces, ServedDays.none(), (), expected, 0.0, ())
        planned.append(Planned(replace(request, with_trailers=bool(trailers)), plan))
    return planned


def _read_colours(entries: Sequence[Any], field: str, category: str, palette: Palette) -> tuple[Piece, ...]:
    return tuple(_read_chosen(entry, f"{field}[{at}]", category, palette) for at, entry in enumerate(entries))


def _read_chosen(entry: Any, field: str, category: str, palette: Palette) -> Piece:
    data = _CHOSEN.read(entry, field)
    return Piece(category, palette.card(str(entry.get("colour")), f"{field}.colour", category), **data)


def _read_par(par: Mapping[str, int]) -> dict[tuple[str, str], int]:
    """The numbers wanted, by "category" or "category/colour"."""
    found = {}
    for key, wanted in par.items():
        category, _, colour = str(key).partition("/")
        found[CATEGORY.read(category, f"par.{key}"), colour] = wanted
    return found
