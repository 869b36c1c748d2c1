"""Rows of a table read as lures: what each row says, or what is wrong with it."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Final

from tackle.base.errors import InvalidInput
from tackle.base.numbers import read_number
from tackle.base.units import (
    System,
    read_depth_ft,
    read_length_in,
    read_weight_oz,
    write_depth,
    write_exact,
    write_weight_exact,
)
from tackle.base.vocabulary import CATEGORIES
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.crate.lure import SOUNDS, find_sound
from tackle.intake.kinds import match_categories
from tackle.intake.limits import MOST_COUNT
from tackle.intake.naming import find_colour
from tackle.intake.words import normal

__all__ = ["CONDITIONS", "FIELDS", "Draft", "as_cells", "equal_rows", "joined", "read_count", "read_row"]

MOST_SIZE_IN: Final = 60
_COUNTED: Final = re.compile(r"x? ?(\d{1,4}) ?(?:x|pcs?\.?|pieces?|pks?|packs?|ct|ea|each|stk)?", re.IGNORECASE)
MOST_TYPED: Final = 500  # characters of the lines that a stack came of
CONDITIONS: Final = (
    "new", "good", "worn", "mend", "torn", "rusty", "melted", "chewed", "bent", "broken", "no hooks", "dried out",
)  # fmt: skip
FIELDS: Final = (
    "category", "colour", "name", "count", "size", "weight", "depth", "sound", "price", "condition", "tray", "note",
    "typed",
)  # fmt: skip


@dataclass(slots=True)
class Draft:
    """What one row says. `wrong` names each field that cannot be used, with what is wrong and what is allowed. `thing`:
    what it is where it is no lure; it has neither category nor colour then."""

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
    typed: str = ""
    thing: str = ""
    offers: tuple[Colour, ...] = ()
    wrong: dict[str, str] = field(default_factory=dict)


def equal_rows(drafts: Sequence[Draft]) -> list[list[int]]:
    """The places of the rows that say the same but for their count, in the order of the first of each; as many
    together as one stack holds."""
    open_: dict[tuple[object, ...], list[int]] = {}
    groups: list[list[int]] = []
    for index, draft in enumerate(drafts):
        said = (
            draft.category, draft.card, draft.name.lower(), draft.size_in, draft.weight_oz, draft.depth_ft,
            draft.sound, draft.price, draft.condition, draft.tray.lower(), draft.note, draft.typed, draft.thing.lower(),
        )  # fmt: skip
        group = open_.get(said)
        if group is None or sum(drafts[other].count for other in group) + draft.count > MOST_COUNT:
            open_[said] = group = []
            groups.append(group)
        group.append(index)
    return groups


def joined(drafts: Sequence[Draft]) -> Draft:
    """Equal rows as one."""
    return replace(drafts[0], count=sum(draft.count for draft in drafts))


def read_row(
    cells: Sequence[str],
    columns: Sequence[str],
    palette: Palette,
    system: System,
    remembered: Mapping[tuple[str, str], str] | None = None,
    blank_is_one: bool = True,
) -> Draft:
    """One row as a lure. Never raises: what cannot be used is told in `wrong`. `blank_is_one`: a count that is left
    blank is one; else it is asked about."""
    data = {name: cell.strip() for name, cell in zip(columns, cells, strict=False) if name}
    draft = Draft(
        name=data.get("name", "")[:80],
        tray=data.get("tray", "")[:60],
        note=data.get("note", "")[:300],
        typed=data.get("typed", "")[:MOST_TYPED],
    )
    _read_category(draft, data.get("category", ""))
    _read_colour(draft, data.get("colour", "") or data.get("name", ""), palette, remembered or {})
    draft.count = read_count(draft, data, MOST_COUNT)
    if not blank_is_one and "count" in data and not data["count"]:
        draft.wrong["count"] = "is left blank: how many are there"
    draft.size_in = _measured(draft, data, "size", system, read_length_in, 2)
    if draft.size_in is not None and not 0 < draft.size_in <= MOST_SIZE_IN:
        draft.wrong["size"] = f"“{data['size']}” is not above 0 and at most {MOST_SIZE_IN} in"
        draft.size_in = None
    draft.weight_oz = _measured(draft, data, "weight", system, read_weight_oz, 4)
    draft.depth_ft = _measured(draft, data, "depth", system, read_depth_ft, 3)
    draft.price = _number(draft, data, "price", None, 0, 99_999)
    data["sound"] = find_sound(data.get("sound", "")) or data.get("sound", "")
    draft.sound = _read_choice(draft, data, "sound", SOUNDS)
    draft.condition = _read_choice(draft, data, "condition", CONDITIONS)
    return draft


def _read_category(draft: Draft, text: str) -> None:
    named = (text,) if text in CATEGORIES else match_categories(text)
    if len(named) == 1:
        draft.category = named[0]
    elif named:
        draft.wrong["category"] = f"“{text}” may be several categories: choose one"
    else:
        draft.wrong["category"] = f"“{text}” is not a category" if text else "names no category"


def _read_colour(draft: Draft, text: str, palette: Palette, remembered: Mapping[tuple[str, str], str]) -> None:
    known = palette.by_id.get(text) or palette.by_id.get(remembered.get((draft.category, normal(text)), ""))
    if known and (not draft.category or draft.category in known.sold_in):
        draft.card = known.id
        return
    meant = find_colour(text, [draft.category] if draft.category else [], palette)
    draft.offers = meant.offers
    if meant.sure:
        draft.card = meant.sure.id
    elif draft.offers:
        draft.wrong["colour"] = f"“{text}” may be several colours: choose one"
    else:
        draft.wrong["colour"] = f"“{text}” is no colour known here" if text else "names no colour"


def read_count(draft: Draft, data: Mapping[str, str], most: int) -> int:
    """How many a row says that there are."""
    return int(_number(draft, data, "count", 1, 1, most, whole=True) or 1)


def _number(
    draft: Draft,
    data: Mapping[str, str],
    name: str,
    otherwise: float | None,
    low: float,
    high: float,
    whole: bool = False,
) -> float | None:
    text = data.get(name, "").strip("$€£ ")
    if whole and (counted := _COUNTED.fullmatch(text)):
        text = counted[1]
    if not text:
        return otherwise
    value = read_number(text, low, high)
    if value is None or (whole and value != int(value)):
        kind = "a whole number" if whole else "a number"
        draft.wrong[name] = f"“{data[name]}” is not {kind} from {low:g} to {high:g}"
        return otherwise
    return value


def _measured(
    draft: Draft,
    data: Mapping[str, str],
    name: str,
    system: System,
    read: Callable[[str, System, str], float],
    digits: int,
) -> float | None:
    text = data.get(name, "")
    if not text:
        return None
    try:
        return round(read(text, system, name), digits)
    except InvalidInput as refused:
        draft.wrong[name] = f"{refused.wrong}: write it like {refused.allowed}"
        return None


def _read_choice(draft: Draft, data: Mapping[str, str], name: str, allowed: Sequence[str]) -> str:
    text = data.get(name, "").lower()
    if text and text not in allowed:
        draft.wrong[name] = f"“{data[name]}” is not one of {', '.join(allowed)}"
        return ""
    return text


def as_cells(values: Mapping[str, Any]) -> list[str]:
    """The cells of one lure in the order of FIELDS, so that reading them back gives the same lure."""
    data = {
        **values,
        "colour": values["card"],
        "size": values.get("size_in") and write_exact(values["size_in"], "imperial"),
        "weight": values.get("weight_oz") and write_weight_exact(values["weight_oz"], "imperial"),
        "depth": None if values.get("depth_ft") is None else write_depth(values["depth_ft"], "imperial"),
    }
    return ["" if data.get(name) in (None, "") else str(data[name]) for name in FIELDS]
