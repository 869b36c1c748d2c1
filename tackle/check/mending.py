"""Lures that cannot be thrown as they are, and what it takes to put them right."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Final

from tackle.base.vocabulary import CATEGORIES, Group
from tackle.crate.lure import OUT_OF_USE, Lure
from tackle.data import FOLDER, read_toml
from tackle.data.entry import Entry

__all__ = ["WAYS", "Way", "load_ways", "way_for"]

_FIELDS: Final = ("condition", "groups", "words", "minutes", "caution")


@dataclass(frozen=True, slots=True)
class Way:
    """How lures of some groups are put right that something has happened to; `minutes` for one, and what to mind."""

    condition: str
    groups: frozenset[Group]
    words: str
    minutes: int
    caution: str


def load_ways(path: Path) -> tuple[Way, ...]:
    """The ways in a TOML file. Raises DataError naming file, entry and field."""
    entries = [Entry(raw, path.name, "a mend", _FIELDS, "mend") for raw in read_toml(path).get("mend", [])]
    return tuple(
        Way(
            entry.word("condition", OUT_OF_USE),
            frozenset(entry.some("groups", Group)),
            entry.text("words"),
            entry.whole("minutes", 0, 600),
            entry.text("caution") if entry.raw.get("caution") else "",
        )
        for entry in entries
    )


WAYS: Final = load_ways(FOLDER / "mending.toml")


def way_for(lure: Lure) -> Way | None:
    """How a lure is put right; None where it is not."""
    group = CATEGORIES[lure.category].group
    return next((way for way in WAYS if way.condition == lure.condition and group in way.groups), None)
