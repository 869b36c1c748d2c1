"""A record's file as headings and numbered rows: CSV, TSV or JSON, with titles and comments above, and a row of types
or units under the heading."""

from __future__ import annotations

import csv
import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Final

from tackle.base.errors import InvalidInput
from tackle.base.strict import read_json
from tackle.records.json_lists import JsonList, json_lists
from tackle.records.words import house_record_words

__all__ = ["RecordTable", "read_tables"]

MOST_ROWS: Final = 2_000_000
_TYPE: Final = re.compile(r"\d+[dsn]")
_MARKS: Final = "\t,;|"
_MOST_ABOVE: Final = 60  # lines above the heading
_DIGIT: Final = re.compile(r"\d")
_UNIT_CELL: Final = re.compile(r"[\[(]?[^\d\[\]()]{0,20}\d?[\])]?|[\[(]?\d?[^\d\[\]()]{1,20}[\])]?")
_DAY_PATTERN: Final = re.compile(r"[ymdhs/:. t-]{3,}", re.I)


@dataclass(frozen=True, slots=True)
class RecordTable:
    """`rows`: each with its line in the file, from 1, as many cells as there are headings. `units`: by heading, what a
    row under it says. `notes`: the titles and comment lines above. `at`: of JSON, where the list lies. `mark`: what
    parts the cells."""

    format: str  # csv, tsv, json
    headings: tuple[str, ...]
    rows: list[tuple[int, list[str]]]
    notes: tuple[str, ...]
    units: tuple[str, ...]
    at: str = ""
    mark: str = ","


def read_tables(content: bytes) -> list[RecordTable]:
    """The tables of a file: one, or of JSON each list of objects, the longest first. Raises InvalidInput where it has
    none."""
    text = _decoded(content)
    if text.lstrip()[:1] in ("{", "["):
        return _from_json(text)
    lines = [(number, line) for number, line in enumerate(text.splitlines(keepends=True), 1) if line.strip()]
    notes = [line.strip() for _, line in lines if line.startswith("#")]
    lines = [(number, line) for number, line in lines if not line.startswith("#")]
    begins, mark = _find_heading([line for _, line in lines[:_MOST_ABOVE]])
    titles = [line.strip().strip(mark + ' "') for _, line in lines[:begins]]
    given = _Lines(lines[begins:])
    headings: tuple[str, ...] = ()
    rows: list[tuple[int, list[str]]] = []
    units: tuple[str, ...] = ()
    try:
        for cells in csv.reader(given, delimiter=mark):
            at = given.began()
            row = [cell.strip() for cell in cells]
            if not any(row):
                continue
            if not headings:
                headings = tuple(row)
                units = ("",) * len(headings)
                continue
            if len(row) != len(headings):
                row = row[: len(headings)] + [""] * (len(headings) - len(row))
            if not rows and not any(units) and _says_units(row):
                units = ("",) * len(headings) if _says_types(row) else tuple(row)
            else:
                rows.append((at, row))
            if len(rows) > MOST_ROWS:
                raise InvalidInput("file", "has too many rows", f"at most {MOST_ROWS:,}")
    except csv.Error as error:
        raise InvalidInput("file", f"cannot be read: {error}", "CSV, TSV or JSON") from error
    if not rows:
        raise InvalidInput("file", "has no rows under a heading", "a heading and a row for each measurement")
    form = "tsv" if mark == "\t" else "csv"
    return [RecordTable(form, headings, rows, (*titles, *notes), units, mark=mark)]


def _find_heading(lines: list[str]) -> tuple[int, str]:
    """Which line is the heading, and the mark that parts its cells: the first that names a column of days beside
    another; else the first of all."""
    known = house_record_words()
    for index, line in enumerate(lines):
        mark = max(_MARKS, key=line.count)
        cells = [cell.strip().strip('"') for cell in line.split(mark)]
        names = {known.column(cell)[1] for cell in cells if cell and len(cell) <= 80}
        if len(cells) > 1 and (names & {"date", "time", "year"}) and not all(_DIGIT.search(cell) for cell in cells):
            return index, mark
    first = lines[0] if lines else ""
    return 0, max(_MARKS, key=first.count)


def _says_types(row: list[str]) -> bool:
    return all(_TYPE.fullmatch(cell) for cell in row if cell)


def _says_units(row: list[str]) -> bool:
    """Whether a row under the heading is of types or units: none of its cells is a day, a number or a long word, and
    one of them is a unit."""
    if _says_types(row):
        return any(row)
    some = [cell for cell in row if cell]
    plain = [cell.strip("[]() ").lower().replace("°", "").replace("deg ", "") for cell in some]
    known = {name for units in house_record_words().units.values() for name in units} | {"c", "f", "degc", "degf"}
    fits = all(_UNIT_CELL.fullmatch(cell) or _DAY_PATTERN.fullmatch(cell) for cell in some)
    return fits and any(one in known for one in plain)


class _Lines:
    """Numbered lines for the reader of CSV, that know where the last record began."""

    def __init__(self, lines: list[tuple[int, str]]) -> None:
        self._lines = lines
        self._given: list[int] = []
        self._at = 0

    def __iter__(self) -> Iterator[str]:
        return self

    def __next__(self) -> str:
        if self._at >= len(self._lines):
            raise StopIteration
        number, line = self._lines[self._at]
        self._at += 1
        self._given.append(number)
        return line

    def began(self) -> int:
        """The line on which the record that was just read begins."""
        at, self._given = self._given[0], []
        return at


def _decoded(content: bytes) -> str:
    if content.startswith((b"\xff\xfe", b"\xfe\xff")):
        return content.decode("utf-16", errors="replace")
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError:
        return content.decode("cp1252", errors="replace")


def _from_json(text: str) -> list[RecordTable]:
    found = json_lists(read_json(text, "file"))
    if not found:
        raise InvalidInput("file", "holds no list of measurements", "a list of objects, one for each measurement")
    return [_json_table(one) for one in found]


def _json_table(listed: JsonList) -> RecordTable:
    headings = tuple(dict.fromkeys(name for one in listed.rows for name in one))
    rows = [(number, [_cell(one.get(name)) for name in headings]) for number, one in enumerate(listed.rows, 1)]
    return RecordTable("json", headings, rows, (), tuple(listed.units.get(name, "") for name in headings), listed.at)


def _cell(value: Any) -> str:
    return "" if value is None else str(value).strip()
