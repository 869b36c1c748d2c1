"""plan: the fewest colours for some days of one category, right on a share of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any, Final

from tackle.base.typed import ANYTHING, Id, ListOf, Number, OptionalKind, Record, Whole, Word
from tackle.base.vocabulary import CATEGORIES, TRAILER, Cover, Grade
from tackle.colours.palette import house_palette
from tackle.commands.fields import ACCEPT, AGREE, CATEGORY, SCHOOLS, SHARE, read_schools, words
from tackle.cover.missed import Missed, find_missed, split_days
from tackle.cover.plan import Bought, Piece, Plan, Point, Request, Unanswered
from tackle.cover.planner import make_plan, plan_curve
from tackle.situations.situation import read_days
from tackle.situations.thrown import ALWAYS, EVEN_WITH, Thrown, thrown_by_default

__all__ = ["describe_plan", "plan"]

_REQUEST: Final = Record({
    "id": ANYTHING, "category": CATEGORY, "schools": SCHOOLS, "agree": AGREE, "accept": ACCEPT,
    "days": ListOf(ANYTHING), "owned": ANYTHING, "lock": ANYTHING, "ban": ANYTHING,
    "at_most": OptionalKind(Whole(0, 1_000_000)), "with": OptionalKind(Word((TRAILER,))), "right": SHARE,
    "thrown": ANYTHING,
})  # fmt: skip

_WARM: Final = OptionalKind(Number(28, 110))
_THROWN: Final = OptionalKind(Record({
    "from_f": _WARM, "until_f": _WARM, "months": OptionalKind(ListOf(Whole(1, 12), 12)),
    "cover": OptionalKind(ListOf(Id(Cover), 10)), "until_in": OptionalKind(Number(1, 600)),
    "even_with": OptionalKind(ListOf(Word(EVEN_WITH), 40)),
}))  # fmt: skip


def plan(request: Mapping[str, Any]) -> dict[str, Any]:
    """The fewest colours for one category's days, or jigs and trailers; days on which the kind is not thrown ask for
    none. Raises InvalidInput."""
    asked, palette = _read(request), house_palette()
    thrown = _thrown(request, asked)
    places = [index for index, one in enumerate(asked.situations) if thrown.on(one)]
    wanted = replace(
        asked,
        situations=tuple(asked.situations[place] for place in places),
        days=tuple(asked.days[place] for place in places),
    )
    answer = make_plan(wanted, palette)
    data = describe_plan(wanted, answer, plan_curve(wanted, palette), places)
    data["not_thrown_days"] = round(sum(asked.days) - sum(wanted.days), 6)
    return data


def _thrown(raw: Mapping[str, Any], asked: Request) -> Thrown:
    """When the kind is thrown: by default, or as the request says in place of all of it."""
    if "thrown" not in raw:
        return thrown_by_default(asked.category)
    data = _THROWN.read(raw["thrown"], "thrown")
    if data is None:
        return ALWAYS
    bounds = data["from_f"], data["until_f"], _set(data["months"]), _set(data["cover"]), data["until_in"]
    return Thrown(*bounds, _set(data["even_with"]) or frozenset())


def _set(listed: list[Any] | None) -> frozenset[Any] | None:
    return None if listed is None else frozenset(listed)


def describe_plan(
    wanted: Request, answer: Plan, curve: Sequence[Point], places: Sequence[int] | None = None
) -> dict[str, Any]:
    """A plan with its curve, as plain data; `places` of its situations in the request, where some were left out."""
    at = places or range(len(wanted.situations))
    data = {
        "category": wanted.category,
        **({"status": "optimal"} if answer.proved else {"status": "bounded", "at_least": answer.at_least}),
        "colours": [_piece(wanted, piece) for piece in answer.pieces if piece.category == wanted.category],
    }
    if wanted.with_trailers:
        data["trailers"] = [_piece(wanted, piece) for piece in answer.pieces if piece.category == TRAILER]
        data["pairs"] = [
            {"index": at[one.index], "colour": one.way.cards[0].id, "trailer": one.way.cards[1].id}
            for one in answer.served
        ]
    if wanted.right:
        split = split_days(wanted, answer, house_palette())
        data |= {
            "right_days": answer.right_days,
            "most_right_days": answer.most_right_days,
            "first_choice_days": answer.first_choice_days,
            "made_do_days": round(split.made_do, 6),
            "open_days": round(split.open, 6),
            "missed": [_missed(one) for one in find_missed(wanted, answer, house_palette())],
        }
    if answer.same_family:
        data["same_family"] = [[one.id, other.id] for one, other in answer.same_family]
    return data | {
        "answered_days": answer.answered_days,
        "expected_days": answer.expected_days,
        "unanswered": [_open(gone, at) for gone in answer.unanswered],
        "curve": [_point(wanted, point) for point in curve],
        "order": [_step(wanted, step) for step in answer.order],
    }


def _piece(request: Request, one: Piece) -> dict[str, Any]:
    data = {"colour": one.card.id, "days": one.days, "alone": one.alone, "owned": one.owned, "reason": one.reason}
    if request.right:
        data |= {"right": one.right, "adds_first": one.adds_first, "loses_right": one.loses_right}
    return data


def _open(gone: Unanswered, at: Sequence[int]) -> dict[str, Any]:
    hangs_on = {"schools": [book.id for book in gone.books]} if gone.books else {}
    return {"index": at[gone.index], "days": gone.days, "why": gone.why.value, **hangs_on}


def _missed(one: Missed) -> dict[str, Any]:
    return {
        "role": one.role,
        "days": round(one.days, 6),
        "colour": one.card.id,
        "adds_right": round(one.adds_right, 6),
    }


def _point(request: Request, point: Point) -> dict[str, Any]:
    right = {"right_days": point.right, "proved": point.proved} if request.right else {}
    return {"colours": point.size, "days": point.days, **right}


def _step(request: Request, step: Bought) -> dict[str, Any]:
    where = {"category": step.category} if request.with_trailers else {}
    return {**where, "colour": step.card.id, "adds": step.adds} | (
        {"adds_first": step.adds_first, "adds_right": step.adds_right} if request.right else {}
    )


def _read(raw: Mapping[str, Any]) -> Request:
    data = _REQUEST.read(raw)
    category, beside = data["category"], data["with"]
    if "with" not in raw and CATEGORIES[category].takes_trailer:
        beside = TRAILER  # a jig is thrown with something on it
    books = read_schools(data["schools"])
    situations, days = read_days(data["days"], category, "days")
    places = (category,) if beside is None else (category, TRAILER)
    sold = words(dict.fromkeys(card.id for place in places for card in house_palette().sold_in(place)))
    owned, lock, ban = (frozenset(sold.read(data[name], name)) for name in ("owned", "lock", "ban"))
    return Request(
        category=category,
        books=books,
        situations=situations,
        days=days,
        agree_all=data["agree"] == "all",
        accept=Grade(data["accept"]),
        owned=owned,
        lock=lock,
        ban=ban,
        at_most=data["at_most"],
        with_trailers=beside is not None,
        right=data["right"],
    )
