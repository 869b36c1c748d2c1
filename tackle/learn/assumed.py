"""What is assumed before a log speaks, from the data file."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Final

from tackle.data import FOLDER, read_toml
from tackle.errors import DataError
from tackle.vocabulary import Grade, HookUp, Light, ids

__all__ = ["Assumed", "assumed", "load_assumed"]

LEARNING_FILE: Final = FOLDER / "learning.toml"
HOOK_UPS: Final = (*ids(HookUp), "none")


@dataclass(frozen=True, slots=True, eq=False)
class Assumed:
    """Spreads and book's words are logarithms of a factor; see the data file."""

    spread: float
    departure: float
    family: float
    block_hours: float
    drift_hours: float
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
    raw = read_toml(path)
    try:
        told = Assumed(
            spread=float(raw["spread"]), departure=float(raw["departure"]), family=float(raw["family"]),
            block_hours=float(raw["block_hours"]), drift_hours=float(raw["drift_hours"]),
            drift=tuple(map(float, raw["drift"])),
            drift_before=tuple(map(float, raw["drift_before"])), hook_up={**raw["hook_up"]}, book={**raw["book"]},
            murky_below_in=float(raw["cells"]["murky_below_in"]), clear_from_in=float(raw["cells"]["clear_from_in"]),
            bright=frozenset(raw["cells"]["bright"]), odds=float(raw["fair_test"]["odds"]),
            shape=float(raw["fair_test"]["shape"]), most_bites=int(raw["fair_test"]["most_bites"]),
        )  # fmt: skip
    except (KeyError, TypeError, ValueError) as error:
        raise DataError(path.name, "file", "entries", f"lack or misspell {error}") from error
    for name, words, allowed in (("hook_up", told.hook_up, HOOK_UPS), ("book", told.book, (*ids(Grade), "silent"))):
        if {*words} != {*allowed}:
            raise DataError(path.name, name, "entries", f"are not {', '.join(allowed)}")
    if not told.bright <= {*ids(Light)} or len(told.drift) != len(told.drift_before) or 0.0 not in told.drift:
        raise DataError(path.name, "cells", "bright or drift", "do not fit")
    return told


@cache
def assumed() -> Assumed:
    """The assumptions that ship with the app, loaded once."""
    return load_assumed(LEARNING_FILE)
