"""Why a day is not answered, and which role is missed, in words."""

from dataclasses import dataclass

from tackle.colours.card import Card
from tackle.cover.missed import SEASONAL, Missed
from tackle.cover.plan import Open, Request, Unanswered
from web.ui.words import listed

_ALONE = {
    Open.ALL_DROPPED: "Every colour of this category is dropped.",
    Open.SILENT: "No school says anything of this water.",
    Open.DROPPED: "What would answer it is dropped.",
    Open.NO_PAIR: "No jig and trailer that a school accepts together.",
}


def why_open(gone: Unanswered, request: Request) -> str:
    """A sentence on one day that nothing answers."""
    if gone.why is Open.AT_MOST:
        what = "pieces" if request.with_trailers else "colours"
        return f"Not among the {request.at_most} {what} that answer most; one more would be needed."
    if gone.why in _ALONE:
        return _ALONE[gone.why]
    what = "calls nothing a go-to" if gone.why is Open.NO_GO_TO else "has no colour for this water"
    names = [book.name for book in gone.books]
    return f"{names[0]} {what}." if len(names) == 1 else f"{listed(names)}: each {what}."


_ROLES = {
    "pale": "a pale one", "natural": "a natural one", "dark": "a dark one", "loud": "a loud one",
    SEASONAL: "the season’s own",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class MissedRole:
    """A role that the set has none of, as it is said."""

    words: str
    card: Card
    days: float
    adds_right: float


def missed_in_words(one: Missed) -> MissedRole:
    return MissedRole(_ROLES[one.role], one.card, one.days, one.adds_right)
