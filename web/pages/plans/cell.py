"""One cell of the board opened: what answers its days and why, school by school, and on which days."""

from dataclasses import dataclass, field
from typing import Any

from tackle.base.vocabulary import Forage, Grade
from tackle.cover.served import Way
from tackle.schools.evaluation import Rating, first_choice_ratings, rank
from tackle.schools.rulebook import Rulebook
from tackle.situations.expected_rows import Expected
from web.common.ui.words import label
from web.domain.plans.selectors import Answered, Basis, answer
from web.pages.plans.wording import why_open

MOST_FIRST, MOST_DO = 4, 4
_CONTEXT = (("Season", "season"), ("Wind", "wind"), ("Cover", "cover"))


@dataclass(frozen=True, slots=True)
class CellVoice:
    """What one school says of a day: its first choices in its order, what else will do, and whether the set has one of
    its first choices."""

    book: Rulebook
    first: list[Rating]
    more: int
    will_do: list[Rating]
    hit: bool


@dataclass(slots=True)
class Reason:
    """Days of one cell that are answered alike: how, and when they are."""

    way: Way | None = None
    gone: str = ""
    days: float = 0.0
    foods: list[Forage] = field(default_factory=list)
    waters: list[str] = field(default_factory=list)
    schools: list[CellVoice] = field(default_factory=list)
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
            data = self.parts.setdefault(name, {})
            data[word] = data.get(word, 0.0) + row.days

    @property
    def context(self) -> list[tuple[str, list[tuple[str, float]]]]:
        """The days by season, wind and cover, most first; what does not vary is left out."""
        return [
            (name, sorted(data.items(), key=lambda part: -part[1]))
            for name, data in self.parts.items()
            if len(data) > 1
        ]


def reasons(basis: Basis, category: str, band: str, light: str) -> list[Reason]:
    """Why one cell is answered as it is, most days first."""
    answered = answer(basis, category)
    cards = basis.palette.sold_in(category)
    ids = {piece.card.id for piece in answered.answer.pieces}
    ways = answered.answer.served.ways()

    def key(index: int) -> Any:
        one = ways[index]
        return (one.cards, one.hit, one.asked, one.call and one.call.id, one.book and one.book.id) if one else None

    found = _gathered(answered, band, light, key)
    for index, reason in found:
        reason.way = ways[index]
        if not answered.paired:
            asked = answered.expected[index].situation(category)
            reason.schools = [_voice(book, rank(book, cards, asked), ids) for book in basis.books]
    return [reason for _, reason in found]


def _gathered(answered: Answered, band: str, light: str, key: Any) -> list[tuple[int, Reason]]:
    """The days of a cell by what answers them, each with the place of one of its situations."""
    unanswered = {gone.index: gone for gone in answered.answer.unanswered}
    found: dict[Any, tuple[int, Reason]] = {}
    request = answered.request
    for index, row in enumerate(answered.expected):
        if (row.band, row.light) == (band, light):
            gone = why_open(unanswered[index], request) if index in unanswered else ""
            _, reason = found.setdefault(gone or key(index), (index, Reason(gone=gone)))
            reason.add(row)
    return sorted(found.values(), key=lambda entry: -entry[1].days)


def _voice(book: Rulebook, verdicts: list[Rating], ids: set[str]) -> CellVoice:
    first = first_choice_ratings(verdicts)
    rest = [verdict for verdict in verdicts if verdict.grade is not Grade.AVOID and verdict not in first]
    # Those of the set come first, so that they are seen.
    shown: list[Rating] = sorted(first, key=lambda verdict: verdict.card.id not in ids)[:MOST_FIRST]
    do = sorted(rest, key=lambda verdict: verdict.card.id not in ids)[:MOST_DO]
    hit = any(verdict.card.id in ids for verdict in first)
    return CellVoice(book, shown, len(first) - len(shown), do, hit)
