"""The cover board and its foods, as the templates draw them: for all that is eaten, or for one food alone."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from django.urls import reverse
from django.utils.safestring import mark_safe

from tackle.base.vocabulary import Forage, Light
from tackle.colours.colour import Colour
from tackle.colours.role import find_role
from tackle.cover.plan import Plan, Point
from tackle.cover.served import Way
from tackle.cover.tally import Tally
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.rows import MILLION
from web.common.ui.signs import sign
from web.common.ui.templatetags.wax import counted
from web.common.ui.words import adding_up, days_said, label
from web.domain.plans.selectors import Answered

SHOWN = 1


@dataclass(slots=True)
class CellAnswer:
    """One stick in a cell, or a jig and its trailer, with its days."""

    cards: tuple[Colour, ...]
    days: float = 0.0

    @property
    def name(self) -> str:
        return " with ".join(card.name for card in self.cards)


@dataclass(slots=True)
class Cell:
    """One clarity and light: its days, the sticks that answer them, most days first, and its foods."""

    band: str
    light: str
    tally: Tally = field(default_factory=Tally)
    answers: list[CellAnswer] = field(default_factory=list)
    foods: dict[Forage, Tally] = field(default_factory=dict)

    @property
    def said(self) -> str:
        """Which water and light it is, and how its foods are answered, for those who do not see where it stands."""
        foods = ", ".join(f"{label(food).lower()} {tally.state}" for food, tally in self.foods.items())
        return f"{label(self.band)} water, {label(self.light).lower()}; {foods}"

    def add(self, days: float, food: Forage, cards: tuple[Colour, ...], is_first: bool | None) -> None:
        self.tally.add(days, is_first)
        self.foods.setdefault(food, Tally()).add(days, is_first)
        if is_first is not None:
            answer = next((one for one in self.answers if one.cards == cards), None)
            if answer is None:
                answer = CellAnswer(cards)
                self.answers.append(answer)
            answer.days += days


@dataclass(frozen=True, slots=True)
class BandRow:
    band: str
    low_in: float
    below_in: float | None
    cells: tuple[Cell, ...]


@dataclass(frozen=True, slots=True)
class Board:
    """The rows, clearest first; what they add up to; and the days each card serves here."""

    rows: list[BandRow]  # without those that no day is expected in
    tally: Tally
    served: dict[str, float]


def told_rows(board: Board, category: str, show: str) -> list[tuple[BandRow, list[dict[str, Any]]]]:
    """The rows with what their squares show; `show`: the colour that is pointed at. Their days add up to the plan's."""
    shown = iter(adding_up([cell.tally.days for row in board.rows for cell in row.cells]))
    return [(row, [_told(cell, next(shown), category, show) for cell in row.cells]) for row in board.rows]


def _told(cell: Cell, days: str, category: str, show: str) -> dict[str, Any]:
    """What a square shows, in the words that stand there: the template has nothing to look up."""
    tally = cell.tally
    if not tally.days:
        return {}
    foods = (
        sign("plans/food_mark.html", food=food, state=one.state, there=days_said(one.days))
        for food, one in cell.foods.items()
    )
    ids = [card.id for answer in cell.answers for card in answer.cards]
    first = min(int(tally.first_choice + 0.5), int(days))
    mostly = int(days) > first >= tally.days / 2  # some of its days have no first choice, but more of them have
    return {
        "band": cell.band,
        "state": "first choice" if mostly else tally.state,
        "days": f"{first} of {days}" if mostly else "" if days == "0" else days,
        "open": days_said(tally.not_covered) if tally.not_covered else "",
        "lit": show in ids,
        "ids": " ".join(ids),
        "said": cell.said,
        "why": _why(category, cell.band, cell.light),
        "cards": [card for answer in cell.answers[:SHOWN] for card in answer.cards],
        "more": max(len(cell.answers) - SHOWN, 0),
        "foods": mark_safe("".join(foods)),  # noqa: S308 - each drawn by a template
    }


def _why(category: str, band: str, light: str) -> str:
    """The address of a cell's reasons."""
    return reverse("plan-why", args=(category, band, light))


def cover_board(answered: Answered, only: str) -> Board:
    """The board of a plan: of all its days, or with `only` of those of one food."""
    cells = {(band, light.value): Cell(band, light.value) for band in BANDS for light in Light}
    whole, by_card = Tally(), dict[str, float]()
    for (band, light, food, cards, is_first), millionths in _alike(answered).items():
        days = millionths / MILLION
        if only and food != only:
            continue
        whole.add(days, is_first)
        cells[band, light.value].add(days, food, cards, is_first)
        for card in cards:
            by_card[card.id] = by_card.get(card.id, 0.0) + days
    for cell in cells.values():
        cell.answers.sort(key=lambda answer: -answer.days)
        cell.foods = dict(sorted(cell.foods.items(), key=lambda entry: -entry[1].days))
    rows = [
        BandRow(band, *HOUSE_LADDER.band_range(band), tuple(cells[band, light.value] for light in Light))
        for band in reversed(BANDS)
        if any(cells[band, light.value].tally.days for light in Light)
    ]
    return Board(rows, whole, by_card)


def square_answer(answered: Answered, band: str, light: Light) -> Way | None:
    """What covers most days of a square, as it covers most of them; None where nothing covers one."""
    group_ways, ways = answered.answer.served.group_ways()
    days: dict[int, int] = {}
    of_cards: dict[tuple[Colour, ...], int] = {}
    for where, its_light, _, way, millionths in answered.expected.by_place(group_ways):
        if (where, its_light) == (band, light) and way >= 0:
            days[way] = days.get(way, 0) + millionths
            of_cards[ways[way].cards] = of_cards.get(ways[way].cards, 0) + millionths
    if not days:
        return None
    return ways[max(days, key=lambda way: (of_cards[ways[way].cards], days[way]))]


def _alike(answered: Answered) -> dict[tuple[str, Light, Forage, tuple[Colour, ...], bool | None], int]:
    """The days, in millionths, that lie in one cell, have one food and are answered alike."""
    found: dict[tuple[str, Light, Forage, tuple[Colour, ...], bool | None], int] = {}
    group_ways, ways = answered.answer.served.group_ways()
    for band, light, food, way, millionths in answered.expected.by_place(group_ways):
        key = (band, light, food, ways[way].cards, ways[way].is_first) if way >= 0 else (band, light, food, (), None)
        found[key] = found.get(key, 0) + millionths
    return found


@dataclass(frozen=True, slots=True)
class Dot:
    """One size on the curve: where it stands in a box of 320 x 150, and what so many colours do."""

    x: float
    y: float
    y_right: float
    size: int
    days: float
    right: float
    proved: bool
    here: bool
    gains: float  # right days (or days, where right is not asked for) more than with one colour fewer
    least: str  # the share of right days that takes this size
    role: str = ""  # the role that comes in with this size, in the order to buy


def _roles_in(answer: Plan) -> dict[int, str]:
    """The sizes at which a role comes in first, in the order to buy."""
    found: dict[str, int] = {}
    for size, step in enumerate(answer.order, 1):
        found.setdefault(find_role(step.card).value, size)
    return {size: role for role, size in found.items()}


def curve_dots(curve: Sequence[Point], answered: Answered) -> list[Dot]:
    """The curve of days answered, and right, against the number of colours."""
    answer = answered.answer
    if not curve:
        return []
    top = max(answer.expected_days, 1e-9)
    step = 262 / max(len(curve) - 1, 1)
    most = max(answer.most_right_days, 1e-9)
    dots = []
    before, right_before = 0.0, 0.0
    roles = _roles_in(answer)
    for index, point in enumerate(curve):
        # The set of this size may be another than the one that is right most often: it has more of what is owned.
        here = point.size == answer.size
        right = answer.right_days if here else point.right
        gains = right - right_before if answered.terms.right else point.days - before
        dots.append(
            Dot(
                x=round(40 + index * step, 1),
                y=round(118 - 100 * point.days / top, 1),
                y_right=round(118 - 100 * right / top, 1),
                size=point.size,
                days=point.days,
                right=right,
                proved=point.proved,
                here=here,
                gains=round(gains, 2),
                least=f"{int(point.right / most * 10_000) / 10_000:.4f}",
                role=roles.get(point.size, ""),
            )
        )
        before, right_before = point.days, right
    return dots


_BAND_WORDS = {"mud": "muddy", "gin": "gin-clear"}


def unanswered_in_words(answered: Answered) -> str:
    """What goes unanswered, for the sentence on top: "Three muddy days"."""
    gone, expected = answered.answer.unanswered, answered.expected
    bands = {expected[u.index].band for u in gone}
    days = sum(u.days for u in gone)
    kind = (_BAND_WORDS.get(next(iter(bands)), next(iter(bands))) + " ") if len(bands) == 1 else ""
    return f"{counted(days, f'{kind}day is,{kind}days are')} not covered."


def where(answered: Answered, indexes: Sequence[int]) -> list[tuple[str, str]]:
    """The cells that some situations lie in, most days first: the clarity and the light."""
    found: dict[tuple[str, str], float] = {}
    expected = answered.expected
    for index in indexes:
        row = expected[index]
        found[row.band, row.light.value] = found.get((row.band, row.light.value), 0.0) + row.days
    return sorted(found, key=lambda cell: -found[cell])
