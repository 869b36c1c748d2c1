"""The conditions of a rule made from one situation: water like this, told as widely as the schools draw lines."""

from __future__ import annotations

from bisect import bisect_right
from typing import Any, Final

from tackle.situations.clarity import HOUSE_LADDER
from tackle.situations.situation import Situation
from tackle.vocabulary import Forage, Stain

__all__ = ["conditions_like"]

# Where the field's own calls turn: under 15 ft depth counts for nothing, 30 ft and more may be dark; the craw follows
# 42, 48 and 56 F, loud begins at 60, sunfish spawn from 70.
_DEPTHS_FT: Final = (15.0, 30.0)
_TEMPERATURES_F: Final = (42.0, 48.0, 56.0, 60.0, 70.0)
# See-through goes on down to two thirds of a water's usual, and what is murkier is "murkier than usual".
_NORM_RATIOS: Final = (2 / 3,)
_WORDS: Final = ("wind", "cover", "pace", "density", "current", "target", "mood")


def conditions_like(situation: Situation) -> dict[str, Any]:
    """A call's `when` from all that a situation tells: its clarity band, its light, and whatever else was said."""
    low, below = HOUSE_LADDER.range_of(HOUSE_LADDER.band_of(situation.visibility_in))
    when: dict[str, Any] = {
        "visibility_in": {name: edge for name, edge in (("from", low), ("below", below)) if edge},
        "light": situation.light.value,
    }
    for name in _WORDS:
        if (word := getattr(situation, name)) is not None:
            when[name] = word.value
    if situation.stain is not Stain.NONE:
        when["stain"] = situation.stain.value
    if situation.phase is not None:
        when["season"] = situation.phase.value
    if situation.forage != (Forage.UNKNOWN,):
        when["forage"] = [food.value for food in situation.forage]
    if situation.with_tone is not None:
        when["with"] = situation.with_tone.value
    if situation.depth_ft is not None:
        when["depth_ft"] = _around(situation.depth_ft, _DEPTHS_FT)
    if situation.water_temp_f is not None:
        when["water_temp_f"] = _around(situation.water_temp_f, _TEMPERATURES_F)
    if situation.norm_in is not None:
        when["norm_ratio"] = _around(situation.visibility_in / situation.norm_in, _NORM_RATIOS)
    return when


def _around(value: float, edges: tuple[float, ...]) -> dict[str, float]:
    """The range between edges that a value lies in, open at the ends."""
    place = bisect_right(edges, value)
    return ({"from": edges[place - 1]} if place else {}) | ({"below": edges[place]} if place < len(edges) else {})
