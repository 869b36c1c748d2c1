"""A record's file as headings and numbered rows: CSV, TSV or JSON, with comments above and types under the heading."""

from __future__ import annotations

import csv
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any, Final

from tackle.base.errors import InvalidInput
from tackle.base.strict import read_json

__all__ = ["RecordTable", "read_table"]

MOST_ROWS: Final = 2_000_000
_TYPE: Final = re.compile(r"\d+[dsn]")
_MARKS: Final = "\t,;|"


@dataclass(frozen=True, slots=True)
class RecordTable:
    """`rows`: each with its line in the file, from 1, as many cells as there are headings. `notes`: the comment lines
    above."""

    format: str  # csv, tsv, json
    headings: tuple[str, ...]
    rows: list[tuple[int, list[str]]]
    notes: tuple[str, ...]


def read_table(content: bytes) -> RecordTable:
    """The table of a file. Raises InvalidInput where it has none."""
    text = _decoded(content)
    if text.lstrip()[:1] in ("{", "["):
        return _from_json(text)
    notes: list[str] = []
    lines = _Lines(text, notes)
    first = lines.first
    mark = max(_MARKS, key=first.count)
    reader = csv.reader(lines, delimiter=mark)
    headings: tuple[str, ...] = ()
    rows: list[tuple[int, list[str]]] = []
    try:
        for cells in reader:
            at = lines.began()
            if not any(cell.strip() for cell in cells):
                continue
            if not headings:
                headings = tuple(cell.strip() for cell in cells)
            elif rows or not all(_TYPE.fullmatch(cell.strip()) for cell in cells if cell.strip()):
                rows.append(
                    (at, [cell.strip() for cell in cells[: len(headings)]] + [""] * (len(headings) - len(cells)))
                )
            if len(rows) > MOST_ROWS:
                raise InvalidInput("file", "has too many rows", f"at most {MOST_ROWS:,}")
    except csv.Error as error:
        raise InvalidInput("file", f"cannot be read: {error}", "CSV, TSV or JSON") from error
    if not rows:
        raise InvalidInput("file", "has no rows under a heading", "a heading and a row for each measurement")
    return RecordTable("tsv" if mark == "\t" else "csv", headings, rows, tuple(notes))


class _Lines:
    """The lines of a text for the reader of CSV, comments left out, that knows where the last record began."""

    def __init__(self, text: str, notes: list[str]) -> None:
        self._lines = [(number, line) for number, line in enumerate(text.splitlines(keepends=True), 1) if line.strip()]
        notes += [line.strip() for _, line in self._lines if line.startswith("#")]
        self._lines = [(number, line) for number, line in self._lines if not line.startswith("#")]
        self.first = self._lines[0][1] if self._lines else ""
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


def _from_json(text: str) -> RecordTable:
    found = _records(read_json(text, "file"))
    if not found:
        raise InvalidInput("file", "holds no list of measurements", "a list of objects, one for each measurement")
    headings = tuple(dict.fromkeys(name for one in found for name in one))
    rows = [(number, [_cell(one.get(name)) for name in headings]) for number, one in enumerate(found, 1)]
    return RecordTable("json", headings, rows, ())


def _records(value: Any) -> list[dict[str, Any]]:
    """The longest list of objects anywhere in a value; columns with data under them as objects; what lies within an
    object of its own taken along."""
    best: list[dict[str, Any]] = []
    if isinstance(value, list):
        mine = [_flat(one) for one in value if isinstance(one, dict)]
        best = mine if len(mine) >= max(1, len(value) // 2) else []
        others: Sequence[Any] = [] if best else value
    elif isinstance(value, dict):
        names = next(
            (value[name] for name in ("columns", "fields", "headings") if isinstance(value.get(name), list)), None
        )
        data = next((value[name] for name in ("data", "rows", "values") if isinstance(value.get(name), list)), None)
        if names and data and all(isinstance(one, list) for one in data):
            keys = [str(one.get("name", "")) if isinstance(one, dict) else str(one) for one in names]
            return [dict(zip(keys, one, strict=False)) for one in data]
        others = list(value.values())
    else:
        others = []
    for other in others:
        found = _records(other) if isinstance(other, list | dict) else []
        best = found if len(found) > len(best) else best
    return best


def _flat(one: dict[str, Any], before: str = "") -> dict[str, Any]:
    data: dict[str, Any] = {}
    for name, value in one.items():
        if isinstance(value, dict):
            data |= _flat(value, "" if name in ("properties", "attributes") else f"{before}{name} ")
        else:
            data[f"{before}{name}"] = value
    return data


def _cell(value: Any) -> str:
    return "" if value is None else str(value).strip()
