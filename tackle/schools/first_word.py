"""The first word: the one colour to begin with, over all schools that are heard. Every page asks here."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from types import MappingProxyType
from typing import Final

from tackle.colours.card import Card
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry
from tackle.schools.call import Call
from tackle.schools.evaluation import Verdict, rank, reached_first
from tackle.schools.rulebook import Rulebook
from tackle.situations.conditions import CHOICES, CONDITIONS
from tackle.situations.situation import Situation
from tackle.vocabulary import CATEGORIES, TRAILER, Grade, Season, Tone

__all__ = [
    "CLARITY", "LATER", "LIFTED", "RESTS_ON", "Asked", "Start", "ask", "house_weights", "load_weights", "named_of_told",
    "named_where_told", "trailer_for",
]  # fmt: skip

CLARITY: Final = frozenset(("visibility_in", "sight_in", "norm_ratio"))
RESTS_ON: Final = {"depth_ratio": "depth_ft"}
LIFTED: Final = 100  # a rule of the angler's own goes before what a book says
LATER: Final = 0.01  # a later card of one call counts so much less, to leave no ties


@dataclass(frozen=True, slots=True)
class Start:
    """The colour to start with, the verdict on it of the school whose call counts most, and who else reaches for it."""

    card: Card
    book: Rulebook
    verdict: Verdict
    behind: tuple[Rulebook, ...] = ()


@dataclass(frozen=True, slots=True)
class Lead:
    """A school whose own question some categories are, in one season or in any."""

    school: str
    categories: frozenset[str]
    season: Season | None


@dataclass(frozen=True, slots=True)
class Weights:
    """How calls are weighed: the power of what they name, and how many times a leading school counts; beside a log how
    far the first word is trusted and a warning heeded, as logarithms of a factor."""

    power: float
    leads: float
    trusts: float
    warns: float
    lead: tuple[Lead, ...]


class Asked:
    """What some schools say of some cards in one situation: the one asker of every page, command and device.

    `ranked`: each school with its verdicts as `rank` gives them. Its first choices count by how much of what was told
    their call names, steeply, and schools that reach for the same card add up.
    """

    def __init__(
        self, situation: Situation, cards: Sequence[Card], ranked: Sequence[tuple[Rulebook, Sequence[Verdict]]]
    ) -> None:
        self.situation, self.cards, self.ranked = situation, tuple(cards), ranked
        self._votes: dict[Card, float] = {}
        self._voices: dict[Card, tuple[float, Rulebook, Verdict]] = {}
        for book, verdicts in ranked:
            for place, verdict in enumerate(reached_first(verdicts)):
                counts = _weight(book, verdict.call, situation) / (1 + LATER * place)
                self._votes[verdict.card] = self._votes.get(verdict.card, 0.0) + counts
                if verdict.card not in self._voices or counts > self._voices[verdict.card][0]:
                    self._voices[verdict.card] = counts, book, verdict

    def order(self, factors: Mapping[str, float] = MappingProxyType({})) -> list[Card]:
        """The cards from the first word on: other tones before versions of what stands already; what no school reaches
        for comes after, and what none accepts last, both as they were given.

        `factors`: by card id how many times the average a log says that it gets. The book's word counts beside it as
        much as `trusts`, less the further a card's votes are behind the first word's.
        """
        works = {verdict.card for _, verdicts in self.ranked for verdict in verdicts if _accepts(verdict)}
        later: dict[Card, float] = {}
        for book, verdicts in self.ranked:
            for verdict in verdicts:
                if verdict.grade is Grade.GO_TO:
                    later[verdict.card] = later.get(verdict.card, 0.0) + _weight(book, verdict.call, self.situation)
        spoken = {card: place for place, card in enumerate(self._votes)}  # of as many votes, who speaks earlier
        standing = sorted(
            self.cards,
            key=lambda card: (
                -self._trust(card, factors, card in works) if factors else -self._votes.get(card, 0.0),
                spoken.get(card, 0), -later.get(card, 0.0), card not in works,
            ),
        )  # fmt: skip
        best: dict[Tone, Card] = {}
        for card in standing:
            if card in works:
                best.setdefault(card.tone, card)
        fresh = list(best.values())
        return [*fresh, *(card for card in standing if card not in fresh)]

    def _trust(self, card: Card, factors: Mapping[str, float], works: bool) -> float:
        """How far a card is trusted by book and log together, as the logarithm of a factor."""
        weights = house_weights()
        most = max(self._votes.values(), default=0.0)
        book = weights.trusts * self._votes[card] / most if card in self._votes else 0.0 if works else -weights.warns
        return book + math.log(factors.get(card.id, 1.0))

    def start(self) -> Start | None:
        """The first word; None where no school reaches for a card."""
        return self._start(self.order()[0]) if self._votes else None

    def first(self) -> Start | None:
        """The first word, or where no school reaches for a card, the first that one accepts; None where none does."""
        return self._start(self.order()[0]) if self.cards else None

    def _start(self, card: Card) -> Start | None:
        voice = self.voice(card)
        if voice is None:
            return None
        book, verdict = voice
        behind = tuple(one for one, said in self.ranked if one is not book and _reaches(said, card))
        return Start(card, book, verdict, behind)

    def voice(self, card: Card) -> tuple[Rulebook, Verdict] | None:
        """The school that speaks first of a card: that has it as a first choice by the call that counts most, or else
        reaches for it, or accepts it; None where none does."""
        if card in self._voices:
            return self._voices[card][1:]
        said = [
            (verdict.grade is Grade.GO_TO, _weight(book, verdict.call, self.situation), -place, book, verdict)
            for place, (book, verdicts) in enumerate(self.ranked)
            for verdict in verdicts
            if verdict.card is card and _accepts(verdict)
        ]
        if not said:
            return None
        *_, book, verdict = max(said, key=lambda one: one[:3])
        return book, verdict


def ask(books: Iterable[Rulebook], cards: Sequence[Card], situation: Situation) -> Asked:
    """Asks some schools of some cards, in the palette's order: what is sold of a category, or what is there."""
    return Asked(situation, cards, [(book, rank(book, cards, situation)) for book in books])


def trailer_for(jig: Card, situation: Situation, trailers: Sequence[Card], books: Iterable[Rulebook]) -> Start | None:
    """The first word on what to thread on a jig, of some trailers in the palette's order; None on what takes none."""
    if not CATEGORIES[situation.category].takes_trailer:
        return None
    return ask(books, trailers, replace(situation, category=TRAILER, with_tone=jig.tone)).first()


def _accepts(verdict: Verdict) -> bool:
    return verdict.grade is not Grade.AVOID


def _reaches(verdicts: Sequence[Verdict], card: Card) -> bool:
    return any(verdict.card is card and verdict.grade is Grade.GO_TO for verdict in verdicts)


def named_of_told(call: Call, situation: Situation) -> int:
    """How much of what was told a call names: a range of clarity is one, and a word or a number that was not told is
    none, nor is a list of more than half the words there are."""
    named = int(any(name in CLARITY for name, _ in call.ranges))
    for name in named_where_told(call):
        named += _eaten(call, situation) if name == "forage" else _known(name, situation)
    return named


def _eaten(call: Call, situation: Situation) -> bool:
    foods = next(words for name, words in call.among if name == "forage")
    return any(str(one) in foods and str(one) != "unknown" for one in situation.forage)


def named_where_told(call: Call) -> list[str]:
    """The conditions beside clarity that count as named by a call where they are told."""
    ranges = [name for name, _ in call.ranges if name not in CLARITY]
    return ranges + [
        name for name, words in call.among
        if CONDITIONS[name].several or len(words - {"unknown"}) * 2 <= len(CHOICES[name])
    ]  # fmt: skip


def _known(name: str, situation: Situation) -> bool:
    row = CONDITIONS[RESTS_ON.get(name, name)]
    return bool(getattr(situation, row.column or row.field) != row.unsaid)


def _weight(book: Rulebook, call: Call, situation: Situation) -> float:
    weights = house_weights()
    counts = float((1 + named_of_told(call, situation)) ** weights.power)
    leads = any(
        lead.school == book.id
        and situation.category in lead.categories
        and (lead.season is None or lead.season is situation.phase)
        for lead in weights.lead
    )
    return counts * (weights.leads if leads else 1.0) * (LIFTED if call.lifted else 1.0)


def load_weights(path: Path) -> Weights:
    """How calls are weighed, from a TOML file. Raises DataError naming entry and field."""
    file = Entry(read_toml(path), path.name, "file", ("power", "leads", "trusts", "warns", "lead"))
    entries = [Entry(raw, path.name, "a lead", ("school", "for", "season"), "lead") for raw in file.list("lead")]
    return Weights(
        file.number("power", 1, 9),
        file.number("leads", 1, 100),
        file.number("trusts", 0, 5),
        file.number("warns", 0, 5),
        tuple(
            Lead(
                one.text("school"),
                one.words("for", one.raw.get("for"), CATEGORIES),
                one.one("season", Season) if "season" in one.raw else None,
            )
            for one in entries
        ),
    )


def house_weights() -> Weights:
    return loaded(load_weights, FOLDER / "first-word.toml")
