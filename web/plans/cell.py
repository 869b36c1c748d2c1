"""One cell of the board opened: what answers its days and why, school by school, and on which days."""

from dataclasses import dataclass, field
from typing import Any

from tackle.colours.card import Card
from tackle.cover.planner import Served, Unanswered
from tackle.schools.evaluation import Verdict, rank
from tackle.schools.rulebook import Rulebook
from tackle.situations.expected import Expected
from tackle.vocabulary import Forage
from web.plans.reads import Answered, AnsweredPairs, Basis, answer, pairs
from web.ui.words import label

TOP_VERDICTS = 3
_CONTEXT = (("Season", "season"), ("Wind", "wind"), ("Cover", "cover"))


@dataclass(slots=True)
class Reason:
    """Days of one cell that are answered alike: how, and when they are."""

    served: Served | None = None
    pair: tuple[Card, ...] = ()
    gone: Unanswered | None = None
    days: float = 0.0
    foods: list[Forage] = field(default_factory=list)
    waters: list[str] = field(default_factory=list)
    schools: list[tuple[Rulebook, list[Verdict]]] = field(default_factory=list)
    parts: dict[str, dict[str, float]] = field(default_factory=dict)

    def add(self, row: Expected) -> None:
        self.days += row.days
        if row.food not in self.foods:
            self.foods.append(row.food)
        if row.water.name not in self.waters:
            self.waters.append(row.water.name)
        for name, attribute in _CONTEXT:
            value = getattr(row, attribute)
            word = label(value).lower() if value else "open water" if attribute == "cover" else "not told"
            told = self.parts.setdefault(name, {})
            told[word] = told.get(word, 0.0) + row.days

    @property
    def context(self) -> list[tuple[str, list[tuple[str, float]]]]:
        """The days by season, wind and cover, most first; what does not vary is left out."""
        return [
            (name, sorted(told.items(), key=lambda part: -part[1]))
            for name, told in self.parts.items()
            if len(told) > 1
        ]


def reasons(basis: Basis, category: str, band: str, light: str) -> list[Reason]:
    """Why one cell is answered as it is, most days first."""
    answered = answer(basis, category)
    served = answered.served()
    cards = basis.palette.sold_in(category)

    def key(index: int) -> Any:
        one = served.get(index)
        return (one.card, one.call.id, one.book.id) if one else None

    found = _gathered(answered, band, light, key)
    for index, reason in found:
        reason.served = served.get(index)
        asked = answered.expected[index].situation(category)
        reason.schools = [(book, _best(rank(book, cards, asked))) for book in basis.books]
    return [reason for _, reason in found]


def pair_reasons(basis: Basis, category: str, band: str, light: str) -> list[Reason]:
    """The jigs and trailers that answer one cell together, most days first."""
    answered = pairs(basis, category)
    by_index = answered.cards()
    found = _gathered(answered, band, light, by_index.get)
    for index, reason in found:
        reason.pair = by_index.get(index, ())
    return [reason for _, reason in found]


def _gathered(answered: Answered | AnsweredPairs, band: str, light: str, key: Any) -> list[tuple[int, Reason]]:
    """The days of a cell by what answers them, each with the place of one of its situations."""
    unanswered = {gone.index: gone for gone in answered.answer.unanswered}
    found: dict[Any, tuple[int, Reason]] = {}
    for index, row in enumerate(answered.expected):
        if (row.band, row.light) == (band, light):
            gone = unanswered.get(index)
            _, reason = found.setdefault(gone.why if gone else key(index), (index, Reason(gone=gone)))
            reason.add(row)
    return sorted(found.values(), key=lambda entry: -entry[1].days)


def _best(verdicts: list[Verdict]) -> list[Verdict]:
    return [v for v in verdicts if v.grade != "avoid"][:TOP_VERDICTS]
