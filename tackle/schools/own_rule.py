"""The conditions of a rule made from one situation: water like this, told as widely as the schools draw lines."""

from __future__ import annotations

from bisect import bisect_right
from typing import Any

from tackle.situations.clarity import HOUSE_LADDER
from tackle.situations.conditions import CONDITIONS, DERIVED
from tackle.situations.situation import Situation

__all__ = ["conditions_like"]


def conditions_like(situation: Situation) -> dict[str, Any]:
    """A call's `when` from all that a situation tells: its clarity band, its light, and whatever else was said."""
    low, below = HOUSE_LADDER.band_range(HOUSE_LADDER.band_at(situation.visibility_in))
    when: dict[str, Any] = {"visibility_in": {name: edge for name, edge in (("from", low), ("below", below)) if edge}}
    for name, row in CONDITIONS.items():
        data = getattr(situation, row.column if row.words and row.column else row.field)
        if data is None or data == row.unsaid:
            continue
        if row.several:
            when[name] = [one.value for one in data]
        elif row.words:
            when[name] = data.value
        elif row.edges:
            when[name] = _around(data, row.edges)
    if situation.norm_in is not None:
        when["norm_ratio"] = _around(situation.visibility_in / situation.norm_in, DERIVED["norm_ratio"])
    return when


def _around(value: float, edges: tuple[float, ...]) -> dict[str, float]:
    """The range between edges that a value lies in, open at the ends."""
    place = bisect_right(edges, value)
    return ({"from": edges[place - 1]} if place else {}) | ({"below": edges[place]} if place < len(edges) else {})
