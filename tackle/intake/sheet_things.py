"""Rows of a table that are of no lure: hooks, weights, line, tools."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from tackle.base.errors import InvalidInput
from tackle.base.units import System, read_length_in, read_weight_oz
from tackle.intake.aside import thing_in
from tackle.intake.kinds import find_kind, match_categories
from tackle.intake.limits import MOST_COUNT
from tackle.intake.sheet_rows import MOST_SIZE_IN, MOST_TYPED, Draft, read_count
from tackle.intake.words import normal

__all__ = ["NO_LURE", "read_thing"]

NO_LURE: Final = "other"  # the category of a thing in a table of ours
_MOST_NAME: Final = 80


def read_thing(cells: Sequence[str], columns: Sequence[str], system: System, sheet: str = "") -> Draft | None:
    """One row as a thing; None where it is of a lure, or nobody can tell. A sheet that is named for things, as "Hooks",
    holds nothing else where its rows name no lure. A size that is no length, as 3/0, stays a part of its name."""
    data = {name: cell.strip() for name, cell in zip(columns, cells, strict=False) if name}
    kind, name = data.get("category", ""), data.get("name", "") or data.get("colour", "")
    of_things = bool(_thing(sheet))
    if kind.lower() != NO_LURE and (match_categories(kind) or not (_thing(kind) or _thing(name) or of_things)):
        return None
    said = [one for one in ("" if kind.lower() == NO_LURE else kind, name) if one]
    if of_things and not any(_thing(one) for one in said):
        said.append(sheet.lower().rstrip("s"))
    draft = Draft(
        tray=data.get("tray", "")[:60], note=data.get("note", "")[:300], typed=data.get("typed", "")[:MOST_TYPED]
    )
    draft.size_in, draft.weight_oz = _length(data.get("size", ""), system), _weight(data.get("weight", ""), system)
    if draft.size_in is None:
        said.append(data.get("size", ""))
    if draft.weight_oz is None:
        said.append(data.get("weight", ""))
    draft.thing = " ".join(one for one in dict.fromkeys(said) if one)[:_MOST_NAME]
    if not draft.thing:
        draft.wrong["name"] = "does not say what it is"
    draft.count = read_count(draft, data, MOST_COUNT)
    return draft


def _thing(text: str) -> str:
    words = normal(text).split()
    return thing_in(words, find_kind(words)) if words else ""


def _length(text: str, system: System) -> float | None:
    try:
        size = round(read_length_in(text, system, "size"), 2) if text and "/" not in text else None
    except InvalidInput:
        return None
    return size if size is not None and 0 < size <= MOST_SIZE_IN and not text.isdecimal() else None


def _weight(text: str, system: System) -> float | None:
    try:
        return round(read_weight_oz(text, system, "weight"), 4) if text else None
    except InvalidInput:
        return None
