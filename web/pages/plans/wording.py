"""How days are answered, why one is not, and which role is missed, in words."""

from dataclasses import dataclass

from tackle.colours.colour import Colour
from tackle.cover.missed import SEASONAL, Missed
from tackle.cover.plan import Open, Request, Unanswered
from tackle.cover.tally import Tally
from tackle.situations.rows import MILLION
from web.common.ui.words import listed, split_days
from web.domain.plans.answering import Answered

_ALONE = {
    Open.ALL_DROPPED: "Every colour of this category is dropped.",
    Open.SILENT: "No rulebook has advice for this water.",
    Open.DROPPED: "What would answer it is dropped.",
    Open.NO_PAIR: "No jig and trailer that a rulebook accepts together.",
}


def split_said(answered: Answered) -> list[str]:
    """How a plan's days are covered, as `split_days` has them."""
    tally = tally_days(answered)
    return split_days(tally.first_choice, tally.first_choice + tally.will_do, tally.days)


def tally_days(answered: Answered) -> Tally:
    """All days of a plan, by how they are covered."""
    tally = Tally()
    for way, millionths in answered.answer.served.by_way():
        tally.add(millionths / MILLION, way.is_first)
    for gone in answered.answer.unanswered:
        tally.add(gone.days, None)
    return tally


def why_open(gone: Unanswered, request: Request) -> str:
    """A sentence on one day that nothing answers."""
    if gone.why is Open.AT_MOST:
        what = "lures" if request.with_trailers else "colours"
        return f"Not among the {request.at_most} {what} that answer most; one more would be needed."
    if gone.why in _ALONE:
        return _ALONE[gone.why]
    what = "has no first choice" if gone.why is Open.NO_GO_TO else "has no colour for this water"
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
    card: Colour
    days: float
    adds_right: float


def missed_in_words(one: Missed) -> MissedRole:
    return MissedRole(_ROLES[one.role], one.card, one.days, one.adds_right)
