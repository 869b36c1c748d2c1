"""The default plan of each kind of water, as it would be carried: Markdown, for docs/decides.md.

    python -m tackle.commands.boxes [--write DOCS/decides.md]

With --write the part of the file after its last heading is printed anew. Exit status 0.
"""

from __future__ import annotations

import argparse
import sys
from collections.abc import Iterator, Sequence
from fractions import Fraction
from pathlib import Path
from typing import Final

from tackle.base.pipes import ends_quietly
from tackle.base.vocabulary import CATEGORIES, TRAILER
from tackle.colours.palette import house_palette
from tackle.cover.missed import find_missed
from tackle.cover.plan import Piece, Request
from tackle.cover.planner import make_plan
from tackle.schools.rulebook import house_rulebooks
from tackle.situations.expected import expected_days, without_rare
from tackle.situations.regions import region_at
from tackle.situations.starting import first_guess, kinds
from tackle.situations.thrown import thrown_by_default

__all__ = ["main"]

_HEADING: Final = "## The boxes of ten waters"
_LATITUDE: Final = 38.0
_RIGHT: Final = Fraction(9, 10)


def main(arguments: Sequence[str]) -> int:
    """Prints the boxes, or writes them into a file."""
    parser = argparse.ArgumentParser(prog="wax boxes", description="The default plan of each kind of water.")
    parser.add_argument("--write", type=Path)
    asked = parser.parse_args(arguments)
    printed = "\n".join(_lines())
    if asked.write:
        text = asked.write.read_text(encoding="utf-8")
        asked.write.write_text(f"{text.split(_HEADING)[0].rstrip()}\n\n{printed}\n", encoding="utf-8")
    else:
        print(printed)
    return 0


def _lines() -> Iterator[str]:
    yield _HEADING
    yield ""
    yield (
        "Printed by `./wax boxes --write docs/decides.md`: all six rulebooks, agreeing on 90 of 100 days, at"
        f" {_LATITUDE:g} degrees north, nothing owned. Numbers are days on which the category is thrown."
        " In brackets: what one more would be."
    )
    yield ""
    for kind in kinds().values():
        days, _ = without_rare(expected_days([first_guess(kind, region_at(_LATITUDE))]))
        yield f"**{kind.id.replace('-', ' ').capitalize()}**"
        yield ""
        for category in kind.throws:
            if category == TRAILER:
                continue
            rule = thrown_by_default(category)
            there = days.on(days.throwing(category), rule)
            request = Request(
                category,
                tuple(house_rulebooks().values()),
                there.situations(category),
                there.counts,
                right=_RIGHT,
                with_trailers=CATEGORIES[category].takes_trailer,
            )
            plan = make_plan(request, house_palette())
            held = ", ".join(map(_held, plan.pieces))
            more = ", ".join(f"{one.card.name.lower()}" for one in find_missed(request, plan, house_palette())[:2])
            days_said = f"{category.replace('-', ' ')} ({plan.expected_days:.0f} days)"
            yield f"- {days_said}: {held}{f' ({more})' if more else ''}"
        yield ""


def _held(piece: Piece) -> str:
    """A colour of a plan and its days."""
    days = f"{piece.days:.0f}" if piece.days >= 0.5 else "under 1"
    return f"{'on it ' if piece.category == TRAILER else ''}{piece.card.name.lower()} {days}"


if __name__ == "__main__":
    ends_quietly()
    sys.exit(main(sys.argv[1:]))
