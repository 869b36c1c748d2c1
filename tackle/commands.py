"""The commands beside the screens: JSON lines in, JSON lines out.

    python -m tackle.commands advise|plan|audit < requests.jsonl

Exit status 0 when all was answered, 1 when some line was refused, 2 when the call itself was wrong.
"""

from __future__ import annotations

import json
import math
import sys
from collections.abc import Callable, Mapping
from typing import Any, Final

from tackle.audit_json import audit_answer
from tackle.colours.palette import house_palette
from tackle.cover.pairs import TRAILER, PairPlan, Piece, make_pair_plan
from tackle.cover.planner import Plan, Request, make_plan
from tackle.errors import DataError, Refused
from tackle.schools.evaluation import rank
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.situation import read_days, read_situation
from tackle.vocabulary import CATEGORIES, Grade

__all__ = ["advise", "main", "plan"]


def advise(request: Mapping[str, Any]) -> dict[str, Any]:
    """What every school says of one situation. Raises Refused."""
    situation = read_situation(request.get("situation"))
    cards = house_palette().sold_in(situation.category)
    return {
        "verdicts": {
            school: [
                {
                    "colour": verdict.card.id,
                    "grade": verdict.grade.value,
                    "reason": verdict.call.why,
                    "traits": verdict.card.traits(),
                }
                for verdict in rank(book, cards, situation)
            ]
            for school, book in house_rulebooks().items()
        }
    }


def plan(request: Mapping[str, Any]) -> dict[str, Any]:
    """The fewest colours for one category's days. Raises Refused."""
    wanted = _read_request(request)
    if request.get("with") is not None:
        if request["with"] != TRAILER:
            raise Refused("with", f"{request['with']!r} is not planned together with a jig", (TRAILER,))
        return _pairs_json(make_pair_plan(wanted, house_palette()))
    answer = make_plan(wanted, house_palette())
    found = {"status": "optimal" if answer.proved else "bounded"}
    return (found if answer.proved else {**found, "at_least": answer.at_least}) | _plan_json(answer)


def _plan_json(answer: Plan) -> dict[str, Any]:
    return {
        "colours": [
            {"colour": c.card.id, "days": c.days, "alone": c.alone, "owned": c.owned, "reason": c.reason}
            for c in answer.colours
        ],
        "answered_days": answer.answered_days,
        "expected_days": answer.expected_days,
        "unanswered": [{"index": u.index, "days": u.days, "why": u.why} for u in answer.unanswered],
        "curve": [{"colours": size, "days": days} for size, days in answer.curve],
        "order": [{"colour": card.id, "adds": adds} for card, adds in answer.order],
    }


def _pairs_json(answer: PairPlan) -> dict[str, Any]:
    def pieces(listed: tuple[Piece, ...]) -> list[dict[str, Any]]:
        return [
            {"colour": p.card.id, "days": p.days, "alone": p.alone, "owned": p.owned, "reason": p.reason}
            for p in listed
        ]

    return {
        "status": "optimal" if answer.proved else "bounded",
        "colours": pieces(answer.jigs),
        "trailers": pieces(answer.trailers),
        "pairs": [{"index": p.index, "colour": p.jig.id, "trailer": p.trailer.id} for p in answer.pairs],
        "answered_days": answer.answered_days,
        "expected_days": answer.expected_days,
        "unanswered": [{"index": u.index, "days": u.days, "why": u.why} for u in answer.unanswered],
        "curve": [{"colours": size, "days": days} for size, days in answer.curve],
        "order": [{"category": p.category, "colour": p.card.id, "adds": adds} for p, adds in answer.order],
    }


_PLAN_FIELDS: Final = (
    "id", "category", "schools", "agree", "accept", "days", "owned", "lock", "ban", "at_most", "with",
)  # fmt: skip


def _read_request(raw: Mapping[str, Any]) -> Request:
    for field in raw:
        if field not in _PLAN_FIELDS:
            raise Refused(field, "is not a known field", _PLAN_FIELDS)
    category = raw.get("category")
    if not isinstance(category, str) or category not in CATEGORIES:
        raise Refused("category", f"{category!r} is not a category", CATEGORIES)
    books = house_rulebooks()
    schools = _words(raw, "schools", books)
    if not schools:
        raise Refused("schools", "names no school", books)
    agree, accept = raw.get("agree", "any"), raw.get("accept", "works")
    if agree not in ("any", "all"):
        raise Refused("agree", f"{agree!r} is not allowed", ("any", "all"))
    if accept not in (Grade.GO_TO, Grade.WORKS):
        raise Refused("accept", f"{accept!r} is not allowed", (Grade.GO_TO, Grade.WORKS))
    at_most = raw.get("at_most")
    if at_most is not None and (isinstance(at_most, bool) or not isinstance(at_most, int) or at_most < 0):
        raise Refused("at_most", f"{at_most!r} is not allowed", "a whole number from 0, or null")
    entries = raw.get("days")
    if not isinstance(entries, list):
        raise Refused("days", "is missing or not a list", 'a list of {"situation": ..., "days": ...}')
    situations, days = read_days(entries, category, "days")
    places = (category, TRAILER) if raw.get("with") == TRAILER else (category,)
    sold = list(dict.fromkeys(card.id for place in places for card in house_palette().sold_in(place)))
    return Request(
        category=category,
        books=tuple(books[school] for school in schools),
        situations=situations,
        days=days,
        agree_all=agree == "all",
        accept=Grade(accept),
        owned=frozenset(_words(raw, "owned", sold)),
        lock=frozenset(_words(raw, "lock", sold)),
        ban=frozenset(_words(raw, "ban", sold)),
        at_most=at_most,
    )


def _words(raw: Mapping[str, Any], field: str, allowed: Any) -> list[str]:
    value = raw.get(field, [])
    if not isinstance(value, list):
        raise Refused(field, "is not a list", f"a list of {', '.join(allowed)}")
    for word in value:
        if not isinstance(word, str) or word not in allowed:
            raise Refused(field, f"{word!r} is not known", allowed)
    return list(dict.fromkeys(value))


_COMMANDS: Final[Mapping[str, Callable[[Mapping[str, Any]], dict[str, Any]]]] = {
    "advise": advise,
    "plan": plan,
    "audit": audit_answer,
}


def _answer(command: Callable[[Mapping[str, Any]], dict[str, Any]], line: str) -> dict[str, Any]:
    """The answer to one line, or its error."""
    try:
        request = json.loads(line, parse_constant=lambda word: math.nan)
    except ValueError as error:
        return {"id": None, "error": f"line: is not JSON ({error}); allowed: one JSON object a line"}
    if not isinstance(request, Mapping):
        return {"id": None, "error": "line: is not an object; allowed: one JSON object a line"}
    try:
        return {"id": request.get("id"), **command(request)}
    except Refused as refused:
        return {"id": request.get("id"), "error": str(refused)}


def main(arguments: list[str]) -> int:
    """Answers standard input line by line on standard output; returns the exit status."""
    if len(arguments) != 1 or arguments[0] not in _COMMANDS:
        print(f"usage: wax {'|'.join(_COMMANDS)} < requests.jsonl", file=sys.stderr)
        return 2
    refused = False
    try:
        for line in sys.stdin:
            if line.strip():
                answer = _answer(_COMMANDS[arguments[0]], line)
                refused |= "error" in answer
                print(json.dumps(answer, ensure_ascii=False), flush=True)
    except DataError as error:
        print(f"A data file cannot be used. {error}", file=sys.stderr)
        return 2
    return 1 if refused else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
