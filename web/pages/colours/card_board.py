"""One card's small board per school: where it is a first choice, will do, or is to be avoided."""

from dataclasses import dataclass

import numpy as np

from tackle.base.vocabulary import Forage, Grade, Light, Season
from tackle.colours.colour import Colour
from tackle.schools.evaluation import evaluate
from tackle.schools.rulebook import Rulebook
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.columns import tabulate
from tackle.situations.situation import make_situation
from web.common.ui.words import label

MARKS = {Grade.GO_TO: "●", Grade.WORKS: "○", Grade.AVOID: "✕"}


@dataclass(frozen=True, slots=True)
class Spot:
    """One clarity and light: the grade there, and its mark."""

    grade: str
    mark: str
    said: str


@dataclass(frozen=True, slots=True)
class CardBoard:
    """What one school says of one card: rows of spots, clearest first, and the reasons behind them."""

    book: Rulebook
    rows: list[tuple[str, list[Spot]]]
    reasons: list[tuple[str, str]]  # grade, why


def make_boards(
    card: Colour, category: str, season: Season | None, food: Forage, books: list[Rulebook]
) -> list[CardBoard]:
    """A board for each school, over the house ladder and the five lights."""
    places = [(band, light) for band in reversed(BANDS) for light in Light]
    columns = tabulate(
        [
            make_situation(
                category, visibility_in=HOUSE_LADDER.typical_in(band), light=light, season=season, forage=(food,)
            )
            for band, light in places
        ]
    )
    boards = []
    for book in books:
        deciding_rules = evaluate(book, category, (card,), columns)[0]
        spots = []
        for (band, light), place in zip(places, deciding_rules, strict=True):
            grade = book.calls[place].grade if place >= 0 else None
            said = f"{label(band)} water, {label(light).lower()}: {label(grade).lower() if grade else 'no advice'}"
            spots.append(Spot(grade or "silent", MARKS[grade] if grade else "", said))
        rows = [(band, spots[i * len(Light) : (i + 1) * len(Light)]) for i, band in enumerate(reversed(BANDS))]
        calls = [book.calls[place] for place in np.unique(deciding_rules[deciding_rules >= 0])]
        calls.sort(key=lambda call: list(MARKS).index(call.grade))
        boards.append(CardBoard(book, rows, list(dict.fromkeys((call.grade.value, call.why) for call in calls))))
    return boards
