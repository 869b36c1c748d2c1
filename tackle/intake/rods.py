"""The rods of an angler, as told one a line: "medium heavy, 14 lb fluorocarbon: worm, casting jig"."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from tackle.base.errors import InvalidInput
from tackle.intake.kinds import match_categories

__all__ = ["MOST_RODS", "OwnRod", "read_rods"]

MOST_RODS: Final = 46  # sixteen at hand and thirty beside them
_MOST_NAME: Final = 60


@dataclass(frozen=True, slots=True)
class OwnRod:
    """A rod: its class and line in the angler's words, and the kinds of lure it is for; none told: any."""

    name: str
    categories: frozenset[str]


def read_rods(text: str) -> tuple[OwnRod, ...]:
    """The rods of a text, one a line. Raises InvalidInput with the line and the word that names no kind.

    >>> [(rod.name, sorted(rod.categories)) for rod in read_rods("MH, 14 lb: worm, popper\\nmedium")]
    [('MH, 14 lb', ['popper', 'worm']), ('medium', [])]
    """
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    if len(lines) > MOST_RODS:
        raise InvalidInput("rods", f"{len(lines)} lines", f"{MOST_RODS} rods at most")
    return tuple(_rod(index, line) for index, line in enumerate(lines, 1))


def _rod(place: int, line: str) -> OwnRod:
    name, _, kinds = line.partition(":")
    found: set[str] = set()
    for words in filter(None, map(str.strip, kinds.split(","))):
        meant = match_categories(words)
        if not meant:
            raise InvalidInput(f"rods, line {place}", f"“{words[:40]}” is no category", "words like: worm, casting jig")
        found.update(meant)
    if not name.strip():
        raise InvalidInput(
            f"rods, line {place}", "the rod has no name", "its class and line, then a colon and its kinds"
        )
    return OwnRod(name.strip()[:_MOST_NAME], frozenset(found))
