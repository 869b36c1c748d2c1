"""How deep a lure works, by category, where the angler has said only how deep the water is fished."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Final

from tackle.base.vocabulary import CATEGORIES
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry

__all__ = ["load_depths", "on_top", "own_depth_ft", "working_depth_ft"]

_THERE: Final = "there"


def own_depth_ft(category: str) -> float | None:
    """The depth, in feet, at which a category works wherever it is deep enough; None where it goes to the bottom."""
    return _depths()[category]


def working_depth_ft(category: str, water_depth_ft: float | None) -> float | None:
    """The depth, in feet, at which a category works in water fished this deep; None where nothing tells it."""
    own = _depths()[category]
    if own is None or water_depth_ft is None:
        return water_depth_ft if own is None else own
    return min(own, water_depth_ft)


def on_top(category: str) -> bool:
    """Whether a category is fished on the surface, and seen from below."""
    return _depths()[category] == 0


def load_depths(path: Path) -> Mapping[str, float | None]:
    """The depth of each category's own, None where it has none, in a TOML file. Raises DataError where one is left
    out."""
    file = Entry(read_toml(path), path.name, "file")
    return {category: _depth(Entry(file.table(category), path.name, category)) for category in CATEGORIES}


def _depth(entry: Entry) -> float | None:
    return None if entry.raw.get("works_ft") == _THERE else entry.number("works_ft", 0, 100)


def _depths() -> Mapping[str, float | None]:
    return loaded(load_depths, FOLDER / "limits.toml")
