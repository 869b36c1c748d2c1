"""plan: the fewest colours for some days of one category, right on a share of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Final

from tackle.colours.palette import house_palette
from tackle.commands.fields import known_fields, schools_of, share, words
from tackle.cover.plan import TRAILER, Bought, Piece, Plan, Point, Request, Unanswered
from tackle.cover.planner import make_plan, plan_curve
from tackle.errors import Refused
from tackle.situations.situation import read_days
from tackle.vocabulary import CATEGORIES, Grade

__all__ = ["answer_of", "plan"]

_FIELDS: Final = (
    "id", "category", "schools", "agree", "accept", "days", "owned", "lock", "ban", "at_most", "with", "right",
)  # fmt: skip


def plan(request: Mapping[str, Any]) -> dict[str, Any]:
    """The fewest colours for one category's days, or jigs and trailers. Raises Refused."""
    wanted, palette = _read(request), house_palette()
    return answer_of(wanted, make_plan(wanted, palette), plan_curve(wanted, palette))


def answer_of(wanted: Request, answer: Plan, curve: Sequence[Point]) -> dict[str, Any]:
    """A plan with its curve, as plain data."""
    told = {
        "category": wanted.category,
        **({"status": "optimal"} if answer.proved else {"status": "bounded", "at_least": answer.at_least}),
        "colours": [_piece(wanted, one) for one in answer.pieces if one.category == wanted.category],
    }
    if wanted.with_trailers:
        told["trailers"] = [_piece(wanted, one) for one in answer.pieces if one.category == TRAILER]
        told["pairs"] = [
            {"index": one.index, "colour": one.way.cards[0].id, "trailer": one.way.cards[1].id} for one in answer.served
        ]
    if wanted.right:
        told |= {"right_days": answer.right_days, "most_right_days": answer.most_right_days}
    return told | {
        "answered_days": answer.answered_days,
        "expected_days": answer.expected_days,
        "unanswered": [_open(gone) for gone in answer.unanswered],
        "curve": [_point(wanted, point) for point in curve],
        "order": [_step(wanted, step) for step in answer.order],
    }


def _piece(request: Request, one: Piece) -> dict[str, Any]:
    told = {"colour": one.card.id, "days": one.days, "alone": one.alone, "owned": one.owned, "reason": one.reason}
    return told | ({"right": one.right} if request.right else {})


def _open(gone: Unanswered) -> dict[str, Any]:
    hangs_on = {"schools": [book.id for book in gone.books]} if gone.books else {}
    return {"index": gone.index, "days": gone.days, "why": gone.why.value, **hangs_on}


def _point(request: Request, point: Point) -> dict[str, Any]:
    right = {"right_days": point.right, "proved": point.proved} if request.right else {}
    return {"colours": point.size, "days": point.days, **right}


def _step(request: Request, step: Bought) -> dict[str, Any]:
    where = {"category": step.category} if request.with_trailers else {}
    return {**where, "colour": step.card.id, "adds": step.adds} | (
        {"adds_right": step.adds_right} if request.right else {}
    )


def _read(raw: Mapping[str, Any]) -> Request:
    known_fields(raw, _FIELDS)
    category = raw.get("category")
    if not isinstance(category, str) or category not in CATEGORIES:
        raise Refused("category", f"{str(category)[:60]!r} is not a category", CATEGORIES)
    books = schools_of(raw)
    agree, accept = raw.get("agree", "any"), raw.get("accept", "works")
    if agree not in ("any", "all"):
        raise Refused("agree", f"{str(agree)[:60]!r} is not allowed", ("any", "all"))
    if accept not in (Grade.GO_TO, Grade.WORKS):
        raise Refused("accept", f"{str(accept)[:60]!r} is not allowed", (Grade.GO_TO, Grade.WORKS))
    at_most = raw.get("at_most")
    if at_most is not None and (isinstance(at_most, bool) or not isinstance(at_most, int) or at_most < 0):
        raise Refused("at_most", f"{str(at_most)[:60]!r} is not allowed", "a whole number from 0, or null")
    entries = raw.get("days")
    if not isinstance(entries, list):
        raise Refused("days", "is missing or not a list", 'a list of {"situation": ..., "days": ...}')
    situations, days = read_days(entries, category, "days")
    beside = raw.get("with")
    if beside not in (None, TRAILER):
        raise Refused("with", f"{str(beside)[:60]!r} is not planned together with a jig", (TRAILER,))
    places = (category,) if beside is None else (category, TRAILER)
    sold = list(dict.fromkeys(card.id for place in places for card in house_palette().sold_in(place)))
    return Request(
        category=category,
        books=books,
        situations=situations,
        days=days,
        agree_all=agree == "all",
        accept=Grade(accept),
        owned=frozenset(words(raw, "owned", sold)),
        lock=frozenset(words(raw, "lock", sold)),
        ban=frozenset(words(raw, "ban", sold)),
        at_most=at_most,
        with_trailers=beside is not None,
        right=share(raw, "right"),
    )
