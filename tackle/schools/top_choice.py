"""The first word: the one colour to begin with, over all schools that are heard. Every page asks here."""

from __future__ import annotations

import math
from collections.abc import Container, Hashable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from types import MappingProxyType
from typing import Any, Final

from tackle.base.vocabulary import CATEGORIES, TRAILER, Grade, Season, Tone
from tackle.colours.colour import Colour
from tackle.colours.family import family
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry
from tackle.schools.evaluation import Rating, first_choice_ratings, rank, worth
from tackle.schools.rule import Rule
from tackle.schools.rulebook import Rulebook
from tackle.situations.conditions import CHOICES, CONDITIONS
from tackle.situations.situation import Situation

__all__ = [
    "CLARITY", "LIFTED", "RESTS_ON", "Preferences", "Start", "are_as_good", "ask", "counts_at", "house_weights",
    "load_weights", "named_of_told", "named_where_told", "trailer_for", "weight",
]  # fmt: skip

CLARITY: Final = frozenset(("visibility_in", "sight_in", "norm_ratio"))
RESTS_ON: Final = {"depth_ratio": "depth_ft"}
LIFTED: Final = 100  # a rule of the angler's own goes before what a book says
# A weight is in whole millionths, and that of a call's card at a place from 0 is divided by 1 + a tenth of its place.
_MILLIONTHS_OF_TENTHS: Final = 10_000_000


@dataclass(frozen=True, slots=True)
class Start:
    """The colour to start with, the verdict on it of the school whose call counts most, who else reaches for it, and
    which would be the first word where that is another."""

    card: Colour
    book: Rulebook
    verdict: Rating
    supporters: tuple[Rulebook, ...] = ()
    instead_of: Colour | None = None


@dataclass(frozen=True, slots=True)
class Lead:
    """A school whose own question some categories are, in one season or in any; `eaten`: where its call names what was
    told to be eaten."""

    school: str
    categories: frozenset[str]
    season: Season | None
    eaten: bool


@dataclass(frozen=True, slots=True)
class Weights:
    """How calls are weighed: the power of what they name, and how many times a leading school counts; beside a log how
    far the first word is trusted and a warning heeded, as logarithms of a factor."""

    power: int
    leads: int
    trusts: float
    warns: float
    lead: tuple[Lead, ...]


class Preferences:
    """What some schools say of some cards in one situation: the one asker of every page, command and device.

    `ranked`: each school with its verdicts as `rank` gives them. A school's first choices weigh by how much of what was
    told their call names, steeply. The votes of a family are the sum, over the schools, of the largest weight of its
    cards with that school; a card's own votes the sum of its weights.
    """

    def __init__(
        self, situation: Situation, cards: Sequence[Colour], ranked: Sequence[tuple[Rulebook, Sequence[Rating]]]
    ) -> None:
        self.situation, self.cards, self.ranked = situation, tuple(cards), ranked
        self._families = {card: family(card, situation.category) for card in self.cards}
        self._votes: dict[Colour, int] = {}
        self._family_votes: dict[Hashable, int] = {}
        self._voices: dict[Colour, tuple[int, Rulebook, Rating]] = {}
        for book, verdicts in ranked:
            best: dict[Hashable, int] = {}
            for index, verdict in enumerate(first_choice_ratings(verdicts)):
                counts = counts_at(weight(book, verdict.call, situation), index)
                self._votes[verdict.card] = self._votes.get(verdict.card, 0) + counts
                kin = self._families[verdict.card]
                best[kin] = max(best.get(kin, 0), counts)
                if verdict.card not in self._voices or counts > self._voices[verdict.card][0]:
                    self._voices[verdict.card] = counts, book, verdict
            for kin, counts in best.items():
                self._family_votes[kin] = self._family_votes.get(kin, 0) + counts
        self._suits: dict[Colour, int] = {}
        for _, verdicts in ranked:
            for verdict in verdicts:
                suit = worth(verdict.grade, Grade.WORKS)
                self._suits[verdict.card] = max(suit, self._suits.get(verdict.card, 0))

    @property
    def most(self) -> int:
        """The votes of the family with most, in millionths."""
        return max(self._family_votes.values(), default=0)

    def votes(self, card: Colour) -> tuple[int, int]:
        """The votes of a card's family, and its own, in millionths."""
        return self._family_votes.get(self._families[card], 0), self._votes.get(card, 0)

    def as_good(self) -> list[Colour]:
        """The cards that a school accepts, of families with at least two thirds of the most votes, the first word
        first: by the votes of their family, by their own, then as they were given."""
        most = self.most
        found = [card for card in self.cards if self._suits.get(card) and are_as_good(self.votes(card)[0], most)]
        return sorted(found, key=lambda card: tuple(-votes for votes in self.votes(card)))

    def order(
        self, some: Sequence[Colour] | None = None, factors: Mapping[str, float] = MappingProxyType({})
    ) -> list[Colour]:
        """Some of the cards, all where none are told, from what leads on: by the votes of their family, by their own,
        by how well they suit, then as they were given; other tones before versions of what stands already.

        `factors`: by card id how many times the average a log says that it gets. The book's word counts beside it as
        much as `trusts`, less the further a card's votes are behind the first word's.
        """

        def colour_sort_key(card: Colour) -> tuple[float, ...]:
            kin, own = self.votes(card)
            trust = (-self._trust(card, factors),) if factors else ()
            return *trust, -kin, -own, -self._suits.get(card, 0)

        standing = sorted(self.cards if some is None else some, key=colour_sort_key)
        best: dict[Tone, Colour] = {}
        for card in standing:
            if self._suits.get(card):
                best.setdefault(card.tone, card)
        fresh = list(best.values())
        return [*fresh, *(card for card in standing if card not in fresh)]

    def _trust(self, card: Colour, factors: Mapping[str, float]) -> float:
        """How far a card is trusted by book and log together, as the logarithm of a factor."""
        weights = house_weights()
        most = self.most
        kin = self.votes(card)[0]
        book = weights.trusts * kin / most if kin else 0.0 if self._suits.get(card) else -weights.warns
        return book + math.log(factors.get(card.id, 1.0))

    def start(self, have: Container[str] = ()) -> Start | None:
        """The first word; of what one has, by the cards' ids, what is as good. None where no school reaches for a
        card."""
        good = self.as_good()
        if not good:
            return None
        mine = next((card for card in good if card.id in have), good[0])
        start = self._start(mine)
        return start and replace(start, instead_of=None if mine is good[0] else good[0])

    def first(self, some: Sequence[Colour] | None = None) -> Start | None:
        """What leads of some of the cards, of all where none are told; None where no school accepts one."""
        order = self.order(some)
        return self._start(order[0]) if order else None

    def _start(self, card: Colour) -> Start | None:
        voice = self.advice_for(card)
        if voice is None:
            return None
        book, verdict = voice
        supporters = tuple(one for one, said in self.ranked if one is not book and _reaches(said, card))
        return Start(card, book, verdict, supporters)

    def advice_for(self, card: Colour) -> tuple[Rulebook, Rating] | None:
        """The school that speaks first of a card: that has it as a first choice by the call that counts most, or else
        reaches for it, or accepts it; None where none does."""
        if card in self._voices:
            return self._voices[card][1:]
        said = [
            (verdict.grade is Grade.GO_TO, weight(book, verdict.call, self.situation), -index, book, verdict)
            for index, (book, verdicts) in enumerate(self.ranked)
            for verdict in verdicts
            if verdict.card is card and _accepts(verdict)
        ]
        if not said:
            return None
        *_, book, verdict = max(said, key=lambda one: one[:3])
        return book, verdict


def ask(books: Iterable[Rulebook], cards: Sequence[Colour], situation: Situation) -> Preferences:
    """Asks some schools of some cards, in the palette's order: what is sold of a category, or what is there."""
    return Preferences(situation, cards, [(book, rank(book, cards, situation)) for book in books])


def trailer_for(
    jig: Colour, situation: Situation, trailers: Sequence[Colour], sold: Sequence[Colour], books: Iterable[Rulebook]
) -> Start | None:
    """What leads of some trailers, in the palette's order, to be threaded on a jig; None on what takes none.

    `sold`: all that there are.
    """
    if not CATEGORIES[situation.category].takes_trailer:
        return None
    every = (*sold, *(card for card in trailers if card not in sold))
    return ask(books, every, replace(situation, category=TRAILER, with_tone=jig.tone)).first(trailers)


def _accepts(verdict: Rating) -> bool:
    return verdict.grade is not Grade.AVOID


def _reaches(verdicts: Sequence[Rating], card: Colour) -> bool:
    return any(verdict.card is card and verdict.grade is Grade.GO_TO for verdict in verdicts)


def named_of_told(call: Rule, situation: Situation) -> int:
    """How much of what was told a call names: a range of clarity is one, and a word or a number that was not told is
    none, nor is a list of more than half the words there are."""
    named = int(any(name in CLARITY for name, _ in call.ranges))
    for name in named_where_told(call):
        named += _eaten(call, situation) if name == "forage" else _known(name, situation)
    return named


def _eaten(call: Rule, situation: Situation) -> bool:
    foods = next(words for name, words in call.among if name == "forage")
    return any(str(one) in foods and str(one) != "unknown" for one in situation.forage)


def named_where_told(call: Rule) -> list[str]:
    """The conditions beside clarity that count as named by a call where they are told."""
    ranges = [name for name, _ in call.ranges if name not in CLARITY]
    return ranges + [
        name for name, words in call.among
        if CONDITIONS[name].several or len(words - {"unknown"}) * 2 <= len(CHOICES[name])
    ]  # fmt: skip


def _known(name: str, situation: Situation) -> bool:
    row = CONDITIONS[RESTS_ON.get(name, name)]
    return bool(getattr(situation, row.column or row.field) != row.unsaid)


def are_as_good(votes: Any, most: Any) -> Any:
    """Whether the votes of a family are as good as the most there are: whole numbers, or arrays of them."""
    return (3 * votes >= 2 * most) & (most > 0)


def counts_at(of_call: int, place: int) -> int:
    """What a call of some weight counts for the card at a place, from 0, among the first choices of it; in
    millionths."""
    return of_call * _MILLIONTHS_OF_TENTHS // (10 + place)


def weight(book: Rulebook, call: Rule, situation: Situation) -> int:
    """How much a call counts, by what it names of what was told, more where its school leads."""
    weights = house_weights()
    leads = any(
        lead.school == book.id
        and situation.category in lead.categories
        and (lead.season is None or lead.season is situation.phase)
        and (not lead.eaten or ("forage" in dict(call.among) and _eaten(call, situation)))
        for lead in weights.lead
    )
    counts: int = (1 + named_of_told(call, situation)) ** weights.power
    return counts * (weights.leads if leads else 1) * (LIFTED if call.lifted else 1)


def load_weights(path: Path) -> Weights:
    """How calls are weighed, from a TOML file. Raises DataError naming entry and field."""
    file = Entry(read_toml(path), path.name, "file", ("power", "leads", "trusts", "warns", "lead"))
    entries = [
        Entry(raw, path.name, "a lead", ("school", "for", "season", "eaten"), "lead") for raw in file.list("lead")
    ]
    return Weights(
        file.whole("power", 1, 9),
        file.whole("leads", 1, 100),
        file.number("trusts", 0, 5),
        file.number("warns", 0, 5),
        tuple(
            Lead(
                entry.text("school"),
                entry.words("for", entry.raw.get("for"), CATEGORIES),
                entry.one("season", Season) if "season" in entry.raw else None,
                entry.flag("eaten"),
            )
            for entry in entries
        ),
    )


def house_weights() -> Weights:
    return loaded(load_weights, FOLDER / "first-word.toml")
