"""What the columns, measures, units, codes and flags of records are called, from the data file."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry

__all__ = ["RecordWords", "heading_words", "house_record_words", "load_record_words"]

_PARTS: Final = ("column", "measure", "code", "code_unit", "statistic", "zone", "unit", "flag")
_LISTS: Final = (
    "good", "bad", "at_least", "at_most", "unlike", "no_depth", "entered", "through_air", "missing",
)  # fmt: skip
_CAMEL: Final = re.compile(r"(?<=[a-z0-9])(?=[A-Z])|(?<=[A-Z])(?=[A-Z][a-z])")
_EXACT: Final = "="  # before a name: the whole heading is that

Names = Mapping[str, tuple[frozenset[str], ...]]


@dataclass(frozen=True, slots=True)
class RecordWords:
    """`columns` and `measures`: for each the names it goes by, as words; `codes`: what stands for a measure, with the
    unit it has in `code_units`; `statistics`: words of each, the preferred first; `zones`: hours ahead of UTC by code;
    `units`: for each measure what one of a unit is in ours; `lists`: words of flags, kinds and headings, by list;
    `nothing`: numbers that may stand for none."""

    columns: Names
    measures: Names
    codes: Mapping[str, str]
    code_units: Mapping[str, str]
    statistics: Mapping[str, frozenset[str]]
    zones: Mapping[str, float]
    units: Mapping[str, Mapping[str, float]]
    lists: Mapping[str, frozenset[str]]
    nothing: frozenset[float]

    def column(self, heading: str) -> tuple[int, str]:
        """The column that a heading names, and how many words say so; 0 where none does. Of several with as many words
        the one that its last word speaks of: "parameter unit" is a unit."""
        said = heading_words(heading)
        words = frozenset(said)
        found = [
            (len(name), said[-1] in name, column)
            for column, names in self.columns.items()
            for name in names
            if _names(name, words)
        ]
        count, _, column = max(found, key=lambda one: one[:2], default=(0, False, ""))
        return count, column

    def measure(self, name: str) -> str:
        """What a name says was measured; empty where it is none of ours, or a rating, code or limit of one."""
        words = frozenset(heading_words(name))
        if words & self.lists["unlike"]:
            return ""
        if coded := next((self.codes[word] for word in words if word in self.codes), ""):
            return coded
        return next((what for what, names in self.measures.items() if any(one <= words for one in names)), "")

    def statistic(self, text: str) -> str:
        """Which statistic of several values a heading or a cell says; empty where it says none."""
        words = set(heading_words(text))
        return next((name for name, said in self.statistics.items() if words & said), "")


def _names(name: frozenset[str], words: frozenset[str]) -> bool:
    exact = next(iter(name)) if len(name) == 1 else ""
    return words == {exact[1:]} if exact.startswith(_EXACT) else name <= words


def heading_words(text: str) -> tuple[str, ...]:
    """The words of a heading, without accents: "ResultMeasure/MeasureUnitCode" is result, measure, measure, unit,
    code."""
    plain = "".join(one for one in unicodedata.normalize("NFKD", text) if not unicodedata.combining(one))
    return tuple(re.sub(r"[^a-z0-9%]+", " ", _CAMEL.sub(" ", plain).lower().replace("ß", "ss")).split())


def load_record_words(path: Path) -> RecordWords:
    """The words in a TOML file. Raises DataError naming file, entry and field."""
    file = Entry(read_toml(path), path.name, "file", _PARTS)
    columns, measures = (
        {name: tuple(frozenset(text.split()) for text in entry.texts(name)) for name in entry.raw}
        for entry in (Entry(file.table(part), path.name, part) for part in ("column", "measure"))
    )
    codes, code_units = (
        {name: entry.text(name) for name in entry.raw}
        for entry in (Entry(file.table(part), path.name, part) for part in ("code", "code_unit"))
    )
    statistics, zones = (Entry(file.table(part), path.name, part) for part in ("statistic", "zone"))
    units = Entry(file.table("unit"), path.name, "unit")
    flag = Entry(file.table("flag"), path.name, "flag", (*_LISTS, "nothing"))
    tables = {what: Entry(units.table(what), path.name, f"unit.{what}") for what in units.raw}
    return RecordWords(
        columns,
        measures,
        codes,
        code_units,
        {name: frozenset(statistics.texts(name)) for name in statistics.raw},
        {name: zones.number(name, -12, 14) for name in zones.raw},
        {what: {name: entry.number(name, 1e-6, 1e6) for name in entry.raw} for what, entry in tables.items()},
        {name: frozenset(str(one) for one in flag.raw[name]) for name in _LISTS},
        frozenset(flag.numbers("nothing")),
    )


def house_record_words() -> RecordWords:
    """The words that ship with the app, loaded once."""
    return loaded(load_record_words, FOLDER / "records.toml")
