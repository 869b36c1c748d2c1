"""The Ask page's question and answer: one situation, every school."""

from dataclasses import dataclass
from typing import Any

from django.http import QueryDict

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.errors import Refused
from tackle.schools.evaluation import Verdict, rank
from tackle.schools.rulebook import Rulebook
from tackle.situations.situation import Situation, read_situation
from tackle.units import System, read_length_in
from tackle.vocabulary import Grade

DEFAULTS = {"category": "worm", "see": "48 in", "light": "broken"}
# The stops of the slider, in inches: close together where the schools draw their lines.
STOPS_IN = (
    4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 18, 20, 22, 24, 27, 30, 33, 36, 40, 44, 48, 54, 60, 66, 72, 84, 96,
    108, 120, 144, 168, 192, 216, 240, 300,
)  # fmt: skip
SHOWN = 3


def read_question(query: QueryDict, units: System) -> Situation:
    """The situation that an address asks about. Raises Refused with the field."""
    given = {name: query.get(name, "").strip() for name in (*DEFAULTS, "stain", "wind", "season", "cover", "pace")}
    given |= {name: query.get(name, "").strip() for name in ("month", "temp", "depth", "norm")}
    raw: dict[str, Any] = {name: value for name, value in given.items() if value and name not in _OURS}
    raw = {**{name: DEFAULTS[name] for name in ("category", "light")}, **raw}
    raw["visibility_in"] = read_length_in(given["see"] or DEFAULTS["see"], units, "see")
    if given["norm"]:
        raw["norm_in"] = read_length_in(given["norm"], units, "norm")
    if given["month"]:
        raw["month"] = int(given["month"]) if given["month"].isdecimal() else given["month"]
    if given["temp"]:
        raw["water_temp_f"] = _temperature_f(given["temp"], units)
    if given["depth"]:
        raw["depth_ft"] = _depth_ft(given["depth"], units)
    foods = [food for food in query.getlist("food") if food]
    return read_situation({**raw, "forage": foods}, field="ask")


_OURS = ("see", "month", "temp", "depth", "norm")


def _temperature_f(text: str, units: System) -> float:
    cleaned = text.replace(",", ".").replace("°", "").strip().upper()
    unit = cleaned[-1:] if cleaned[-1:] in ("F", "C") else ("C" if units == "metric" else "F")
    try:
        value = float(cleaned.rstrip("FC "))
    except ValueError:
        raise Refused("temp", f"{text!r} is not a temperature", "65 F or 18 C") from None
    return value * 9 / 5 + 32 if unit == "C" else value


def _depth_ft(text: str, units: System) -> float:
    # A bare number is in feet or metres: nobody gives a running depth in inches.
    bare = text.replace(",", ".").replace(".", "", 1).isdecimal()
    return read_length_in(f"{text} {'m' if units == 'metric' else 'ft'}" if bare else text, units, "depth") / 12


@dataclass(frozen=True, slots=True)
class Said:
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
class Answer:
    """What all schools say, the colour to start with and who says so, and where they disagree."""

    said: list[Said]
    start: Card | None
    behind: list[Rulebook]
    disputes: list[Dispute]


def ask(situation: Situation, palette: Palette, books: list[Rulebook]) -> Answer:
    """Every school's word on one situation. The one to start with is the colour most schools reach for first."""
    cards = palette.sold_in(situation.category)
    ranked = [(book, rank(book, cards, situation)) for book in books]
    said = [
        Said(
            book,
            [v for v in all_of if v.grade is not Grade.AVOID][:SHOWN],
            [v for v in all_of if v.grade is Grade.AVOID],
        )
        for book, all_of in ranked
    ]
    votes: dict[Card, float] = {}
    for _, all_of in ranked:
        for place, verdict in enumerate(v for v in all_of if v.grade is Grade.GO_TO):
            votes[verdict.card] = votes.get(verdict.card, 0) + 1 / (1 + place)
    start = max(votes, key=lambda card: votes[card]) if votes else None
    grades = {(book.id, v.card.id): v for book, all_of in ranked for v in all_of}
    behind = [book for book in books if start and (v := grades.get((book.id, start.id))) and v.grade is Grade.GO_TO]
    return Answer(said, start, behind, _disputes(cards, books, grades))


def _disputes(cards: tuple[Card, ...], books: list[Rulebook], grades: dict[tuple[str, str], Verdict]) -> list[Dispute]:
    disputes = []
    for card in cards:
        words = [(book, v) for book in books if (v := grades.get((book.id, card.id)))]
        praised = [(book, v) for book, v in words if v.grade is Grade.GO_TO]
        warned = [(book, v) for book, v in words if v.grade is Grade.AVOID]
        if praised and warned:
            disputes.append(Dispute(card, praised, warned))
    return sorted(disputes, key=lambda d: -len(d.praised) - len(d.warned))[:SHOWN]
