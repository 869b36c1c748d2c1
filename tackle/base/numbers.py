"""Numbers as they are typed: one bounded reader for whole ones, one for all others."""

from __future__ import annotations

import math
import re
from typing import Final

__all__ = ["read_number", "read_whole"]

_WHOLE: Final = re.compile(r"[0-9]{1,18}")
_NUMBER: Final = re.compile(r"[+-]?[0-9]{1,12}(?:[.,][0-9]{1,12})?|[+-]?[.,][0-9]{1,12}")


def read_whole(text: object, low: int, high: int) -> int | None:
    """A whole number in ASCII digits from `low` to `high`; None where the text is no such number."""
    if not isinstance(text, str) or not _WHOLE.fullmatch(text.strip()):
        return None
    value = int(text)
    return value if low <= value <= high else None


def read_number(text: object, low: float, high: float) -> float | None:
    """A number with a point or a comma, from `low` to `high`; None where the text is no such number."""
    if not isinstance(text, str) or not _NUMBER.fullmatch(text.strip()):
        return None
    value = float(text.strip().replace(",", "."))
    return value if math.isfinite(value) and low <= value <= high else None
