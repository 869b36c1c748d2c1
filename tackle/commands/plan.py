"""plan: the fewest colours for some days of one category, right on a share of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Final

from tackle.colours.palette import house_palette
from tackle.commands.fields import known_fields, schools_of, share, words
from tackle.cover.pairs import TRAILER, PairPlan, Piece, make_pair_plan, pair_curve
from tackle.cover.planner import Chosen, Plan, Point, Request, make_plan, plan_curve
from tackle.errors import Refused
from tackle.situations.situation import read_days
from tackle.vocabulary import CATEGORIES, Grade

__all__ = ["plan"]

_FIELDS: Final = (
    "id", "category", "schools", "agree", "accept", "days", "owned", "lock", "ban", "at_most", "with", "right",
)  # fmt: skip


def plan(request: Mapping[str, Any]) -> dict[str, Any]:
    """The fewest colours for one category's days. Raises Refused."""
    wanted = _read(request)
    palette = house_palette()
    if request.get("with") is not None:
        if request["with"] != TRAILER:
            raise Refused("with", f"{str(request['with'])[:60]!r} is not planned together with a jig", (TRAILER,))
        answer = make_pair_plan(wanted, palette)
        return _of_pairs(wanted, answer, pair_curve(wanted, palette))
    return _of_colours(wanted, make_plan(wanted, palette), plan_curve(wanted, palette))


def _head(request: Request, answer: Plan | PairPlan) -> dict[str, Any]:
    status = {"status": "optimal"} if answer.proved else {"status": "bounded", "at_least": answer.at_least}
    return {"category": request.category, **status}


def _rest(request: Request, answer: Plan | PairPlan, curve: Sequence[Point]) -> dict[str, Any]:
    right = {"right_days": answer.right_days, "most_right_days": answer.most_right_days} if request.right else {}
    return {
        "answered_days": answer.answered_days,
        "expected_days": answer.expected_days,
        **right,
        "unanswered": [{"index": gone.index, "days": gone.days, "why": gone.why} for gone in answer.unanswered],
        "curve": [
            {"colours": point.size, "days": point.days}
            | ({"right_days": point.right, "proved": point.proved} if request.right else {})
            for point in curve
        ],
    }


def _piece(request: Request, one: Chosen | Piece) -> dict[str, Any]:
    told = {"colour": one.card.id, "days": one.days, "alone": one.alone, "owned": one.owned, "reason": one.reason}
    return told | ({"right": one.right} if request.right else {})


def _of_colours(request: Request, answer: Plan, curve: Sequence[Point]) -> dict[str, Any]:
    return {
        **_head(request, answer),
        "colours": [_piece(request, one) for one in answer.colours],
        **_rest(request, answer, curve),
        "order": [
            {"colour": step.card.id, "adds": step.adds} | ({"adds_right": step.adds_right} if request.right else {})
            for step in answer.order
        ],
    }


def _of_pairs(request: Request, answer: PairPlan, curve: Sequence[Point]) -> dict[str, Any]:
    return {
        **_head(request, answer),
        "colours": [_piece(request, one) for one in answer.jigs],
        "trailers": [_piece(request, one) for one in answer.trailers],
        "pairs": [{"index": pair.index, "colour": pair.jig.id, "trailer": pair.trailer.id} for pair in answer.pairs],
        **_rest(request, answer, curve),
        "order": [
            {"category": step.piece.category, "colour": step.piece.card.id, "adds": step.adds}
            | ({"adds_right": step.adds_right} if request.right else {})
            for step in answer.order
        ],
    }


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
    places = (category, TRAILER) if raw.get("with") == TRAILER else (category,)
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
        right=share(raw, "right"),
    )
