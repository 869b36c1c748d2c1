"""What the columns, measures, units and flags of records are called, from the data file."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry

__all__ = ["RecordWords", "house_record_words", "load_record_words", "heading_words"]

_PARTS: Final = ("column", "measure", "unit", "flag")
_CAMEL: Final = re.compile(r"(?<=[a-z0-9])(?=[A-Z])|(?<=[A-Z])(?=[A-Z][a-z])")


@dataclass(frozen=True, slots=True)
class RecordWords:
    """`columns` and `measures`: for each the names it goes by, as words; `units`: for each measure what one of a unit
    is in ours; `good`: flags of values that are used; `missing`: what stands for no value."""

    columns: Mapping[str, tuple[frozenset[str], ...]]
    measures: Mapping[str, tuple[frozenset[str], ...]]
    units: Mapping[str, Mapping[str, float]]
    good: frozenset[str]
    missing: frozenset[str]

    def column(self, heading: str) -> tuple[int, str]:
        """The column that a heading names, and how many words say so; 0 where none does."""
        said = frozenset(heading_words(heading))
        found = [(len(name), column) for column, names in self.columns.items() for name in names if name <= said]
        return max(found, key=lambda one: one[0], default=(0, ""))

    def measure(self, name: str) -> str:
        """What a name says was measured; empty where it is none of ours."""
        said = frozenset(heading_words(name))
        return next((what for what, names in self.measures.items() if any(one <= said for one in names)), "")


def heading_words(text: str) -> list[str]:
    """The words of a heading: "ResultMeasure/MeasureUnitCode" is result, measure, measure, unit, code."""
    return re.sub(r"[^a-z0-9%]+", " ", _CAMEL.sub(" ", text).lower()).split()


def load_record_words(path: Path) -> RecordWords:
    """The words in a TOML file. Raises DataError naming file, entry and field."""
    file = Entry(read_toml(path), path.name, "file", _PARTS)
    columns, measures = (
        {name: tuple(frozenset(text.split()) for text in entry.texts(name)) for name in entry.raw}
        for entry in (Entry(file.table(part), path.name, part) for part in ("column", "measure"))
    )
    units = Entry(file.table("unit"), path.name, "unit")
    flag = Entry(file.table("flag"), path.name, "flag", ("good", "missing"))
    tables = {what: Entry(units.table(what), path.name, f"unit.{what}") for what in units.raw}
    return RecordWords(
        columns,
        measures,
        {what: {name: entry.number(name, 1e-6, 1e6) for name in entry.raw} for what, entry in tables.items()},
        frozenset(str(one) for one in flag.raw["good"]),
        frozenset(str(one) for one in flag.raw["missing"]),
    )


def house_record_words() -> RecordWords:
    """The words that ship with the app, loaded once."""
    return loaded(load_record_words, FOLDER / "records.toml")
