"""What the columns of a table hold: told by their headings, else by what stands in them."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from typing import Final

from rapidfuzz import fuzz, process

from tackle.colours.palette import Palette
from tackle.crate.lure import find_sound
from tackle.intake.kinds import match_categories
from tackle.intake.naming import find_colour
from tackle.intake.sheet_rows import CONDITIONS

__all__ = ["UNIT", "by_heading", "guess_columns"]

_ENOUGH: Final = 0.6  # the share of cells that must fit what a column is guessed to hold
_SAMPLE: Final = 40
UNIT: Final = re.compile(r"[\s(\[/](oz|ounces|g|grams|in|inch|inches|cm|mm|ft|feet|m)[)\]]?$", re.IGNORECASE)
_HEADINGS: Final[Mapping[str, tuple[str, ...]]] = {
    "category": ("category", "type", "kind", "lure type", "bait type", "bait", "lure"),
    "colour": ("colour", "color", "card", "pattern", "finish", "colour name", "color name", "colour pattern"),
    "name": ("name", "printed name", "name as printed", "model", "description", "product"),
    "typed": ("typed", "as typed"),
    "count": ("count", "qty", "quantity", "number", "how many", "pieces", "packs", "stock", "amount", "amt", "pcs"),
    "size": ("size", "length", "len", "size in", "inches", "size_in", "l", "lgth"),
    "weight": ("weight", "wt", "oz", "weight oz", "weight_oz", "ounces"),
    "depth": ("depth", "running depth", "runs", "depth ft", "depth_ft", "dives"),
    "sound": ("sound", "rattle", "noise"),
    "price": ("price", "cost", "paid", "each"),
    "condition": ("condition", "state"),
    "tray": ("tray", "box", "where", "place", "location", "box no", "box nr", "box number", "tray no", "bin", "drawer"),
    "note": ("note", "notes", "remark", "remarks", "comment"),
}

_BARE_SIZE: Final = re.compile(r"\d{1,2}([.,]\d{1,2})?")


def guess_columns(headings: Sequence[str], rows: Sequence[Sequence[str]], palette: Palette) -> list[str]:
    """For each column the field it holds, or an empty text: by its heading, else by what stands in it."""
    guessed = by_heading(headings)
    sample = rows[:_SAMPLE]
    for place in range(len(headings)):
        cells = [row[place].strip() for row in sample if place < len(row) and row[place].strip()]
        if guessed[place] or not cells:
            continue
        for name, fits in _content(palette).items():
            if name not in guessed and sum(map(fits, cells)) >= _ENOUGH * len(cells):
                guessed[place] = name
                break
    if "size" not in guessed:  # a bare number beside a count: how long it is, where all are as long as lures are
        for place, name in enumerate(guessed):
            cells = [row[place].strip() for row in sample if place < len(row) and row[place].strip()]
            if not (name or headings[place].strip()) and cells and all(_BARE_SIZE.fullmatch(cell) for cell in cells):
                guessed[place] = "size"
                break
    if "note" not in guessed:
        words = [
            sum(len(row[index].split()) > 1 for row in sample if index < len(row)) for index in range(len(headings))
        ]
        left = [place for place, name in enumerate(guessed) if not name and words[place]]
        if left:
            guessed[max(left, key=lambda place: words[place])] = "note"  # what is no field is not lost
    return guessed


def by_heading(headings: Sequence[str]) -> list[str]:
    """For each heading the field that it names, or an empty text; none twice."""
    guessed = [""] * len(headings)
    options = {name: field for field, names in _HEADINGS.items() for name in names}
    for index, heading in enumerate(headings):
        plain = re.sub(r"[^a-z0-9_]+", " ", UNIT.sub("", heading.lower())).strip()
        plain = plain or re.sub(r"[^a-z0-9_]+", " ", heading.lower()).strip()
        near = process.extractOne(plain, list(options), scorer=fuzz.ratio, score_cutoff=86) if plain else None
        if near and options[near[0]] not in guessed:
            guessed[index] = options[near[0]]
    return guessed


def _content(palette: Palette) -> dict[str, Callable[[str], bool]]:
    """How a cell of each field looks, the surest first."""

    def like(pattern: str) -> Callable[[str], bool]:
        return lambda cell: re.fullmatch(pattern, cell, re.IGNORECASE) is not None

    return {
        "category": lambda cell: bool(match_categories(cell)),
        "weight": like(r"\d+([.,]\d+)?\s*(oz|g)|\d+/\d+(\s*oz)?"),
        "depth": like(r"\d+([.,]\d+)?\s*(ft|m)"),
        "size": like(r"\d+([.,]\d+)?\s*(in|\"|cm|mm)"),
        "price": like(r"[$€£]\s*\d+([.,]\d+)?|\d+[.,]\d\d"),
        "sound": lambda cell: find_sound(cell) is not None,
        "condition": lambda cell: cell.lower() in CONDITIONS,
        "count": like(r"\d{1,3}"),
        "colour": lambda cell: find_colour(cell, (), palette).sure is not None,
    }
