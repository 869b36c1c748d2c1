"""Why a day is not answered, in words."""

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
