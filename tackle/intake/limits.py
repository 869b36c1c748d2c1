"""How big, heavy and deep a lure of each category can be, from the data file."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any, Final

from tackle.data import FOLDER, read_toml
from tackle.errors import DataError
from tackle.vocabulary import CATEGORIES

__all__ = ["MOST_COUNT", "Limits", "Span", "limits_of", "load_limits"]

MOST_COUNT: Final = 999
LIMITS_FILE: Final = FOLDER / "limits.toml"
Span = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Limits:
    """The least and the most: `size` and `usual` in inches, `weight` in ounces, `depth` in feet; None: has none.

    `count`: the most of one kind that a typed line takes unasked.
    """

    size: Span
    count: int
    usual: Span | None = None
    weight: Span | None = None
    depth: Span | None = None


def load_limits(path: Path) -> Mapping[str, Limits]:
    """The limits of every category in a TOML file. Raises DataError naming file, entry and field."""
    raw = read_toml(path)
    if tuple(raw) != tuple(CATEGORIES):
        raise DataError(path.name, "file", "entries", "are not the categories, in their order")
    return {category: _limits(path, category, told) for category, told in raw.items()}


def _limits(path: Path, category: str, told: Any) -> Limits:
    spans: dict[str, Span] = {}
    for field in ("size", "usual", "weight", "depth"):
        span = told.get(field)
        if span is None:
            continue
        numbers = isinstance(span, list) and len(span) == 2 and all(type(end) in (int, float) for end in span)
        if not numbers or not 0 <= span[0] < span[1]:
            raise DataError(path.name, category, field, "is not a least and a most")
        spans[field] = (float(span[0]), float(span[1]))
    count = told.get("count")
    if type(count) is not int or not 1 <= count <= MOST_COUNT or "size" not in spans:
        raise DataError(path.name, category, "count", "or size is missing or out of bounds")
    return Limits(count=count, **spans)


@cache
def house_limits() -> Mapping[str, Limits]:
    """The limits that ship with the app, loaded once."""
    return load_limits(LIMITS_FILE)


def limits_of(categories: Sequence[str]) -> Limits:
    """What any of some categories allows; of all, where none is told."""
    all_of = [house_limits()[category] for category in categories or CATEGORIES]
    return Limits(
        _widest([one.size for one in all_of]) or (0.0, 0.0),
        max(one.count for one in all_of),
        _widest([one.usual for one in all_of]),
        _widest([one.weight for one in all_of]),
        _widest([one.depth for one in all_of]),
    )


def _widest(spans: Sequence[Span | None]) -> Span | None:
    told = [span for span in spans if span]
    return (min(span[0] for span in told), max(span[1] for span in told)) if told else None
