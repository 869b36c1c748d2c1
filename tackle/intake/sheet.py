"""A sheet read as a table of lures: where its headings are, what its columns hold, and what was mended in its cells."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Final

from tackle.base.errors import InvalidInput
from tackle.base.units import System
from tackle.colours.palette import Palette
from tackle.intake.columns import UNIT, by_heading, guess_columns
from tackle.intake.heap import NOTHING, read_heap
from tackle.intake.kinds import match_categories
from tackle.intake.line import LineRead, read_line
from tackle.intake.naming import find_colour
from tackle.intake.sheet_rows import FIELDS, as_cells

__all__ = ["Mend", "Sheet", "SheetTable", "headed", "with_units"]

_ENOUGH: Final = 0.6  # the share of rows that must read as typed lures where a sheet has one column
_LOOKED_AT: Final = 12  # rows from the top among which the headings are
_HEADINGS_AT_LEAST: Final = 2
_TOTAL: Final = re.compile(r"(?:grand |sub)?totals?:?", re.IGNORECASE)
_BARE: Final = re.compile(r"\d{1,4}(?:[.,]\d{1,4})?|\d{1,2}/\d{1,2}|\d{1,2} \d{1,2}/\d{1,2}")
_DATE: Final = re.compile(r"\d{4}-(?P<month>\d\d)-(?P<day>\d\d)(?:[ T]00:00:00)?")
_SHORT_DATE: Final = re.compile(r"(?P<day>\d{1,2})[- ](?P<name>[A-Za-z]{3})")
_MONTHS: Final = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_PARTS: Final = (2, 4, 8, 16, 32)
_FRACTION_SUM: Final = re.compile(r"=\s*(?:(\d{1,3})\s*\+\s*)?(\d{1,3})\s*/\s*(\d{1,3})")
_NUMBER_SUM: Final = re.compile(r"=\s*(\d{1,5}(?:\.\d{1,4})?)(?:\s*([*+])\s*(\d{1,5}(?:\.\d{1,4})?))?")
_ALWAYS: Final = ("category", "colour", "count")
_NUMBERS: Final = ("count", "size", "weight", "depth", "price")


@dataclass(frozen=True, slots=True)
class Sheet:
    """One sheet of a file: its rows that are not empty, all of one width, and the number of each in the file.

    `merged`: for a cell under another that was merged with it, by row number and column, the text of that other one.
    """

    name: str
    rows: Sequence[Sequence[str]]
    numbers: Sequence[int]
    merged: Mapping[tuple[int, int], str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Mend:
    """A cell that says other than was meant: what it was, and what it may become.

    `kind`: "merged" (empty under a merged one), "date" (a fraction taken for a date), "sum" (a formula of plain
    numbers without its value), "formula" (any other formula without its value; it becomes empty).
    """

    kind: str
    row: int
    column: int
    was: str
    told: str


@dataclass(frozen=True, slots=True)
class SheetTable:
    """The rows of a sheet below its headings as they stand in it, what each column holds, and what may be mended."""

    name: str
    headings: list[str]
    columns: list[str]
    rows: list[list[str]]
    numbers: list[int]
    mends: list[Mend]


def headed(sheet: Sheet, palette: Palette, system: System) -> SheetTable:
    """A sheet's table. Raises InvalidInput where it has no rows for lures.

    Rows that are one line each are taken apart. A sheet whose first row is a lure has no headings.
    """
    rows = sheet.rows
    if not rows:
        raise InvalidInput("file", "has no rows", "one row for each lure")
    if max(map(len, rows)) == 1 and (lines := _lines(sheet, palette, system)):
        used = [place for place, name in enumerate(FIELDS) if name in _ALWAYS or any(line[place] for _, line in lines)]
        names = [FIELDS[place] for place in used]
        data = [[line[place] for place in used] for _, line in lines]
        return SheetTable(sheet.name, names, list(names), data, [number for number, _ in lines], [])
    top = _heading_at(rows)
    headings, first = list(rows[top]), top + 1
    if not any(by_heading(headings)) and _is_lure(headings, palette, system):
        headings, first = [""] * len(headings), 0
    kept = [index for index in range(first, len(rows)) if not first or not _is_total(rows[index])]
    if not kept:
        raise InvalidInput("file", "has no row below the headings", "one row for each lure")
    below, numbers = [list(rows[place]) for place in kept], [sheet.numbers[place] for place in kept]
    columns = guess_columns(headings, below, palette)
    mends = [
        mend
        for row, (cells, number) in enumerate(zip(below, numbers, strict=True))
        for mend in _list_mends(row, cells, number, columns, sheet.merged)
    ]
    return SheetTable(sheet.name, headings, columns, below, numbers, mends)


def _heading_at(rows: Sequence[Sequence[str]]) -> int:
    """The row that reads most like headings, a title or a note above it left out; else the first."""
    known = [sum(map(bool, by_heading(row))) for row in rows[:_LOOKED_AT]]
    best = max(range(len(known)), key=lambda place: (known[place], -place))
    return best if known[best] >= _HEADINGS_AT_LEAST else 0


def _is_total(row: Sequence[str]) -> bool:
    return any(_TOTAL.fullmatch(cell.strip()) for cell in row[:2])


def _list_mends(
    row: int, cells: Sequence[str], number: int, columns: Sequence[str], merged: Mapping[tuple[int, int], str]
) -> list[Mend]:
    found = []
    for column, (name, cell) in enumerate(zip(columns, cells, strict=False)):
        text = cell.strip()
        if not text and (above := merged.get((number, column))):
            found.append(Mend("merged", row, column, cell, above))
        elif name in ("size", "weight", "depth") and (fraction := _restore_fraction(text)):
            found.append(Mend("date", row, column, cell, fraction))
        elif name in _NUMBERS and text.startswith("="):
            value = _evaluate(text)
            found.append(Mend("sum" if value else "formula", row, column, cell, value))
    return found


def _restore_fraction(text: str) -> str:
    """3/8 of what a table program took for the eighth of March, or for the third of August; else nothing."""
    if data := _DATE.fullmatch(text):
        month, day = int(data["month"]), int(data["day"])
    elif (data := _SHORT_DATE.fullmatch(text)) and data["name"].lower() in _MONTHS:
        month, day = _MONTHS.index(data["name"].lower()) + 1, int(data["day"])
    else:
        return ""
    over, under = sorted((month, day))
    return f"{over}/{under}" if under in _PARTS and over < under else ""


def _evaluate(formula: str) -> str:
    """What a formula of plain numbers comes to, an empty text where it is more than that."""
    if data := _FRACTION_SUM.fullmatch(formula):
        return " ".join(part for part in (data[1], f"{data[2]}/{data[3]}") if part) if int(data[3]) else ""
    if data := _NUMBER_SUM.fullmatch(formula):
        first, second = float(data[1]), float(data[3] or 0)
        return f"{first * second if data[2] == '*' else first + second:g}"
    return ""


def with_units(row: Sequence[str], headings: Sequence[str], columns: Sequence[str]) -> list[str]:
    """A row with the unit that a heading names beside its bare numbers."""
    data = list(row)
    for index, name in enumerate(columns[: len(data)]):
        unit = UNIT.search(headings[index]) if name in ("size", "weight", "depth") else None
        if unit and _BARE.fullmatch(data[index].strip()):
            in_parts = {"weight": "oz", "size": "in"}.get(name) if "/" in data[index] else None  # nobody halves a gram
            data[index] = f"{data[index].strip()} {in_parts or unit[1].lower()}"
    return data


def _lines(sheet: Sheet, palette: Palette, system: System) -> list[tuple[int, list[str]]]:
    """The rows of one column as lures, each typed in a line, with the row's number; none where they are no such
    lines. Of a receipt's totals nothing comes in."""
    read = read_heap([row[0] for row in sheet.rows], palette, system)
    found = [
        (number, row[0], lure) for number, row, lures in zip(sheet.numbers, sheet.rows, read, strict=True)
        for lure in lures if lure.thing != NOTHING
    ]  # fmt: skip
    if sum(lure.category is not None and bool(lure.offers) for *_, lure in found) < _ENOUGH * len(found):
        return []
    if found and found[0][2].category is None and found[0][2].card is None:
        found = found[1:]  # a heading
    return [(number, _cells(lure, line)) for number, line, lure in found]


def _cells(guess: LineRead, line: str) -> list[str]:
    """The cells of a typed line. What is not sure stays as it was typed, or is a question mark, so that it is asked."""
    sure = guess.category if "category" not in guess.unsure else guess.kind
    values = {"category": sure or "", "card": guess.colour, "count": guess.count, "sound": guess.sound}
    values |= {"price": guess.price, "condition": guess.condition, "typed": line, "note": guess.note}
    values |= {"name": guess.name} if guess.stands_for else {}
    form = {"size_in": guess.size_in, "weight_oz": guess.weight_oz, "depth_ft": guess.depth_ft}
    cells = as_cells({**values, **form})
    asked = {name.removesuffix("_in").removesuffix("_oz").removesuffix("_ft") for name in guess.unsure}
    return ["?" if name in asked - {"category", "colour"} else cell for name, cell in zip(FIELDS, cells, strict=True)]


def _is_lure(cells: Sequence[str], palette: Palette, system: System) -> bool:
    guess = read_line(" ".join(cells), palette, system)
    if guess.category is not None and guess.card is not None:
        return True
    kinds = [index for index, cell in enumerate(cells) if match_categories(cell)]
    return bool(kinds) and any(
        find_colour(cell, (), palette).sure for index, cell in enumerate(cells) if index not in kinds and cell.strip()
    )
