"""Rows of a table read as lures: what each row says, or what is wrong with it."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Final

from tackle.colours.palette import Palette
from tackle.crate.line import MOST_COUNT
from tackle.crate.lure import SOUNDS, sound_of
from tackle.crate.words import Match, category_of, matches, normal, sure_of
from tackle.errors import Refused
from tackle.units import CM_PER_IN, G_PER_OZ, System, read_length_in
from tackle.vocabulary import CATEGORIES

__all__ = ["CONDITIONS", "FIELDS", "Draft", "as_cells", "read_row"]

CONDITIONS: Final = ("new", "good", "worn", "mend")
FIELDS: Final = (
    "category", "colour", "name", "count", "size", "weight", "depth", "sound", "price", "condition", "tray", "note",
)  # fmt: skip


@dataclass(slots=True)
class Draft:
    """What one row says. `wrong` names each field that cannot be used, with what is wrong and what is allowed."""

    category: str = ""
    card: str = ""
    name: str = ""
    count: int = 1
    size_in: float | None = None
    weight_oz: float | None = None
    depth_ft: float | None = None
    sound: str = ""
    price: float | None = None
    condition: str = ""
    tray: str = ""
    note: str = ""
    offers: tuple[Match, ...] = ()
    wrong: dict[str, str] = field(default_factory=dict)


def read_row(
    cells: Sequence[str],
    columns: Sequence[str],
    palette: Palette,
    system: System,
    remembered: Mapping[tuple[str, str], str] | None = None,
) -> Draft:
    """One row as a lure. Never raises: what cannot be used is told in `wrong`."""
    told = {name: cell.strip() for name, cell in zip(columns, cells, strict=False) if name}
    draft = Draft(name=told.get("name", "")[:80], tray=told.get("tray", "")[:60], note=told.get("note", "")[:300])
    _read_category(draft, told.get("category", ""))
    _read_colour(draft, told.get("colour", "") or told.get("name", ""), palette, remembered or {})
    draft.count = int(_number(draft, told, "count", 1, 1, MOST_COUNT, whole=True) or 1)
    draft.size_in = _length(draft, told, "size", system, 60)
    draft.weight_oz = _weight(draft, told)
    draft.depth_ft = _depth(draft, told, system)
    draft.price = _number(draft, told, "price", None, 0, 99_999)
    told["sound"] = sound_of(told.get("sound", "")) or told.get("sound", "")
    draft.sound = _one_of(draft, told, "sound", SOUNDS)
    draft.condition = _one_of(draft, told, "condition", CONDITIONS)
    return draft


def _read_category(draft: Draft, text: str) -> None:
    category = text if text in CATEGORIES else category_of(text)
    if category is None:
        draft.wrong["category"] = f"“{text}” is not a category" if text else "names no category"
    else:
        draft.category = category


def _read_colour(draft: Draft, text: str, palette: Palette, remembered: Mapping[tuple[str, str], str]) -> None:
    known = palette.by_id.get(text) or palette.by_id.get(remembered.get((draft.category, normal(text)), ""))
    if known and (not draft.category or draft.category in known.sold_in):
        draft.card = known.id
        return
    draft.offers = tuple(matches(text, draft.category or None, palette))
    if card := sure_of(draft.offers):
        draft.card = card.id
    elif draft.offers:
        draft.wrong["colour"] = f"“{text}” may be several colours: choose one"
    else:
        draft.wrong["colour"] = f"“{text}” is no colour known here" if text else "names no colour"


def _number(
    draft: Draft,
    told: Mapping[str, str],
    name: str,
    otherwise: float | None,
    low: float,
    high: float,
    whole: bool = False,
) -> float | None:
    text = told.get(name, "").replace(",", ".").strip("$€£ ")
    if not text:
        return otherwise
    try:
        value = float(text)
    except ValueError:
        value = float("nan")
    if not low <= value <= high or (whole and value != int(value)):
        kind = "a whole number" if whole else "a number"
        draft.wrong[name] = f"“{told[name]}” is not {kind} from {low:g} to {high:g}"
        return otherwise
    return value


def _length(draft: Draft, told: Mapping[str, str], name: str, system: System, most: float) -> float | None:
    text = told.get(name, "")
    if not text:
        return None
    try:
        value = read_length_in(text, system, name)
    except Refused as refused:
        draft.wrong[name] = f"{refused.wrong}: write it like {refused.allowed}"
        return None
    if not 0 < value <= most:
        draft.wrong[name] = f"“{text}” is not above 0 and at most {most:g} in"
        return None
    return round(value, 2)


def _weight(draft: Draft, told: Mapping[str, str]) -> float | None:
    text = told.get("weight", "").lower()
    if not text:
        return None
    found = re.fullmatch(r"(\d+(?:[.,]\d+)?)(?:\s*/\s*(\d+))?\s*(oz|g)?", text.strip())
    if not found or found[2] == "0" or float(found[1].replace(",", ".")) / float(found[2] or 1) > 2000:
        draft.wrong["weight"] = f"“{told['weight']}” is not a weight: write it like 3/8 oz or 10 g"
        return None
    value = float(found[1].replace(",", ".")) / float(found[2] or 1)
    return round(value / G_PER_OZ if found[3] == "g" else value, 3)


def _depth(draft: Draft, told: Mapping[str, str], system: System) -> float | None:
    text = told.get("depth", "")
    if re.fullmatch(r"\d+([.,]\d+)?", text.strip()):
        value = float(text.replace(",", "."))
        return round(value if system == "imperial" else value * 100 / CM_PER_IN / 12, 2) if value <= 200 else None
    inches = _length(draft, told, "depth", system, 2400)
    return None if inches is None else round(inches / 12, 2)


def _one_of(draft: Draft, told: Mapping[str, str], name: str, allowed: Sequence[str]) -> str:
    text = told.get(name, "").lower()
    if text and text not in allowed:
        draft.wrong[name] = f"“{told[name]}” is not one of {', '.join(allowed)}"
        return ""
    return text


def as_cells(values: Mapping[str, Any]) -> list[str]:
    """The cells of one lure in the order of FIELDS, so that reading them back gives the same lure."""
    told = {
        **values,
        "colour": values["card"],
        "size": values.get("size_in") and f"{values['size_in']:g} in",
        "weight": values.get("weight_oz") and f"{values['weight_oz']:g} oz",
        "depth": values.get("depth_ft") and f"{values['depth_ft']:g} ft",
    }
    return ["" if told.get(name) in (None, "") else str(told[name]) for name in FIELDS]
