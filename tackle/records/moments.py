"""The days and hours of a record, in whatever way it writes them."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta, timezone, tzinfo
from typing import Final
from zoneinfo import ZoneInfo, available_timezones

from tackle.base.errors import InvalidInput

__all__ = [
    "EPOCHS",
    "DayOrder",
    "Epoch",
    "detect_day_order",
    "find_epoch",
    "moment_day",
    "read_moment",
    "read_zone",
    "read_zone_told",
]

_FIRST, _LAST = 1850, 2199
_MONTHS: Final[Mapping[str, int]] = {
    name: number
    for names in (
        "jan feb mar apr may jun jul aug sep oct nov dec",
        "jan feb mrz apr mai jun jul aug sep okt nov dez",
        "janv fevr mars avri mai juin juil aout sept octo nove dece",
        "ener febr marz abri mayo juni juli agos sept octu novi dici",
        "jan feb maer apr mai jun jul aug sep okt nov dez",
        "ene feb mar abr may jun jul ago sep oct nov dic",
    )
    for number, name in enumerate(names.split(), 1)
}
_ISO: Final = re.compile(r"(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})")
_PLAIN: Final = re.compile(r"(\d{4})(\d{2})(\d{2})(?!\d)")
_PARTS: Final = re.compile(r"(\d{1,2})([-/. ])(\d{1,2})[-/. ](\d{4}|\d{2})(?!\d)")
_NAMED: Final = re.compile(r"(\d{1,2})(?:\.|er)?[-/. ]? ?(?:de )?([a-z]{3,10})\.?(?: de)?[-/. ,]+(\d{4}|\d{2})(?!\d)")
_LEADING: Final = re.compile(r"([a-z]{3,10})\.? (\d{1,2}),? (\d{4})")
_WHOLE: Final = re.compile(r"(?:18[5-9]|19\d|20\d|21\d)\d-\d\d-\d\d[T ]\d\d:\d\d")
_TIME: Final = re.compile(r"(?:^|[T ])(\d{1,2})[:h](\d{2})(?::\d{2}(?:\.\d+)?)?\s*([AaPp]\.?[Mm])?")
_BARE_TIME: Final = re.compile(r"(\d{1,2})(\d{2})")
_OFFSET: Final = re.compile(r"\d[:h]\d{2}(?::\d{2}(?:\.\d+)?)?\s*(Z|UTC|GMT|[+-]\d{2}:?\d{2}|[+-]\d{2}|[A-Z]{3,4})$")
_SIGNED: Final = re.compile(r"(?:UTC|GMT)?([+-]?)(\d{1,2})(?::?(\d{2}))?")
_SINCE: Final = re.compile(r"(days|hours|seconds|minutes)\W+since\W+(\d{4})-(\d{1,2})-(\d{1,2})", re.I)
_STEPS: Final = {"days": 1.0, "hours": 1 / 24, "minutes": 1 / 1440, "seconds": 1 / 86400}
_DIGITS: Final = re.compile(r"\d+(?:\.\d+)?")


@dataclass(frozen=True, slots=True)
class DayOrder:
    """Whether of two numbers before the year the day comes first; `open`: nothing of the column tells."""

    day_first: bool
    open: bool = False


@dataclass(frozen=True, slots=True)
class Epoch:
    """What numbers for days are counted from: `name` as one says it; days of `step` from `start`; `told`: the heading
    says so, or nothing else would be a day of our time."""

    name: str
    start: datetime
    step: float = 1.0
    told: bool = False

    def moment(self, number: float) -> datetime:
        return self.start + timedelta(days=number * self.step)


EPOCHS: Final[Mapping[str, Epoch]] = {
    epoch.name: epoch
    for epoch in (
        Epoch("days since 1899-12-30", datetime(1899, 12, 30)),
        Epoch("days since 1904-01-01", datetime(1904, 1, 1)),
        Epoch("days since 1970-01-01", datetime(1970, 1, 1)),
        Epoch("days since 1950-01-01", datetime(1950, 1, 1)),
        Epoch("days since 1900-01-01", datetime(1900, 1, 1)),
        Epoch("seconds since 1970-01-01", datetime(1970, 1, 1), 1 / 86400),
        Epoch("milliseconds since 1970-01-01", datetime(1970, 1, 1), 1 / 86400_000),
    )
}


def find_epoch(texts: Iterable[str], heading: str) -> Epoch | None:
    """What a column of numbers counts its days from, where it is one; None where it holds days as they are written."""
    sample = [text for text in texts if text]
    if not sample or not all(_DIGITS.fullmatch(text) for text in sample):
        return None
    if said := _SINCE.search(heading):
        start = datetime(int(said[2]), int(said[3]), int(said[4]))
        return Epoch(said[0].lower(), start, _STEPS[said[1].lower()], told=True)
    middle = sorted(float(text) for text in sample)[len(sample) // 2]
    if all(_PLAIN.fullmatch(text) for text in sample) or middle < 3_650:
        return None
    by_size = (
        (20_900, "days since 1970-01-01"), (80_000, "days since 1899-12-30"), (1e8, ""),
        (5e9, "seconds since 1970-01-01"), (5e12, "milliseconds since 1970-01-01"),
    )  # fmt: skip
    name = next((name for most, name in by_size if middle < most), "")
    if not name:
        return None
    epoch = EPOCHS[name]
    return Epoch(epoch.name, epoch.start, epoch.step, told="seconds" in name)


def detect_day_order(texts: Iterable[str]) -> DayOrder:
    """How a column writes its days: by what cannot be a month; dots mean the day first. Where nothing tells, the month
    first, and it is open."""
    dotted, both = False, False
    for text in texts:
        found = _PARTS.match(text.strip())
        if not found or _ISO.match(text.strip()):
            continue
        if int(found[1]) > 12:
            return DayOrder(True)
        if int(found[3]) > 12:
            return DayOrder(False)
        dotted = dotted or found[2] == "."
        both = both or found[1] != found[3]
    return DayOrder(True) if dotted else DayOrder(False, both)


def moment_day(moment: date | datetime) -> date:
    """The day of a moment."""
    return moment.date() if isinstance(moment, datetime) else moment


def read_zone(text: str, codes: Mapping[str, float]) -> tzinfo | None:
    """A zone as it is written: UTC, -5, +05:30, UTC-5, Europe/Paris, a code such as EST. None where it is none."""
    said = text.strip()
    if said.upper() in codes:
        return UTC if codes[said.upper()] == 0 else timezone(timedelta(hours=codes[said.upper()]))
    if found := _SIGNED.fullmatch(said.replace("−", "-")):
        minutes = int(found[2]) * 60 + int(found[3] or 0)
        return timezone(timedelta(minutes=-minutes if found[1] == "-" else minutes)) if minutes <= 840 else None
    return ZoneInfo(said) if said in available_timezones() else None


def read_zone_told(text: str, codes: Mapping[str, float]) -> tzinfo | None:
    """The zone of a call's `--zone`, None for solar time. Raises InvalidInput."""
    zone = None if text.strip().lower() == "solar" else read_zone(text, codes)
    if zone is None and text.strip().lower() != "solar":
        allowed = "UTC, solar, hours such as -5, or a name such as Europe/Paris"
        raise InvalidInput("zone", f"{text[:40]!r} is none", allowed)
    return zone


def read_moment(
    text: str, order: DayOrder, time: str = "", codes: Mapping[str, float] | None = None
) -> datetime | date | None:
    """A moment, or a day where no hour is told; None where it is neither. It has a zone where one is written."""
    data = text.strip()
    if codes is not None and _WHOLE.match(data):
        try:
            whole = datetime.fromisoformat(data)
            return whole.replace(second=0, microsecond=0) if whole.second or whole.microsecond else whole
        except ValueError:
            pass
    day = _day(data, order)
    if day is None:
        return None
    said = data if _TIME.search(data) else time.strip()
    at = _TIME.search(said)
    if at is None:
        bare = _BARE_TIME.fullmatch(said) if said is not data else None
        return day if bare is None else _at(day, int(bare[1]), int(bare[2]), None)
    hour = int(at[1]) % 12 + (12 if at[3][0].lower() == "p" else 0) if at[3] else int(at[1])
    offset = _OFFSET.search(said) if codes is not None else None
    return _at(day, hour, int(at[2]), read_zone(offset[1], codes) if offset and codes is not None else None)


def _at(day: date, hour: int, minute: int, zone: tzinfo | None) -> datetime | None:
    try:
        if hour == 24 and minute == 0:
            return datetime(day.year, day.month, day.day, tzinfo=zone) + timedelta(days=1)
        return datetime(day.year, day.month, day.day, hour, minute, tzinfo=zone)
    except ValueError:
        return None


def _plain(text: str) -> str:
    return "".join(one for one in unicodedata.normalize("NFKD", text.lower()) if not unicodedata.combining(one))


def _month(name: str) -> int:
    """The number of a month by its name in one of four languages; 0 where it is none."""
    return _MONTHS.get(name[:4]) or _MONTHS.get(name[:3]) or 0


def _day(text: str, order: DayOrder) -> date | None:
    if found := _ISO.match(text) or _PLAIN.match(text):
        parts = int(found[1]), int(found[2]), int(found[3])
    elif found := _PARTS.match(text):
        first, second = int(found[1]), int(found[3])
        parts = (_year(found[4]), second, first) if order.day_first else (_year(found[4]), first, second)
    else:
        plain = _plain(text)
        if (found := _NAMED.match(plain)) and _month(found[2]):
            parts = _year(found[3]), _month(found[2]), int(found[1])
        elif (found := _LEADING.match(plain)) and _month(found[1]):
            parts = int(found[3]), _month(found[1]), int(found[2])
        else:
            return None
    try:
        return date(*parts) if _FIRST <= parts[0] <= _LAST else None
    except ValueError:
        return None


def _year(text: str) -> int:
    return int(text) if len(text) == 4 else 2000 + int(text) if int(text) < 70 else 1900 + int(text)
