"""The cover board and the curve, as the templates draw them."""

from dataclasses import dataclass, field

from tackle.colours.card import Card
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.vocabulary import Light
from web.plans.reads import Answered
from web.ui.words import label


@dataclass(slots=True)
class Cell:
    """One clarity and light: its days, the sticks that answer them with the foods they answer, and what is not."""

    band: str
    light: str
    days: float = 0.0
    unmet: float = 0.0
    sticks: dict[Card, list[str]] = field(default_factory=dict)

    @property
    def ids(self) -> list[str]:
        return [card.id for card in self.sticks]

    @property
    def said(self) -> str:
        """What the cell shows, for those who do not see it."""
        sticks = ", ".join(card.name for card in self.sticks)
        unmet = f"; nothing covers {self.unmet:g}" if self.unmet else ""
        return (
            f"{label(self.band)} water, {label(self.light).lower()}, {self.days:g} days: {sticks or 'no colour'}{unmet}"
        )


@dataclass(frozen=True, slots=True)
class Row:
    band: str
    low_in: float
    below_in: float | None
    cells: tuple[Cell, ...]


def cover_board(answered: Answered) -> list[Row]:
    """The rows of the board, clearest first. Foods are named only where the answer differs by food."""
    cells = {(band, light.value): Cell(band, light.value) for band in BANDS for light in Light}
    served = answered.served()
    for index, expected in enumerate(answered.expected):
        cell = cells[expected.band, expected.light.value]
        cell.days += expected.days
        if index in served:
            foods = cell.sticks.setdefault(served[index].card, [])
            if label(expected.food) not in foods:
                foods.append(label(expected.food))
        else:
            cell.unmet += expected.days
    for cell in cells.values():
        cell.days, cell.unmet = round(cell.days, 2), round(cell.unmet, 2)
        if len(cell.sticks) == 1 and not cell.unmet:
            cell.sticks = {card: [] for card in cell.sticks}
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


def curve_points(answered: Answered) -> list[Point]:
    """The curve of days answered against number of colours, in a box of 320 x 150."""
    answer = answered.answer
    if not answer.curve:
        return []
    top = answer.expected_days
    step = 270 / max(len(answer.curve) - 1, 1)
    return [
        Point(round(34 + place * step, 1), round(118 - 100 * days / top, 1), size, days, size == len(answer.colours))
        for place, (size, days) in enumerate(answer.curve)
    ]


_BAND_WORDS = {"mud": "muddy", "gin": "gin-clear"}


def unanswered_in_words(answered: Answered) -> str:
    """What goes unanswered, for the sentence on top: "Three muddy days"."""
    gone = answered.answer.unanswered
    bands = {answered.expected[u.index].band for u in gone}
    days = sum(u.days for u in gone)
    kind = (_BAND_WORDS.get(next(iter(bands)), next(iter(bands))) + " ") if len(bands) == 1 else ""
    return f"{days:.1f}".removesuffix(".0") + f" {kind}{'day goes' if days == 1 else 'days go'} unanswered."
