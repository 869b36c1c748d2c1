"""What there is to teach somebody: the places of their board, what is known of them, and what to ask next."""

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, datetime
from typing import Final
from zlib import crc32

from django.db.models import Count, Q, Sum

from tackle.base.store import kept
from tackle.base.vocabulary import CATEGORIES
from tackle.situations.expected_rows import Expected
from tackle.situations.situation import Situation
from tackle.situations.thrown import Thrown
from tackle.teach.depth import Bias, bias
from tackle.teach.drill import Question, draw
from tackle.teach.recall import session
from web.common.accounts.models import User
from web.domain.plans.selectors import Basis, select_expected, thrown_in
from web.domain.trips.selectors import list_turns
from web.domain.waters.selectors import Days
from web.pages.learn.models import Guess, Known

MOST_GUESSES: Final = 60  # of the last ones, by which one's eye is told


@dataclass(frozen=True, slots=True)
class StoodFor:
    """One place of the board: its days, and the day that stands for it, the most met of all there."""

    cell: str
    category: str
    days: float
    row: Expected
    situation: Situation


def square_name(category: str, row: Expected) -> str:
    """The name of a place of the board."""
    return f"{category} {row.band} {row.light} {row.food}"


def board_places(basis: Basis, category: str) -> dict[str, StoodFor]:
    """The places of one category's board, by their names, those with most days first."""
    return _places(basis.days, category, thrown_in(basis, category))


@kept("places of a board")
def _places(expected: Days, category: str, thrown: Thrown) -> dict[str, StoodFor]:
    days: dict[str, float] = defaultdict(float)
    most: dict[str, tuple[float, Expected, Situation]] = {}
    there = select_expected(expected, category, thrown)
    for row, situation in zip(there, there.situations(category), strict=True):
        cell = square_name(category, row)
        days[cell] += row.days
        if cell not in most or row.days > most[cell][0]:
            most[cell] = row.days, row, situation
    found = {cell: StoodFor(cell, category, days[cell], *most[cell][1:]) for cell in most}
    return dict(sorted(found.items(), key=lambda entry: -entry[1].days))


def every_place(basis: Basis) -> dict[str, StoodFor]:
    """The places of all categories of the plan."""
    found: dict[str, StoodFor] = {}
    for category in basis.categories:
        if category in CATEGORIES:
            found |= board_places(basis, category)
    return found


def make_question(basis: Basis, place: StoodFor, seed: int) -> Question | None:
    """The question on a place: always the same for one seed."""
    return draw(place.situation, basis.books, basis.palette.sold_in(place.category), seed)


def next_seed(cell: str, answers: int) -> int:
    """The seed of the next question on a place, after so many answers."""
    return (crc32(cell.encode()) + answers) % 2**31


def list_known(owner: User) -> dict[str, Known]:
    """What was asked so far, by the places' names."""
    return {one.cell: one for one in Known.objects.filter(owner=owner)}


def to_ask(
    basis: Basis, knowing: dict[str, Known], now: datetime, today: date, category: str = ""
) -> list[tuple[StoodFor, int, Question]]:
    """What to ask now, of one category or of all, each with its seed."""
    places = board_places(basis, category) if category else every_place(basis)
    seeds = {cell: next_seed(cell, knowing[cell].answers if cell in knowing else 0) for cell in places}
    asked = session(
        {cell: place.days for cell, place in places.items()},
        {cell: one.state for cell, one in knowing.items()},
        now,
        sum(one.first_on == today for one in knowing.values()),
        lambda cell: make_question(basis, places[cell], seeds[cell]),
    )
    return [(places[cell], seeds[cell], question) for cell, question in asked]


def logged(owner: User, questions: list[Question]) -> dict[tuple[str, str], str]:
    """What the log has to say of the colours in some questions, by category and colour."""
    wanted = Q(pk=None)
    for question in questions:
        wanted |= Q(category=question.situation.category, card__in=[offer.card.id for offer in question.offers])
    rows = (
        list_turns(owner)
        .select_related(None)
        .filter(wanted)
        .order_by()
        .values("category", "card")
        .annotate(turns=Count("pk"), minutes=Sum("minutes"), whole=Sum("whole"))
    )
    return {
        (row["category"], row["card"]): _log_words(row["turns"], row["minutes"] or 0, row["whole"] or 0) for row in rows
    }


def _log_words(turns: int, minutes: float, fish: int) -> str:
    hours = f"{minutes / 60:.1f} h" if minutes >= 60 else f"{minutes:.0f} min"
    return f"Your log: {fish} fish in {turns} turn{'' if turns == 1 else 's'}, {hours}, in all waters"


def compute_biases(owner: User) -> dict[str, Bias]:
    """How somebody reads, by what clouds the water, where it is more than chance."""
    data: dict[str, list[tuple[float, float]]] = defaultdict(list)
    for stain, true_in, read_in in Guess.objects.filter(owner=owner).values_list("stain", "true_in", "read_in")[
        :MOST_GUESSES
    ]:
        data[stain].append((true_in, read_in))
    found = {stain: bias(guesses) for stain, guesses in data.items()}
    return {stain: one for stain, one in found.items() if one}
