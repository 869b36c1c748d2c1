"""The first word: the one colour to begin with, over all schools that are heard. Every page asks here."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Final

from tackle.colours.card import Card
from tackle.data import FOLDER, read_toml
from tackle.data.entry import Entry
from tackle.schools.call import Call
from tackle.schools.evaluation import Verdict, reached_first
from tackle.schools.rulebook import Rulebook
from tackle.situations.conditions import CHOICES, CONDITIONS
from tackle.situations.situation import Situation
from tackle.vocabulary import CATEGORIES, Grade, Season, Tone

__all__ = ["Start", "in_order", "load_weights", "named_of_told", "start_of", "voice_of"]

_CLARITY: Final = frozenset(("visibility_in", "sight_in", "norm_ratio"))
_RESTS_ON: Final = {"depth_ratio": "depth_ft"}
_LIFTED: Final = 100  # a rule of the angler's own goes before what a book says
_LATER: Final = 0.01  # a later card of one call counts so much less, to leave no ties


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
    """How calls are weighed: the power of what they name, and how many times a leading school counts."""

    power: float
    leads: float
    lead: tuple[Lead, ...]


def start_of(situation: Situation, ranked: Sequence[tuple[Rulebook, Sequence[Verdict]]]) -> Start | None:
    """The first word of some schools, each with its verdicts as `rank` gives them; None where none reaches for a card.

    Each school's first choices count by how much of what was told their call names, steeply, and schools that reach
    for the same card add up.
    """
    votes, voices = _votes(situation, ranked)
    if not votes:
        return None
    card = max(votes, key=lambda one: votes[one])
    _, leader, verdict = voices[card]
    return Start(
        card, leader, verdict, tuple(book for book, said in ranked if book is not leader and _reaches(said, card))
    )


def in_order(
    situation: Situation, ranked: Sequence[tuple[Rulebook, Sequence[Verdict]]], cards: Sequence[Card]
) -> list[Card]:
    """Some cards from the first word on: other tones before versions of what stands already; what no school reaches for
    comes after, and what none accepts last, both as they were given."""
    votes, _ = _votes(situation, ranked)
    works = {verdict.card for _, verdicts in ranked for verdict in verdicts if verdict.grade is not Grade.AVOID}
    later: dict[Card, float] = {}
    for book, verdicts in ranked:
        for verdict in verdicts:
            if verdict.grade is Grade.GO_TO:
                later[verdict.card] = later.get(verdict.card, 0.0) + _weight(book, verdict.call, situation)
    standing = sorted(cards, key=lambda card: (-votes.get(card, 0.0), -later.get(card, 0.0), card not in works))
    best: dict[Tone, Card] = {}
    for card in standing:
        if card in works:
            best.setdefault(card.tone, card)
    fresh = list(best.values())
    return [*fresh, *(card for card in standing if card not in fresh)]


def voice_of(
    card: Card, situation: Situation, ranked: Sequence[tuple[Rulebook, Sequence[Verdict]]]
) -> tuple[Rulebook, Verdict] | None:
    """The school that speaks first of a card: that reaches for it by the call that counts most, or else accepts it."""
    said = [
        (verdict.grade is Grade.GO_TO, _weight(book, verdict.call, situation), -place, book, verdict)
        for place, (book, verdicts) in enumerate(ranked)
        for verdict in verdicts
        if verdict.card is card and verdict.grade is not Grade.AVOID
    ]
    if not said:
        return None
    *_, book, verdict = max(said, key=lambda one: one[:3])
    return book, verdict


def _votes(
    situation: Situation, ranked: Sequence[tuple[Rulebook, Sequence[Verdict]]]
) -> tuple[dict[Card, float], dict[Card, tuple[float, Rulebook, Verdict]]]:
    """What the schools' first choices count together, and who counts most for each."""
    votes: dict[Card, float] = {}
    voices: dict[Card, tuple[float, Rulebook, Verdict]] = {}
    for book, verdicts in ranked:
        for place, verdict in enumerate(reached_first(verdicts)):
            counts = _weight(book, verdict.call, situation) / (1 + _LATER * place)
            votes[verdict.card] = votes.get(verdict.card, 0.0) + counts
            if verdict.card not in voices or counts > voices[verdict.card][0]:
                voices[verdict.card] = counts, book, verdict
    return votes, voices


def _reaches(verdicts: Sequence[Verdict], card: Card) -> bool:
    return any(verdict.card is card and verdict.grade is Grade.GO_TO for verdict in verdicts)


def named_of_told(call: Call, situation: Situation) -> int:
    """How much of what was told a call names: a range of clarity is one, and a word or a number that was not told is
    none, nor is a list of more than half the words there are."""
    ranges = {name for name, _ in call.ranges}
    named = int(not ranges.isdisjoint(_CLARITY))
    named += sum(_known(name, situation) for name in ranges - _CLARITY)
    for name, words in call.among:
        if CONDITIONS[name].several:
            named += any(str(one) in words and str(one) != "unknown" for one in situation.forage)
        elif len(words - {"unknown"}) * 2 <= len(CHOICES[name]):
            named += _known(name, situation)
    return named


def _known(name: str, situation: Situation) -> bool:
    row = CONDITIONS[_RESTS_ON.get(name, name)]
    return bool(getattr(situation, row.column or row.field) != row.unsaid)


def _weight(book: Rulebook, call: Call, situation: Situation) -> float:
    weights = _house_weights()
    counts = float((1 + named_of_told(call, situation)) ** weights.power)
    leads = any(
        lead.school == book.id
        and situation.category in lead.categories
        and (lead.season is None or lead.season is situation.phase)
        for lead in weights.lead
    )
    return counts * (weights.leads if leads else 1.0) * (_LIFTED if call.lifted else 1.0)


def load_weights(path: Path) -> Weights:
    """How calls are weighed, from a TOML file. Raises DataError naming entry and field."""
    file = Entry(read_toml(path), path.name, "file", ("power", "leads", "lead"))
    entries = [Entry(raw, path.name, "a lead", ("school", "for", "season"), "lead") for raw in file.list("lead")]
    return Weights(
        file.number("power", 1, 9),
        file.number("leads", 1, 100),
        tuple(
            Lead(
                one.text("school"),
                one.words("for", one.raw.get("for"), CATEGORIES),
                one.one("season", Season) if "season" in one.raw else None,
            )
            for one in entries
        ),
    )


@cache
def _house_weights() -> Weights:
    return load_weights(FOLDER / "first-word.toml")
