"""What a record leaves open, what was taken meanwhile, and what was settled."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from math import inf
from typing import Final

from tackle.base.errors import InvalidInput
from tackle.base.units import M_PER_FT
from tackle.records.moments import EPOCHS, read_zone_told
from tackle.records.words import house_record_words

__all__ = ["OF_FILE", "OF_MEASURE", "SURFACE_M", "Question", "Settled", "settle"]

SURFACE_M: Final = 1.0  # the uppermost metre
_DEPTH: Final = re.compile(r"(\d{1,4}(?:\.\d+)?) ?(?:m|(ft))?")
OF_MEASURE: Final = ("unit", "statistic", "censored", "sign", "meaning")
OF_FILE: Final = ("day_order", "zone", "depth", "station", "kind_of_day")


@dataclass(frozen=True, slots=True)
class Question:
    """What a record leaves open: of which column, what was taken, what else it may be, why it is asked, and how many
    rows hang on it. `what`: the measure it is asked for."""

    field: str
    column: str
    taken: str
    others: tuple[str, ...]
    why: str
    rows: int
    what: str
    is_column: bool = False

    @property
    def key(self) -> str:
        """By what it is settled; which of several columns it is, by naming that column."""
        if self.is_column:
            return f"column:{self.what}"
        return f"{self.field}:{self.what}" if self.field in OF_MEASURE else self.field


@dataclass(frozen=True, slots=True)
class Settled:
    """What a person settled. `by_measure`: by field and measure, for what is of a measure's own column (unit, column,
    meaning, sign, statistic, censored); the rest is of the whole file. `depth_to_m`: None where it was not settled;
    below 0: no bound."""

    by_measure: Mapping[tuple[str, str], str] = field(default_factory=dict)
    day_order: str = ""  # dmy, mdy
    zone: str = ""  # as `read_zone` reads it, or solar
    depth_to_m: float | None = None
    epoch: str = ""

    @property
    def columns(self) -> dict[str, str]:
        """The headings that were settled, by what they hold: a column or a measure."""
        return {what: value for (name, what), value in self.by_measure.items() if name == "column"}

    def of(self, name: str, what: str) -> str:
        """What was settled of a field for a measure; empty where nothing was."""
        return self.by_measure.get((name, what), "")


def settle(given: Mapping[str, str]) -> Settled:
    """What was settled, from words: "unit:secchi" to "ft", "day_order" to "dmy", "depth" to "surface", "all", "3" or
    "10 ft". Raises InvalidInput with the field."""
    by_measure: dict[tuple[str, str], str] = {}
    for key, value in given.items():
        name, _, what = key.partition(":")
        if name not in (*OF_MEASURE, "column") if what else name not in OF_FILE:
            raise InvalidInput("settled", f"{key[:40]!r} is nothing to settle", (*OF_MEASURE, "column", *OF_FILE))
        if what and value:
            by_measure[name, what] = value
    order, epoch = given.get("day_order", ""), given.get("kind_of_day", "")
    return Settled(
        by_measure,
        order and one_of("day order", order, ("dmy", "mdy")),
        _checked_zone(given.get("zone", "")),
        read_depth_m(given["depth"]) if given.get("depth") else None,
        epoch and one_of("kind of day", epoch, EPOCHS),
    )


def read_depth_m(text: str) -> float:
    """Down to what depth values count, in metres: surface, all, metres, or feet with their unit. Raises
    InvalidInput."""
    said = text.strip().lower()
    if said in ("surface", "all", "all depths"):
        return SURFACE_M if said == "surface" else inf
    found = _DEPTH.fullmatch(said)
    if found is None:
        raise InvalidInput("depth", f"{text[:40]!r} is none", "surface, all, or metres such as 3, or 10 ft")
    return float(found[1]) * (M_PER_FT if found[2] else 1.0)


def _checked_zone(text: str) -> str:
    if text:
        read_zone_told(text, house_record_words().zones)
    return text


def one_of(name: str, given: str, allowed: Mapping[str, object] | tuple[str, ...]) -> str:
    """What was settled, where it is one of those allowed. Raises InvalidInput."""
    if given not in allowed:
        raise InvalidInput(name, f"{given[:40]!r} is none", tuple(allowed))
    return given
