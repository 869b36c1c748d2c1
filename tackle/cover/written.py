"""A plan as plain data, and back: handed from one process to another that has the same palette and rulebooks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from tackle.base.vocabulary import Grade
from tackle.colours.palette import Palette
from tackle.cover.plan import Bought, Open, Piece, Plan, Unanswered
from tackle.cover.served import ServedDays, Way
from tackle.schools.rulebook import Rulebook
from tackle.situations.rows import to_millionths

__all__ = ["plan_from_dict", "plan_to_dict"]


def plan_to_dict(plan: Plan) -> dict[str, Any]:
    """A plan in numbers, words and lists; cards and rulebooks by their ids, calls by their place in the book."""
    group_ways, ways = plan.served.group_ways()
    books = {way.book for way in ways if way.book}
    places = {id(call): index for book in books for index, call in enumerate(book.calls)}
    return {
        "proved": plan.proved,
        "at_least": plan.at_least,
        "days": [
            plan.expected_days, plan.answered_days, plan.right_days, plan.most_right_days, plan.first_choice_days,
        ],
        "same_family": [[one.id, other.id] for one, other in plan.same_family],
        "pieces": [
            [
                piece.category, piece.card.id, piece.days, piece.alone, piece.owned, piece.reason, piece.right,
                [card.id for card in piece.stand_ins], [[book.id, days] for book, days in piece.firsts],
                piece.adds_first, piece.loses_right,
            ]
            for piece in plan.pieces
        ],
        "served": group_ways.tolist(),
        "ways": [
            [
                [card.id for card in one.cards], one.hit, one.asked, one.is_first, one.grade, one.book and one.book.id,
                [places[id(call)] for call in one.calls],
            ]
            for one in ways
        ],
        "unanswered": [[one.index, one.days, one.why, [book.id for book in one.books]] for one in plan.unanswered],
        "order": [[one.category, one.card.id, one.adds, one.adds_right, one.adds_first] for one in plan.order],
    }  # fmt: skip


def plan_from_dict(data: Mapping[str, Any], palette: Palette, books: Sequence[Rulebook], days: Sequence[float]) -> Plan:
    """The plan of some days that was told so. Raises KeyError or IndexError where palette or rulebooks are others."""
    cards, by_id = palette.by_id, {book.id: book for book in books}
    expected, answered, right, most_right, first_choice = data["days"]
    return Plan(
        proved=data["proved"],
        at_least=data["at_least"],
        pieces=tuple(
            Piece(
                category, cards[card], days, alone, owned, reason, of_right,
                tuple(cards[stand_in] for stand_in in stand_ins),
                tuple((by_id[book], share) for book, share in firsts), *without,
            )
            for category, card, days, alone, owned, reason, of_right, stand_ins, firsts, *without in data["pieces"]
        ),
        served=ServedDays(
            np.array(data["served"], dtype=np.int16), to_millionths(days), (
                Way(
                    tuple(cards[card] for card in those), hit, asked, is_first, Grade(grade) if grade else None,
                    by_id[book] if book else None, tuple(by_id[book].calls[call] for call in calls),
                )
                for those, hit, asked, is_first, grade, book, calls in data["ways"]
            ),
        ),
        unanswered=tuple(
            Unanswered(index, days, Open(why), tuple(by_id[book] for book in of_books))
            for index, days, why, of_books in data["unanswered"]
        ),
        order=tuple(Bought(category, cards[card], *gains) for category, card, *gains in data["order"]),
        expected_days=expected,
        answered_days=answered,
        right_days=right,
        most_right_days=most_right,
        first_choice_days=first_choice,
        same_family=tuple((cards[one], cards[other]) for one, other in data["same_family"]),
    )  # fmt: skip
