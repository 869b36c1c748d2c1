"""A day in a line, as people write it: "1 May", "May 1st", "3/5/2026", "13.5.", "yesterday", "on Saturday"."""

from __future__ import annotations

import re
from datetime import date, datetime, timedelta
from typing import Final

from dateutil.parser import ParserError, parse

from tackle.base.days import FIRST_DAY, LAST_DAY
from tackle.base.errors import InvalidInput
from tackle.base.units import System

__all__ = ["find_day"]

_MONTH: Final = (
    r"(?:jan(?:uary)?|feb(?:ruary)?|mar(?:ch)?|apr(?:il)?|may|june?|july?|aug(?:ust)?|sept?(?:ember)?|oct(?:ober)?"
    r"|nov(?:ember)?|dec(?:ember)?)"
)
_TH: Final = r"(?:st|nd|rd|th)?"
# A fraction of a mile, an inch or an ounce is no day.
_NO_UNIT: Final = r"(?!\s?(?:in|inch|inches|ft|feet|cm|m|km|mi|miles?|oz|lbs?|acres?|\"|')\b)"
_WRITTEN: Final = re.compile(
    rf"""(?P<iso>(?<![\w/.-])\d{{4}}-\d{{1,2}}-\d{{1,2}}(?![\w/-]))
    |(?P<dots>(?<![\w/.-])\d{{1,2}}\.\s?\d{{1,2}}\.(?:\s?\d{{4}}|\d{{2}})?(?!\w))
    |(?P<numbers>(?<![\w/.-])\d{{1,4}}(?P<mark>[/-])\d{{1,2}}(?P=mark)\d{{1,4}}(?![\w/-])|
      (?<![\w/.-])\d{{1,2}}/\d{{1,2}}(?![\w/-]){_NO_UNIT})
    |(?P<named>\b\d{{1,3}}{_TH}\.?\s+(?:of\s+)?{_MONTH}\b\.?(?:,?\s+\d{{4}}\b)?
      |\b{_MONTH}\b\.?\s+\d{{1,3}}{_TH}\b(?!\s?(?:in|ft|cm|m)\b)(?:,?\s+\d{{4}}\b)?)
    |(?P<ago>\b(?:today|(?:the\s+)?day\s+before\s+yesterday|yesterday)\b)
    |(?P<weekday>\b(?:last\s+|on\s+)?(?P<name>mon|tues|wednes|thurs|fri|satur|sun)day\b)""",
    re.IGNORECASE | re.VERBOSE,
)
_WEEKDAYS: Final = ("mon", "tues", "wednes", "thurs", "fri", "satur", "sun")
_LEAP: Final = 8  # years between two 29 February, at the most
_ALLOWED: Final = "a day such as 1 May, May 1, 2026-05-01 or yesterday, and none to come"


def find_day(text: str, today: date, system: System = "imperial") -> tuple[date | None, str]:
    """The day that a line names, and the line without it; None where it names none.

    A day without a year is the last such day. Of 3/5 the month comes first for who reads inches, the day for who reads
    centimetres, unless there is but one way to read it. Raises InvalidInput where what stands there like a day is
    none, or is still to come.
    """
    found = next(_WRITTEN.finditer(text), None)
    if found is None:
        return None, text
    said = found[0].strip()
    day = _day(found, said, today, system)
    if day is None or not FIRST_DAY <= day <= LAST_DAY:
        raise InvalidInput("date", f"“{said[:40]}” is no day", _ALLOWED)
    if day > today:
        raise InvalidInput("date", f"“{said[:40]}” is still to come", _ALLOWED)
    return day, f"{text[: found.start()]} {text[found.end() :]}"


def _day(found: re.Match[str], said: str, today: date, system: System) -> date | None:
    if found["ago"]:
        return today - timedelta(days=0 if said.lower() == "today" else 2 if "before" in said.lower() else 1)
    if found["weekday"]:
        return today - timedelta(days=(today.weekday() - _WEEKDAYS.index(found["name"].lower()) - 1) % 7 + 1)
    with_year = bool(re.search(r"\d{4}", said)) or len(re.findall(r"\d+", said)) == 3
    plain = re.sub(r"\s*\.\s*", "/", said).strip("/") if found["dots"] else said.replace(" of ", " ")
    day_first = bool(found["dots"]) or system == "metric"
    for back in range(1 if with_year else _LEAP + 1):
        try:
            day: date = parse(plain, dayfirst=day_first, default=datetime(today.year - back, 1, 1)).date()
        except (ParserError, OverflowError, ValueError):
            continue
        if with_year or day <= today:
            return day
    return None
