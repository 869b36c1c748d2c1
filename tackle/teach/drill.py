"""The drill: one situation, some colours of one category, and what the schools say of each; wrong only where all of
those followed warn of a colour or are silent on it."""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from tackle.base.vocabulary import Grade
from tackle.colours.colour import Colour
from tackle.schools.evaluation import evaluate, first_choices
from tackle.schools.rule import Rule
from tackle.schools.rulebook import Rulebook
from tackle.situations.columns import tabulate
from tackle.situations.situation import Situation

__all__ = ["DrillSaid", "DrillChoice", "Pick", "Question", "draw"]

LEAST: Final = 4
MOST: Final = 6


class Pick(StrEnum):
    """What picking a colour comes to."""

    FIRST = "first"  # one of those reached for first
    DOES = "does"  # some school takes it, if not first
    WRONG = "wrong"  # every followed school warns of it or is silent on it, while others are first


@dataclass(frozen=True, slots=True)
class DrillSaid:
    """What one school says of a colour: the call that decides, None where it is silent; and whether it is reached for
    first."""

    book: Rulebook
    call: Rule | None
    first: bool

    @property
    def grade(self) -> Grade | None:
        return self.call.grade if self.call else None


@dataclass(frozen=True, slots=True)
class DrillChoice:
    """One colour that may be picked, and what each followed school says of it."""

    card: Colour
    heard: tuple[DrillSaid, ...]
    pick: Pick


@dataclass(frozen=True, slots=True)
class Question:
    """A situation, whose thinking is asked for (None: all that are followed agree on something), and the colours."""

    situation: Situation
    by: Rulebook | None
    offers: tuple[DrillChoice, ...]

    @property
    def best(self) -> tuple[DrillChoice, ...]:
        return tuple(offer for offer in self.offers if offer.pick is Pick.FIRST)


def _advice_by_card(
    books: Sequence[Rulebook], cards: Sequence[Colour], situation: Situation
) -> dict[str, tuple[DrillSaid, ...]]:
    """What each school says of each card, by the card's id."""
    columns = tabulate([situation])
    said: dict[str, list[DrillSaid]] = {card.id: [] for card in cards}
    for book in books:
        deciding_rules = evaluate(book, situation.category, cards, columns)
        first = first_choices(book, deciding_rules)[:, 0]
        for card, place, is_first in zip(cards, deciding_rules[:, 0], first, strict=True):
            said[card.id].append(DrillSaid(book, book.calls[place] if place >= 0 else None, bool(is_first)))
    return {card: tuple(heard) for card, heard in said.items()}


def draw(situation: Situation, books: Sequence[Rulebook], cards: Sequence[Colour], seed: int) -> Question | None:
    """A question on a situation: always the same for one seed; None where no followed school reaches for anything.

    Where no colour is a first choice of all schools that have one, one of them is asked for. Of the colours there is
    always a first choice of whom is asked, one of each other school's where there is room, and something that is
    wrong where there is anything.
    """
    chance = random.Random(seed)
    said = _advice_by_card(books, cards, situation)
    reaching = [book for index, book in enumerate(books) if any(heard[index].first for heard in said.values())]
    if not reaching or len(cards) < LEAST:
        return None
    places = {book.id: index for index, book in enumerate(books)}
    common = [card for card in cards if all(said[card.id][places[book.id]].first for book in reaching)]
    by = None if common else chance.choice(reaching)
    judges = reaching if by is None else [by]

    def make_pick(card: Colour) -> Pick:
        heard = said[card.id]
        if any(heard[places[book.id]].first for book in judges):
            return Pick.FIRST
        if all(one.grade in (None, Grade.AVOID) for one in heard):
            return Pick.WRONG
        return Pick.DOES

    offers = [DrillChoice(card, said[card.id], make_pick(card)) for card in cards]
    chance.shuffle(offers)
    wanted = chance.randint(LEAST, MOST)
    chosen = [next(offer for offer in offers if offer.pick is Pick.FIRST and (by or offer.card in common))]
    for book in reaching:
        others = [one for one in offers if one not in chosen and one.heard[places[book.id]].first]
        if len(chosen) < wanted - 1 and others and not any(one.heard[places[book.id]].first for one in chosen):
            chosen.append(others[0])
    chosen += [one for one in offers if one.pick is Pick.WRONG and one not in chosen][:1]
    # Of what is left no second first choice comes before the rest: the fewer, the clearer the question.
    rest = [one for one in offers if one not in chosen and one.pick is not Pick.FIRST]
    rest += [one for one in offers if one not in chosen and one.pick is Pick.FIRST]
    chosen += rest[: max(wanted - len(chosen), 0)]
    chance.shuffle(chosen)
    return Question(situation, by, tuple(chosen))
