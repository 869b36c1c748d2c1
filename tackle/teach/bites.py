"""Reading the bite: short cases, what to do next, and the rule with its exceptions."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path
from typing import Final

from tackle.base.errors import DataError
from tackle.base.vocabulary import CATEGORIES, ids
from tackle.colours.colour import Colour
from tackle.colours.palette import house_palette
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry

__all__ = ["Case", "Next", "house_cases", "load_cases"]

_FILE: Final = "bites.toml"
_FIELDS: Final = ("id", "thrown", "card", "says", "right", "also", "why")


class Next(StrEnum):
    """What one may do after a bite, or without one."""

    STAY = "stay"
    NEAREST = "nearest"
    ROLE = "role"
    PLACE = "place"


@dataclass(frozen=True, slots=True)
class Case:
    """What was thrown and what came, what is right to do, what will do, and why."""

    id: str
    category: str
    card: Colour
    says: str
    right: frozenset[Next]
    also: frozenset[Next]
    why: str


def load_cases(path: Path) -> tuple[Case, ...]:
    """The cases in a TOML file. Raises DataError naming file, entry and field."""
    entries = read_toml(path).get("case")
    if not isinstance(entries, list) or not entries:
        raise DataError(path.name, "file", "case", "has no [[case]] entries")
    cases = tuple(_case(Entry(raw, path.name, fields=_FIELDS, kind="case")) for raw in entries)
    for index, case in enumerate(cases):
        if case.id in {one.id for one in cases[:index]}:
            raise DataError(path.name, case.id, "id", "stands twice")
    return cases


def _case(entry: Entry) -> Case:
    category = entry.text("thrown", most=20)
    sold = {card.id: card for card in house_palette().sold_in(category)} if category in CATEGORIES else {}
    card = sold.get(entry.text("card", most=60))
    if card is None:
        raise entry.error("card", f"is no colour of {category}")
    right = entry.words("right", entry.raw.get("right"), ids(Next))
    also = entry.words("also", entry.raw["also"], ids(Next)) if "also" in entry.raw else frozenset()
    return Case(
        entry.text("id", most=40), category, card, entry.text("says", most=300), frozenset(map(Next, right)),
        frozenset(map(Next, also)), entry.text("why", most=400),
    )  # fmt: skip


def house_cases() -> tuple[Case, ...]:
    """The cases that ship."""
    return loaded(load_cases, FOLDER / _FILE)
