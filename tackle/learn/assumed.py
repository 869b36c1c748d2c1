"""What is assumed before a log speaks, from the data file."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Final

from tackle.base.vocabulary import Grade, HookUp, Light, ids
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry

__all__ = ["Assumed", "assumed", "load_assumed"]

LEARNING_FILE: Final = FOLDER / "learning.toml"
HOOK_UPS: Final = (*ids(HookUp), "none")

_NUMBERS: Final = ("spread", "departure", "family", "block_hours", "drift_hours", "known")
CLARITIES: Final = ("murky", "middling", "clear")
_FIELDS: Final = (*_NUMBERS, "drift", "drift_before", "hook_up", "book", "cells", "fair_test")


@dataclass(frozen=True, slots=True, eq=False)
class Assumed:
    """Spreads and book's words are logarithms of a factor; see the data file."""

    spread: float
    departure: float
    family: float
    block_hours: float
    drift_hours: float
    known: float
    drift: tuple[float, ...]
    drift_before: tuple[float, ...]
    hook_up: dict[str, float]
    book: dict[str, float]
    murky_below_in: float
    clear_from_in: float
    bright: frozenset[str]
    odds: float
    shape: float
    most_bites: int


def load_assumed(path: Path) -> Assumed:
    """The assumptions in a TOML file. Raises DataError naming file and entry."""
    file = Entry(read_toml(path), path.name, "file", _FIELDS)
    cells, test = (Entry(file.table(name), path.name, name) for name in ("cells", "fair_test"))
    data = Assumed(
        **{name: file.number(name, low=0) for name in _NUMBERS},
        drift=file.numbers("drift", low=0),
        drift_before=file.numbers("drift_before", low=0),
        hook_up=file.weights("hook_up", HOOK_UPS, whole=True),
        book=file.weights("book", (*ids(Grade), "silent"), whole=True),
        murky_below_in=cells.number("murky_below_in", low=0),
        clear_from_in=cells.number("clear_from_in", low=0),
        bright=cells.words("bright", cells.raw.get("bright"), ids(Light)),
        odds=test.number("odds", low=0),
        shape=test.number("shape", low=0),
        most_bites=test.whole("most_bites", 1, 1_000_000),
    )
    if len(data.drift) != len(data.drift_before) or 0.0 not in data.drift:
        raise file.error("drift", "does not fit drift_before, or lacks 0")
    if not 0.5 <= data.known <= 1:
        raise file.error("known", "is not from 0.5 to 1")
    if data.murky_below_in > data.clear_from_in:
        raise cells.error("murky_below_in", "is above clear_from_in")
    return data


def assumed() -> Assumed:
    """The assumptions that ship with the app, loaded once."""
    return loaded(load_assumed, LEARNING_FILE)
