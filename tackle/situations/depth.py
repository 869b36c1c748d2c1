"""How deep a lure works, by category, where the angler has said only how deep the water is fished."""

from __future__ import annotations

from types import MappingProxyType
from typing import Final

__all__ = ["working_depth_ft"]

# Lures with a depth of their own; all others are fished on the bottom, or at the water's depth.
_OWN_DEPTH_FT: Final = MappingProxyType({
    "walking-topwater": 0.0, "popper": 0.0, "frog": 0.0, "shallow-crankbait": 3.0, "lipless-crankbait": 5.0,
    "jerkbait": 4.0, "swim-jig": 2.0, "bladed-jig": 3.0, "spinnerbait": 3.0, "inline-spinner": 3.0,
    "inshore-jerkshad": 2.0, "inshore-paddletail": 3.0,
})  # fmt: skip


def working_depth_ft(category: str, water_depth_ft: float | None) -> float | None:
    """The depth, in feet, at which a category works in water fished this deep; None where nothing tells it."""
    own = _OWN_DEPTH_FT.get(category)
    if own is None or water_depth_ft is None:
        return water_depth_ft if own is None else own
    return min(own, water_depth_ft)
