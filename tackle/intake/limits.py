"""How big, heavy and deep a lure of each category can be, from the data file."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from tackle.base.errors import DataError
from tackle.base.vocabulary import CATEGORIES
from tackle.data import FOLDER, loaded, read_toml
from tackle.data.entry import Entry

__all__ = ["MOST_COUNT", "Limits", "Span", "combined_limits", "load_limits"]

MOST_COUNT: Final = 999
_SPANS: Final = ("size", "usual", "weight", "depth")
GROWS: Final = 2.6  # the power of length with which weight goes, where a category tells no other
_FIELDS: Final = (
    "count",
    "typical",
    "grows",
    *_SPANS,
    "works_ft",
    "thrown_from_f",
    "thrown_until_in",
    "even_with",
    "best",
)
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
    typical: Span = (0.0, 0.0)
    grows: float = GROWS

    def about_oz(self, size_in: float | None) -> float:
        """What one weighs, about: a usual one, or as its length has it. Longer ones are a little thinner for their
        length, so weight grows with less than its cube."""
        length, ounces = self.typical
        return ounces * (size_in / length) ** self.grows if size_in and length else ounces


def load_limits(path: Path) -> Mapping[str, Limits]:
    """The limits of every category in a TOML file. Raises DataError naming file, entry and field."""
    raw = read_toml(path)
    if tuple(raw) != tuple(CATEGORIES):
        raise DataError(path.name, "file", "entries", "are not the categories, in their order")
    return {category: _limits(Entry(data, path.name, category, _FIELDS, "category")) for category, data in raw.items()}


def _limits(entry: Entry) -> Limits:
    spans: dict[str, Span] = {}
    for field in _SPANS:
        if field in entry.raw:
            least, most = entry.numbers(field, 2, low=0.0)
            if least >= most:
                raise entry.error(field, "is not a least and a most")
            spans[field] = (least, most)
    if "size" not in spans:
        raise entry.error("size", "is missing")
    length, ounces = entry.numbers("typical", 2, low=0.0)
    grows = entry.number("grows", 1, 3) if "grows" in entry.raw else GROWS
    return Limits(count=entry.whole("count", 1, MOST_COUNT), typical=(length, ounces), grows=grows, **spans)


def house_limits() -> Mapping[str, Limits]:
    """The limits that ship with the app, loaded once."""
    return loaded(load_limits, LIMITS_FILE)


def combined_limits(categories: Sequence[str]) -> Limits:
    """What any of some categories allows; of all, where none is told. Of several nothing is typical."""
    if len(categories) == 1:
        return house_limits()[categories[0]]
    all_of = [house_limits()[category] for category in categories or CATEGORIES]
    return Limits(
        _widest([one.size for one in all_of]) or (0.0, 0.0),
        max(one.count for one in all_of),
        _widest([one.usual for one in all_of]),
        _widest([one.weight for one in all_of]),
        _widest([one.depth for one in all_of]),
    )


def _widest(spans: Sequence[Span | None]) -> Span | None:
    data = [span for span in spans if span]
    return (min(span[0] for span in data), max(span[1] for span in data)) if data else None
