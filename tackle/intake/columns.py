"""What the columns of a table hold: told by their headings, else by what stands in them; or one line a lure."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from typing import Final

from rapidfuzz import fuzz, process

from tackle.colours.palette import Palette
from tackle.crate.lure import sound_of
from tackle.errors import Refused
from tackle.intake.kinds import categories_of
from tackle.intake.line import Guess, read_line
from tackle.intake.naming import colour_of
from tackle.intake.table import CONDITIONS, FIELDS, as_cells
from tackle.units import System

__all__ = ["guess_columns", "headed"]

_ENOUGH: Final = 0.6  # the share of cells that must fit what a column is guessed to hold
_SAMPLE: Final = 40
_LOOKED_AT: Final = 12  # rows from the top among which the headings are
_HEADINGS_AT_LEAST: Final = 2
_TOTAL: Final = re.compile(r"(?:grand |sub)?totals?:?", re.IGNORECASE)
_UNIT: Final = re.compile(r"[\s(\[/](oz|ounces|g|grams|in|inch|inches|cm|mm|ft|feet|m)[)\]]?$", re.IGNORECASE)
_BARE: Final = re.compile(r"\d{1,4}(?:[.,]\d{1,4})?|\d{1,2}/\d{1,2}|\d{1,2} \d{1,2}/\d{1,2}")
_DATE: Final = re.compile(r"\d{4}-(\d\d)-(\d\d)(?:[ T]00:00:00)?")
_PARTS: Final = (2, 4, 8, 16, 32)
_ALWAYS: Final = ("category", "colour", "count")
_HEADINGS: Final[Mapping[str, tuple[str, ...]]] = {
    "category": ("category", "type", "kind", "lure type", "bait type", "bait", "lure"),
    "colour": ("colour", "color", "card", "pattern", "finish", "colour name", "color name", "colour pattern"),
    "name": ("name", "printed name", "name as printed", "model", "description", "product"),
    "count": ("count", "qty", "quantity", "number", "how many", "pieces", "packs", "stock", "amount", "amt", "pcs"),
    "size": ("size", "length", "len", "size in", "inches", "size_in"),
    "weight": ("weight", "wt", "oz", "weight oz", "weight_oz", "ounces"),
    "depth": ("depth", "running depth", "runs", "depth ft", "depth_ft", "dives"),
    "sound": ("sound", "rattle", "noise"),
    "price": ("price", "cost", "paid", "each"),
    "condition": ("condition", "state"),
    "tray": ("tray", "box", "where", "place", "location"),
    "note": ("note", "notes", "remark", "remarks", "comment"),
}


def headed(
    rows: Sequence[Sequence[str]], palette: Palette, system: System
) -> tuple[list[str], list[list[str]], list[str]]:
    """A table's headings, the rows below, and for each column the field it holds. Raises Refused.

    Rows that are one line each are taken apart. A table whose first row is a lure has no headings.
    """
    if not rows:
        raise Refused("file", "has no rows", "one row for each lure")
    if max(map(len, rows)) == 1 and (lines := _lines(rows, palette, system)):
        used = [place for place, name in enumerate(FIELDS) if name in _ALWAYS or any(line[place] for line in lines)]
        names = [FIELDS[place] for place in used]
        return names, [[line[place] for place in used] for line in lines], list(names)
    rows = _from_headings(rows)
    headings, below = list(rows[0]), [list(row) for row in rows[1:] if not _is_total(row)]
    if not any(_by_heading(headings)) and _is_lure(headings, palette, system):
        headings, below = [""] * len(headings), [list(row) for row in rows]
    if not below:
        raise Refused("file", "has no row below the headings", "one row for each lure")
    columns = guess_columns(headings, below, palette)
    return headings, [_with_units(row, headings, columns) for row in below], columns


def _from_headings(rows: Sequence[Sequence[str]]) -> Sequence[Sequence[str]]:
    """The rows from the one that reads most like headings on, a title or a note above it left out."""
    known = [sum(map(bool, _by_heading(row))) for row in rows[:_LOOKED_AT]]
    best = max(range(len(known)), key=lambda place: (known[place], -place))
    return rows[best:] if known[best] >= _HEADINGS_AT_LEAST else rows


def _is_total(row: Sequence[str]) -> bool:
    return any(_TOTAL.fullmatch(cell.strip()) for cell in row[:2])


def _with_units(row: Sequence[str], headings: Sequence[str], columns: Sequence[str]) -> list[str]:
    """A row with the unit that a heading names beside its bare numbers, and fractions that were taken for dates."""
    told = list(row)
    for place, name in enumerate(columns[: len(told)]):
        if name not in ("size", "weight", "depth"):
            continue
        if (day := _DATE.fullmatch(told[place].strip())) and int(day[2]) in _PARTS:
            told[place] = f"{int(day[1])}/{int(day[2])}"  # 3/8, which a table program took for the eighth of March
        unit = _UNIT.search(headings[place])
        if unit and _BARE.fullmatch(told[place].strip()):
            in_parts = {"weight": "oz", "size": "in"}.get(name) if "/" in told[place] else None  # nobody halves a gram
            told[place] = f"{told[place].strip()} {in_parts or unit[1].lower()}"
    return told


def guess_columns(headings: Sequence[str], rows: Sequence[Sequence[str]], palette: Palette) -> list[str]:
    """For each column the field it holds, or an empty text: by its heading, else by what stands in it."""
    guessed = _by_heading(headings)
    sample = rows[:_SAMPLE]
    for place in range(len(headings)):
        cells = [row[place].strip() for row in sample if place < len(row) and row[place].strip()]
        if guessed[place] or not cells:
            continue
        for name, fits in _content(palette).items():
            if name not in guessed and sum(map(fits, cells)) >= _ENOUGH * len(cells):
                guessed[place] = name
                break
    return guessed


def _by_heading(headings: Sequence[str]) -> list[str]:
    guessed = [""] * len(headings)
    options = {name: field for field, names in _HEADINGS.items() for name in names}
    for place, heading in enumerate(headings):
        plain = re.sub(r"[^a-z0-9_]+", " ", _UNIT.sub("", heading.lower())).strip()
        plain = plain or re.sub(r"[^a-z0-9_]+", " ", heading.lower()).strip()
        near = process.extractOne(plain, list(options), scorer=fuzz.ratio, score_cutoff=86) if plain else None
        if near and options[near[0]] not in guessed:
            guessed[place] = options[near[0]]
    return guessed


def _content(palette: Palette) -> dict[str, Callable[[str], bool]]:
    """How a cell of each field looks, the surest first."""

    def like(pattern: str) -> Callable[[str], bool]:
        return lambda cell: re.fullmatch(pattern, cell, re.IGNORECASE) is not None

    return {
        "category": lambda cell: bool(categories_of(cell)),
        "weight": like(r"\d+([.,]\d+)?\s*(oz|g)|\d+/\d+(\s*oz)?"),
        "depth": like(r"\d+([.,]\d+)?\s*(ft|m)"),
        "size": like(r"\d+([.,]\d+)?\s*(in|\"|cm|mm)"),
        "price": like(r"[$€£]\s*\d+([.,]\d+)?|\d+[.,]\d\d"),
        "sound": lambda cell: sound_of(cell) is not None,
        "condition": lambda cell: cell.lower() in CONDITIONS,
        "count": like(r"\d{1,3}"),
        "colour": lambda cell: colour_of(cell, (), palette).sure is not None,
    }


def _lines(rows: Sequence[Sequence[str]], palette: Palette, system: System) -> list[list[str]]:
    """The rows of one column as lures, each typed in a line; none where they are no such lines."""
    guesses = [read_line(row[0], palette, system) for row in rows]
    if sum(guess.category is not None and bool(guess.offers) for guess in guesses) < _ENOUGH * len(guesses):
        return []
    if guesses[0].category is None and guesses[0].card is None:
        guesses = guesses[1:]  # a heading
    return [_cells(guess) for guess in guesses]


def _cells(guess: Guess) -> list[str]:
    """The cells of a typed line. What is not sure stays as it was typed, or is a question mark, so that it is asked."""
    sure = guess.category if "category" not in guess.unsure else guess.kind
    values = {"category": sure or "", "card": guess.colour, "count": guess.count, "sound": guess.sound}
    form = {"size_in": guess.size_in, "weight_oz": guess.weight_oz, "depth_ft": guess.depth_ft}
    cells = as_cells({**values, **form})
    asked = {name.removesuffix("_in").removesuffix("_oz").removesuffix("_ft") for name in guess.unsure}
    return ["?" if name in asked - {"category", "colour"} else cell for name, cell in zip(FIELDS, cells, strict=True)]


def _is_lure(cells: Sequence[str], palette: Palette, system: System) -> bool:
    guess = read_line(" ".join(cells), palette, system)
    return guess.category is not None and guess.card is not None
