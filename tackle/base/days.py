"""Days of the calendar as they come in from outside: one reader, bounded, so that nothing breaks on year 1."""

from __future__ import annotations

import re
from datetime import date
from typing import Final

from tackle.base.errors import InvalidInput

__all__ = ["FIRST_DAY", "LAST_DAY", "read_day"]

FIRST_DAY: Final = date(1900, 1, 1)
LAST_DAY: Final = date(2199, 12, 31)
_DAY: Final = re.compile(r"[0-9]{4}-[0-9]{2}-[0-9]{2}")


def read_day(text: object, field: str = "date") -> date:
    """A day told as 2026-05-04, from 1900 to 2199. Raises InvalidInput."""
    try:
        if not isinstance(text, str) or not _DAY.fullmatch(text.strip()):
            raise ValueError
        day = date.fromisoformat(text.strip())
        if not FIRST_DAY <= day <= LAST_DAY:
            raise ValueError
    except ValueError as error:
        raise InvalidInput(
            field,
            f"{str(text)[:20]!r} is not a day",
            f"a day like 2026-05-04, from {FIRST_DAY.year} to {LAST_DAY.year}",
        ) from error
    return day
