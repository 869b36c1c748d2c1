"""How days are answered, why one is not, and which role is missed, in words."""

from dataclasses import dataclass

from tackle.colours.card import Card
from tackle.colours.palette import Palette
from tackle.cover.missed import SEASONAL, Missed, split_of
from tackle.cover.plan import Open, Request, Unanswered
from web.plans.answering import Answered
from web.ui.words import adding_up, listed, total_of

_ALONE = {
    Open.ALL_DROPPED: "Every colour of this category is dropped.",
    Open.SILENT: "No school says anything of this water.",
    Open.DROPPED: "What would answer it is dropped.",
    Open.NO_PAIR: "No jig and trailer that a school accepts together.",
}


def split_said(answered: Answered, palette: Palette) -> list[str]:
    """Days right, made do and open, as they are shown, and all of them together: they add up as they stand."""
    split = split_of(answered.request, answered.answer, palette)
    shown = adding_up((split.right, split.made_do, split.open))
    return [*shown, total_of(shown)]


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
