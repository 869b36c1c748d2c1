"""The numbers of a column of cells: how it writes thousands and decimals, what bounds and what stands for nothing."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Collection, Iterable
from dataclasses import dataclass
from typing import Final, NamedTuple

import numpy as np

__all__ = ["AT_LEAST", "AT_MOST", "Amount", "NumberStyle", "detect_style", "stands_for_nothing"]

AT_LEAST: Final = "at least"
AT_MOST: Final = "at most"
_SIGNS: Final = {">": AT_LEAST, ">=": AT_LEAST, "≥": AT_LEAST, "<": AT_MOST, "<=": AT_MOST, "≤": AT_MOST}
_CELL: Final = re.compile(r"([<>]=?|[≤≥])?\s*([-+−]?(?:\d[\d,. '\u00a0\u202f]*|[.,]\d+)(?:[eE][-+]?\d+)?)\s*(\+)?")
_THOUSANDS: Final = re.compile(r"[-+]?\d{1,3}(?:,\d{3})+(?:\.\d+)?")
_FAR: Final = 5.0  # times as far from the middle as the furthest tenth is: there a number may stand for nothing
_MOST_LIKELY: Final = 3  # times it repeats, at least


class Amount(NamedTuple):
    """A number, and whether it is a bound: `AT_LEAST`, `AT_MOST`, empty where it is the value."""

    value: float
    bound: str = ""


@dataclass(frozen=True, slots=True)
class NumberStyle:
    """Whether commas part thousands; else they begin the decimals."""

    thousands: bool

    def read(self, text: str) -> Amount | None:
        """The number of a cell; None where it is none."""
        try:
            return Amount(float(text)) if text[:1] not in "nNiI" else None
        except ValueError:
            pass
        found = _CELL.fullmatch(text)
        if found is None:
            return None
        bound = _SIGNS[found[1]] if found[1] else AT_LEAST if found[3] else ""
        plain = re.sub(r"[ '\u00a0\u202f]", "", found[2]).replace("−", "-")
        if self.thousands:
            plain = plain.replace(",", "")
        elif plain.count(",") == 1 and "." in plain:
            plain = plain.replace(",", "") if plain.index(",") < plain.index(".") else _continental(plain)
        try:
            return Amount(float(plain.replace(",", ".")), bound)
        except ValueError:
            return None


def _continental(plain: str) -> str:
    return plain.replace(".", "").replace(",", ".")


def detect_style(cells: Iterable[str], mark: str) -> NumberStyle:
    """How a column writes its numbers, in a file whose cells a mark parts: a comma before three digits parts thousands
    where a point begins decimals elsewhere, or where all commas stand so and commas part the cells, too."""
    some = [text for text in cells if text]
    commas = [text for text in some if "," in text]
    if not commas:
        return NumberStyle(False)
    every = all(_THOUSANDS.fullmatch(text.strip("<> ")) for text in commas)
    points = any("." in text for text in some)
    return NumberStyle(every and (points or mark == "," or any(text.count(",") > 1 for text in commas)))


def stands_for_nothing(values: Collection[float], candidates: Collection[float]) -> frozenset[float]:
    """Which of some numbers stand for no value: they repeat, and stand far off the rest."""
    counts = Counter(values)
    there = [one for one in candidates if counts[one] >= _MOST_LIKELY or (one <= -90 and counts[one])]
    if not there:
        return frozenset()
    rest = np.array([one for one in values if one not in there])
    if not len(rest):
        return frozenset(there)
    middle = float(np.median(rest))
    reach = float(np.percentile(np.abs(rest - middle), 90)) or abs(middle) or 1.0
    return frozenset(one for one in there if abs(one - middle) > _FAR * reach)
