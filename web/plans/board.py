"""The cover board and the curve, as the templates draw them."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from tackle.colours.card import Card
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.vocabulary import Light
from web.plans.reads import Answered, AnsweredPairs
from web.ui.words import label

SHOWN = 2


@dataclass(slots=True)
class Answer:
    """One stick in a cell, or a jig and its trailer, with its days; and its foods where the answer differs by food."""

    cards: tuple[Card, ...]
    days: float = 0.0
    foods: list[str] = field(default_factory=list)

    @property
    def name(self) -> str:
        return " with ".join(card.name for card in self.cards)


@dataclass(slots=True)
class Cell:
    """One clarity and light: its days, the sticks that answer them, most days first, and the days nothing answers."""

    band: str
    light: str
    days: float = 0.0
    unmet: float = 0.0
    answers: list[Answer] = field(default_factory=list)

    @property
    def ids(self) -> list[str]:
        return [card.id for answer in self.answers for card in answer.cards]

    @property
    def shown(self) -> list[Answer]:
        return self.answers[:SHOWN]

    @property
    def more(self) -> int:
        return max(len(self.answers) - SHOWN, 0)

    @property
    def said(self) -> str:
        """What the cell shows, for those who do not see it."""
        sticks = ", ".join(f"{answer.name} {answer.days:g}" for answer in self.answers)
        unmet = f"; nothing covers {self.unmet:g}" if self.unmet else ""
        return (
            f"{label(self.band)} water, {label(self.light).lower()}, {self.days:g} days: {sticks or 'no colour'}{unmet}"
        )

    def add(self, cards: tuple[Card, ...], food: str, days: float) -> None:
        answer = next((one for one in self.answers if one.cards == cards), None)
        if answer is None:
            answer = Answer(cards)
            self.answers.append(answer)
        answer.days += days
        if food not in answer.foods:
            answer.foods.append(food)

    def settle(self) -> None:
        """Rounds the days, and keeps the foods only where they are what tells the sticks apart."""
        self.days, self.unmet = round(self.days, 2), round(self.unmet, 2)
        self.answers.sort(key=lambda answer: -answer.days)
        named = [food for answer in self.answers for food in answer.foods]
        by_food = len(self.answers) > 1 and len(named) == len(set(named))
        for answer in self.answers:
            answer.days = round(answer.days, 2)
            answer.foods = answer.foods if by_food else []


@dataclass(frozen=True, slots=True)
class Row:
    band: str
    low_in: float
    below_in: float | None
    cells: tuple[Cell, ...]


def cover_board(answered: Answered | AnsweredPairs) -> list[Row]:
    """The rows of the board, clearest first. Foods are named only where the answer differs by food."""
    cells = {(band, light.value): Cell(band, light.value) for band in BANDS for light in Light}
    served = answered.cards()
    for index, expected in enumerate(answered.expected):
        cell = cells[expected.band, expected.light.value]
        cell.days += expected.days
        if index in served:
            cell.add(served[index], label(expected.food), expected.days)
        else:
            cell.unmet += expected.days
    for cell in cells.values():
        cell.settle()
    return [
        Row(band, *HOUSE_LADDER.range_of(band), tuple(cells[band, light.value] for light in Light))
        for band in reversed(BANDS)
    ]


@dataclass(frozen=True, slots=True)
class Point:
    x: float
    y: float
    colours: int
    days: float
    here: bool


def curve_points(answered: Answered | AnsweredPairs) -> list[Point]:
    """The curve of days answered against number of colours, in a box of 320 x 150."""
    answer = answered.answer
    if not answer.curve:
        return []
    top = answer.expected_days
    step = 270 / max(len(answer.curve) - 1, 1)
    return [
        Point(round(34 + place * step, 1), round(118 - 100 * days / top, 1), size, days, size == answer.size)
        for place, (size, days) in enumerate(answer.curve)
    ]


_BAND_WORDS = {"mud": "muddy", "gin": "gin-clear"}


def unanswered_in_words(answered: Answered | AnsweredPairs) -> str:
    """What goes unanswered, for the sentence on top: "Three muddy days"."""
    gone = answered.answer.unanswered
    bands = {answered.expected[u.index].band for u in gone}
    days = sum(u.days for u in gone)
    kind = (_BAND_WORDS.get(next(iter(bands)), next(iter(bands))) + " ") if len(bands) == 1 else ""
    return f"{days:.1f}".removesuffix(".0") + f" {kind}{'day goes' if days == 1 else 'days go'} unanswered."


@dataclass(frozen=True, slots=True)
class Bought:
    """One line of the buying order: the days it adds, and by how many so much is behind the best set of that size."""

    card: Card
    category: str
    adds: float
    behind: float


def in_order(answered: Answered | AnsweredPairs) -> list[Bought]:
    """The set in the order to buy it, held against the best that so many can do."""
    best = dict(answered.answer.curve)
    reached, lines = 0.0, []
    for place, (piece, adds) in enumerate(answered.answer.order, 1):
        reached += adds
        card, category = (piece, answered.category) if isinstance(piece, Card) else (piece.card, piece.category)
        lines.append(Bought(card, category, adds, round(best.get(place, reached) - reached, 2)))
    return lines


def where(answered: Answered, indexes: Sequence[int]) -> list[tuple[str, str]]:
    """The cells that some situations lie in, most days first: the clarity and the light."""
    found: dict[tuple[str, str], float] = {}
    for index in indexes:
        row = answered.expected[index]
        found[row.band, row.light.value] = found.get((row.band, row.light.value), 0.0) + row.days
    return sorted(found, key=lambda cell: -found[cell])
