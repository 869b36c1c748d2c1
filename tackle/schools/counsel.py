"""One situation before all schools: what each says, which colour to start with, and where they disagree."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.schools.evaluation import Verdict, rank
from tackle.schools.rulebook import Rulebook
from tackle.situations.situation import Situation
from tackle.vocabulary import Grade

__all__ = ["FOLLOWED_FIRST", "Counsel", "Dispute", "SchoolSaid", "Start", "counsel", "start_of"]

SHOWN: Final = 3
FOLLOWED_FIRST: Final = ("ladder", "menu", "sheen")  # how far they see, what they eat, what the light does


@dataclass(frozen=True, slots=True)
class SchoolSaid:
    """What one school says: its first choices, and what it warns of."""

    book: Rulebook
    best: list[Verdict]
    warned: list[Verdict]

    @property
    def first(self) -> Verdict | None:
        return self.best[0] if self.best else None


@dataclass(frozen=True, slots=True)
class Dispute:
    """A colour that some schools reach for and others warn of."""

    card: Card
    praised: list[tuple[Rulebook, Verdict]]
    warned: list[tuple[Rulebook, Verdict]]


@dataclass(frozen=True, slots=True)
class Start:
    """The colour to start with, and the verdict on it of the school whose call is the narrowest for this day."""

    card: Card
    book: Rulebook
    verdict: Verdict


@dataclass(frozen=True, slots=True)
class Counsel:
    """What all schools say, the colour to start with and who of them reaches for it, and where they disagree."""

    said: list[SchoolSaid]
    start: Start | None
    behind: list[Rulebook]
    disputes: list[Dispute]


def counsel(situation: Situation, palette: Palette, books: Sequence[Rulebook], followed: Sequence[Rulebook]) -> Counsel:
    """Every school's word on one situation. The colour to start with is that of the schools followed."""
    cards = palette.sold_in(situation.category)
    ranked = [(book, rank(book, cards, situation)) for book in books]
    said = [
        SchoolSaid(
            book,
            [v for v in all_of if v.grade is not Grade.AVOID][:SHOWN],
            [v for v in all_of if v.grade is Grade.AVOID],
        )
        for book, all_of in ranked
    ]
    start = start_of([(book, all_of) for book, all_of in ranked if book in followed])
    grades = {(book.id, v.card.id): v for book, all_of in ranked for v in all_of}
    behind = [
        book for book in books if start and (v := grades.get((book.id, start.card.id))) and v.grade is Grade.GO_TO
    ]
    return Counsel(said, start, behind, _disputes(cards, books, grades))


def start_of(ranked: Sequence[tuple[Rulebook, Sequence[Verdict]]]) -> Start | None:
    """The colour to start with: each school gives its first choices as much as their call is narrow, the first of them
    most, and what else it reaches for half of that; None where no school has a go-to card."""
    votes: dict[Card, float] = {}
    voices: dict[Card, tuple[int, int, Rulebook, Verdict]] = {}
    for spoken, (book, verdicts) in enumerate(ranked):
        reached = [verdict for verdict in verdicts if verdict.grade is Grade.GO_TO]
        for place, verdict in enumerate(reached):
            first = verdict.place == reached[0].place
            narrow = 1 + verdict.call.specificity + 10 * verdict.call.lifted
            votes[verdict.card] = votes.get(verdict.card, 0.0) + narrow * (1.0 if first else 0.5) / (1 + place)
            voice = (narrow, -spoken, book, verdict)
            if verdict.card not in voices or voice[:2] > voices[verdict.card][:2]:
                voices[verdict.card] = voice
    if not votes:
        return None
    card = max(votes, key=lambda one: votes[one])
    _, _, book, verdict = voices[card]
    return Start(card, book, verdict)


def _disputes(
    cards: tuple[Card, ...], books: Sequence[Rulebook], grades: dict[tuple[str, str], Verdict]
) -> list[Dispute]:
    disputes = []
    for card in cards:
        words = [(book, v) for book in books if (v := grades.get((book.id, card.id)))]
        praised = [(book, v) for book, v in words if v.grade is Grade.GO_TO]
        warned = [(book, v) for book, v in words if v.grade is Grade.AVOID]
        if praised and warned:
            disputes.append(Dispute(card, praised, warned))
    return sorted(disputes, key=lambda d: -len(d.praised) - len(d.warned))[:SHOWN]
