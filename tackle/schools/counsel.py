"""One situation before all schools: what each says, which colour to start with, and where they disagree."""

from __future__ import annotations

from collections.abc import Container, Sequence
from dataclasses import dataclass
from typing import Final

from tackle.base.vocabulary import TRAILER, Grade
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.schools.evaluation import Rating
from tackle.schools.rulebook import Rulebook
from tackle.schools.top_choice import Preferences, Start, ask, trailer_for
from tackle.situations.situation import Situation

__all__ = ["Counsel", "Dispute", "SchoolSaid", "counsel"]

SHOWN: Final = 3


@dataclass(frozen=True, slots=True)
class SchoolSaid:
    """What one school says: its first choices, and what it warns of."""

    book: Rulebook
    best: list[Rating]
    warned: list[Rating]

    @property
    def first(self) -> Rating | None:
        return self.best[0] if self.best else None


@dataclass(frozen=True, slots=True)
class Dispute:
    """A colour that some schools reach for and others warn of."""

    card: Colour
    praised: list[tuple[Rulebook, Rating]]
    warned: list[tuple[Rulebook, Rating]]


@dataclass(frozen=True, slots=True)
class Counsel:
    """What all schools say, the colour to start with, what is as good, who of them reaches for it and what is threaded
    on it where it is a jig, and where they disagree."""

    said: list[SchoolSaid]
    start: Start | None
    as_good: list[Colour]  # beside the colour to start with
    trailer: Start | None
    supporters: list[Rulebook]
    disputes: list[Dispute]


def counsel(
    situation: Situation, palette: Palette, books: Sequence[Rulebook], followed: Sequence[Rulebook],
    have: Container[str] = (), trailers: Sequence[Colour] = (),
) -> Counsel:  # fmt: skip
    """Every school's word on one situation. The colour to start with is that of the schools followed; of what one has,
    by the cards' ids, what is as good. `trailers`: those to thread on a jig; none: any that is sold."""
    cards = palette.sold_in(situation.category)
    ranked = ask(books, cards, situation).ranked
    said = [
        SchoolSaid(
            book,
            [v for v in all_of if v.grade is not Grade.AVOID][:SHOWN],
            [v for v in all_of if v.grade is Grade.AVOID],
        )
        for book, all_of in ranked
    ]
    heard = Preferences(situation, cards, [(book, all_of) for book, all_of in ranked if book in followed])
    start = heard.start(have)
    grades = {(book.id, v.card.id): v for book, all_of in ranked for v in all_of}
    supporters = [
        book for book in books if start and (v := grades.get((book.id, start.card.id))) and v.grade is Grade.GO_TO
    ]
    sold = palette.sold_in(TRAILER)
    trailer = trailer_for(start.card, situation, trailers or sold, sold, followed) if start else None
    beside = [card for card in heard.as_good() if start and card is not start.card]
    return Counsel(said, start, beside, trailer, supporters, _disputes(cards, books, grades))


def _disputes(
    cards: tuple[Colour, ...], books: Sequence[Rulebook], grades: dict[tuple[str, str], Rating]
) -> list[Dispute]:
    disputes = []
    for card in cards:
        words = [(book, v) for book in books if (v := grades.get((book.id, card.id)))]
        praised = [(book, v) for book, v in words if v.grade is Grade.GO_TO]
        warned = [(book, v) for book, v in words if v.grade is Grade.AVOID]
        if praised and warned:
            disputes.append(Dispute(card, praised, warned))
    return sorted(disputes, key=lambda d: -len(d.praised) - len(d.warned))[:SHOWN]
