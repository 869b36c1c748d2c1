"""What is asked of a plan, and what a plan is: one form for a category alone and for jigs with their trailers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from tackle.base.errors import InvalidInput
from tackle.base.vocabulary import TRAILER, Grade
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.cover.served import ServedDays
from tackle.schools.rulebook import Rulebook
from tackle.situations.situation import Situation

__all__ = ["Bought", "Open", "Piece", "Plan", "Point", "Request", "Unanswered", "refuse_unsound"]


@dataclass(frozen=True, slots=True)
class Request:
    """What to plan. `days` goes with `situations`, both hash by their content; colours are card ids of the category.

    `right`: the share of the most right days there can be that the set has to reach; 0: it need not be right.
    `salt`, where it is given, says of each situation whether its water is salt: then a colour that serves a day or
    more in both fresh and salt is preferred among sets of one size. `cents`: what colours cost, by card id.
    `with_trailers`: a jig category is planned together with what is threaded on its jigs; `lock` and `ban` then name
    colours of either. `owned_trailers`, `ban_trailers`, `lock_trailers`: of the trailers alone; None: what the others
    name of them. `reworkable`: what could be made at the bench of what is owned; it is preferred among sets of one size
    that take as many new ones, as a colour for fresh and salt is.
    """

    category: str
    books: tuple[Rulebook, ...]
    situations: Sequence[Situation]
    days: Sequence[float]
    agree_all: bool = False
    accept: Grade = Grade.WORKS
    owned: frozenset[str] = frozenset()
    lock: frozenset[str] = frozenset()
    ban: frozenset[str] = frozenset()
    at_most: int | None = None
    salt: tuple[bool, ...] = ()
    cents: frozenset[tuple[str, int]] = frozenset()
    with_trailers: bool = False
    owned_trailers: frozenset[str] | None = None
    ban_trailers: frozenset[str] | None = None
    lock_trailers: frozenset[str] | None = None
    right: Fraction = Fraction(0)
    reworkable: frozenset[str] = frozenset()

    def owned_in(self, category: str) -> frozenset[str]:
        """What is owned of the category, or of trailers."""
        trailers = category == TRAILER != self.category
        return self.owned_trailers if trailers and self.owned_trailers is not None else self.owned

    def banned_in(self, category: str) -> frozenset[str]:
        """What is banned of the category, or of trailers."""
        trailers = category == TRAILER != self.category
        return self.ban_trailers if trailers and self.ban_trailers is not None else self.ban

    def locked_in(self, category: str) -> frozenset[str]:
        """What is locked of the category, or of trailers."""
        trailers = category == TRAILER != self.category
        return self.lock_trailers if trailers and self.lock_trailers is not None else self.lock

    def __hash__(self) -> int:
        # Its days stand for its situations, of which there are hundreds.
        return hash((self.category, self.books, self.days, self.owned, self.lock, self.ban, self.right))


def refuse_unsound(request: Request, palette: Palette, categories: Sequence[str]) -> None:
    """Raises InvalidInput where a request names a colour of none of the categories, or contradicts itself."""
    sold = dict.fromkeys(card.id for category in categories for card in palette.sold_in(category))
    for field, ids in (("lock", request.lock), ("ban", request.ban), ("owned", request.owned)):
        for card_id in sorted(ids):
            if card_id not in sold:
                raise InvalidInput(field, f"{card_id!r} is not a colour in {' or '.join(categories)}", sold)
    both = sorted(request.lock & request.ban)
    if both:
        raise InvalidInput("lock", f"{both[0]!r} is locked and banned", "a colour in one of the two")
    if request.at_most is not None and len(request.lock) > request.at_most:
        raise InvalidInput(
            "at_most", f"{request.at_most} is fewer than the locked colours", f"{len(request.lock)} or more"
        )


class Open(StrEnum):
    """Why a situation is not answered."""

    ALL_DROPPED = "all-dropped"  # every colour of the category is banned
    SILENT = "silent"  # no school says anything of it
    DROPPED = "dropped"  # what would answer it is banned
    NO_GO_TO = "no-go-to"  # schools that have to be met call nothing a go-to
    NO_COLOUR = "no-colour"  # schools that have to be met have no colour for it
    NO_PAIR = "no-pair"  # no jig and trailer that a school accepts together
    AT_MOST = "at-most"  # it would take more pieces than there may be


@dataclass(frozen=True, slots=True)
class Unanswered:
    """A situation with no answer, why, and the schools it hangs on, where it hangs on some."""

    index: int
    days: float
    why: Open
    books: tuple[Rulebook, ...] = ()


@dataclass(frozen=True, slots=True)
class Piece:
    """A colour of the set, a jig or a trailer: the days it serves, and those that no other could answer.

    `right`: the days, as shares of the schools, on which it is a first choice; a jig or a trailer, on which a pair of
    the set with it is one. `stand_ins`: colours that could each take its place with no day unanswered, and the set
    still right on as many as it has to be. `firsts`: by school, the days on which it is a first choice. `adds_first`,
    `loses_right`: the first-choice days and the right days that the set loses without it.
    """

    category: str
    card: Colour
    days: float
    alone: float
    owned: bool
    reason: str
    right: float = 0.0
    stand_ins: tuple[Colour, ...] = ()
    firsts: tuple[tuple[Rulebook, float], ...] = ()
    adds_first: float = 0.0
    loses_right: float = 0.0


@dataclass(frozen=True, slots=True)
class Bought:
    """One step of a buying order: the days it adds to those before it, the right days and the first-choice days; half a
    pair adds nothing by itself."""

    category: str
    card: Colour
    adds: float
    adds_right: float
    adds_first: float


@dataclass(frozen=True, slots=True)
class Point:
    """The most that so many pieces can do: days answered and, with these, right days; and whether that was proved."""

    size: int
    days: float
    right: float
    proved: bool


@dataclass(frozen=True, slots=True)
class Plan:
    """The answer. `right_days` are those of the set, of `most_right_days` that all colours that may be chosen would
    have together; `first_choice_days`: those on which it holds something as good as the first word. Of a pair the jigs
    come first, then the trailers. `same_family`: what of it is of one family, since it was locked."""

    proved: bool
    at_least: int
    pieces: tuple[Piece, ...]
    served: ServedDays
    unanswered: tuple[Unanswered, ...]
    expected_days: float
    answered_days: float
    order: tuple[Bought, ...]
    right_days: float = 0.0
    most_right_days: float = 0.0
    first_choice_days: float = 0.0
    same_family: tuple[tuple[Colour, Colour], ...] = ()

    @property
    def size(self) -> int:
        """How many pieces there are."""
        return len(self.pieces)
