"""The days and hours of a record, in whatever way it writes them."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime
from typing import Final

__all__ = ["DayOrder", "moment_day", "detect_day_order", "read_moment"]

_FIRST, _LAST = 1850, 2199
_MONTHS: Final = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_ISO: Final = re.compile(r"(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})")
_PLAIN: Final = re.compile(r"(\d{4})(\d{2})(\d{2})(?!\d)")
_PARTS: Final = re.compile(r"(\d{1,2})[-/. ](\d{1,2})[-/. ](\d{4}|\d{2})(?!\d)")
_NAMED: Final = re.compile(r"(\d{1,2})[-/. ]([A-Za-z]{3})[a-z]*[-/. ,]+(\d{4}|\d{2})(?!\d)")
_LEADING: Final = re.compile(r"([A-Za-z]{3})[a-z]*\.? (\d{1,2}),? (\d{4})")
_TIME: Final = re.compile(r"(?:^|[T ])(\d{1,2}):(\d{2})(?::\d{2}(?:\.\d+)?)?\s*([AaPp][Mm])?")


@dataclass(frozen=True, slots=True)
class DayOrder:
    """Whether of two numbers before the year the day comes first."""

    day_first: bool


def detect_day_order(texts: Iterable[str]) -> DayOrder:
    """How a column writes its days: by what cannot be a month; dots mean the day first, else the month."""
    dotted = False
    for text in texts:
        found = _PARTS.match(text.strip())
        if not found or _ISO.match(text.strip()):
            continue
        if int(found[1]) > 12:
            return DayOrder(True)
        if int(found[2]) > 12:
            return DayOrder(False)
        dotted = dotted or "." in text.split()[0]
    return DayOrder(dotted)


def moment_day(moment: date | datetime) -> date:
    """The day of a moment."""
    return moment.date() if isinstance(moment, datetime) else moment


def read_moment(text: str, order: DayOrder, time: str = "") -> datetime | date | None:
    """A moment, or a day where no hour is told; None where it is neither."""
    data = text.strip()
    day = _day(data, order)
    if day is None:
        return None
    at = _TIME.search(data) or _TIME.search(time.strip())
    if at is None:
        return day
    hour = int(at[1]) % 12 + (12 if at[3].lower() == "pm" else 0) if at[3] else int(at[1])
    try:
        return datetime(day.year, day.month, day.day, hour, int(at[2]))
    except ValueError:
        return None


def _day(text: str, order: DayOrder) -> date | None:
    if found := _ISO.match(text) or _PLAIN.match(text):
        parts = int(found[1]), int(found[2]), int(found[3])
    elif (found := _NAMED.match(text)) and found[2].lower() in _MONTHS:
        parts = _year(found[3]), _MONTHS.index(found[2].lower()) + 1, int(found[1])
    elif (found := _LEADING.match(text)) and found[1].lower() in _MONTHS:
        parts = int(found[3]), _MONTHS.index(found[1].lower()) + 1, int(found[2])
    elif found := _PARTS.match(text):
        first, second = int(found[1]), int(found[2])
        parts = (_year(found[3]), second, first) if order.day_first else (_year(found[3]), first, second)
    else:
        return None
    try:
        return date(*parts) if _FIRST <= parts[0] <= _LAST else None
    except ValueError:
        return None


def _year(text: str) -> int:
    return int(text) if len(text) == 4 else 2000 + int(text) if int(text) < 70 else 1900 + int(text)
