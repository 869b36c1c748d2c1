"""advise: what each school says of one situation, and which colour to start with."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

from tackle.base.typed import ANYTHING, ListOf, OptionalKind, Record, Text
from tackle.colours.palette import house_palette
from tackle.commands.fields import SCHOOLS, read_schools
from tackle.schools.evaluation import Rating
from tackle.schools.rulebook import house_rulebooks
from tackle.schools.top_choice import Preferences, ask
from tackle.situations.situation import read_situation

__all__ = ["advise"]

_REQUEST: Final = Record(
    {"id": ANYTHING, "situation": ANYTHING, "schools": SCHOOLS, "have": OptionalKind(ListOf(Text(60), 10_000), [])}
)


def advise(request: Mapping[str, Any]) -> dict[str, Any]:
    """What every school says of one situation. Raises InvalidInput.

    >>> asked = {"category": "worm", "visibility_in": 48, "light": "bright"}
    >>> advise({"situation": asked, "schools": ["ladder"]})["start"]["colour"]
    'green-pumpkin-black'
    """
    asked = _REQUEST.read(request)
    situation = read_situation(asked["situation"])
    followed = read_schools(asked["schools"], house_rulebooks())
    cards = house_palette().sold_in(situation.category)
    every = ask(house_rulebooks().values(), cards, situation)
    heard = Preferences(situation, cards, [(book, said) for book, said in every.ranked if book in followed])
    start = heard.start(frozenset(asked["have"]))
    return {
        "verdicts": {book.id: [_verdict(verdict) for verdict in said] for book, said in every.ranked},
        "start": start
        and {
            "colour": start.card.id,
            "why": start.verdict.call.why,
            "school": start.book.id,
            "behind": [book.id for book in start.supporters],
            **({"instead_of": start.instead_of.id} if start.instead_of else {}),
        },
        "as_good": [card.id for card in heard.as_good()],
    }


def _verdict(verdict: Rating) -> dict[str, Any]:
    return {
        "colour": verdict.card.id,
        "grade": verdict.grade.value,
        "call": verdict.call.written,
        "reason": verdict.call.why,
        "traits": verdict.card.traits(),
    }
