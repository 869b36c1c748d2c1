"""What a record says of one measure: each row used, refused, flagged, doubled, or of something else."""

from __future__ import annotations

import math
import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from functools import cached_property
from typing import Final, NamedTuple

from tackle.base.errors import InvalidInput
from tackle.records.moments import DayOrder, detect_day_order, moment_day, read_moment
from tackle.records.table import RecordTable
from tackle.records.words import RecordWords, heading_words, house_record_words
from tackle.situations.clarity import MAX_VISIBILITY_IN

__all__ = [
    "Measured",
    "Record",
    "RecordRead",
    "RefusedCell",
    "Shape",
    "describe_columns",
    "pairs_in",
    "values_by_day",
]

_NUMBER: Final = re.compile(r"[-+]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][-+]?\d+)?")
_IN_MARKS: Final = re.compile(r"[\[(]([^\])]*)[\])]")
_TEMPERATURES: Final = ("temperature", "air_temperature")
# From above the first to the second is believed, in our units.
_BOUNDS: Final[Mapping[str, tuple[float, float]]] = {
    "secchi": (0.0, MAX_VISIBILITY_IN), "turbidity": (0.0, 20_000.0), "temperature": (25.0, 115.0),
    "air_temperature": (-80.0, 140.0), "cloud": (-1e-9, 1.0 + 1e-9), "radiation": (-50.0, 1_600.0),
    "wind": (-1e-9, 250.0), "rain": (-1e-9, 60.0), "level": (-5_000.0, 30_000.0),
}  # fmt: skip
# What a bare number is, where nothing tells its unit: the first of these.
_USUAL_UNIT: Final[Mapping[str, str]] = {
    "secchi": "m", "turbidity": "ntu", "temperature": "c", "air_temperature": "c", "cloud": "%", "radiation": "w/m2",
    "wind": "m/s", "rain": "mm", "level": "m",
}  # fmt: skip
FIRST_ASKED: Final = ("secchi", "turbidity", "temperature", "cloud", "wind", "rain", "level", "radiation")


@dataclass(frozen=True, slots=True)
class RefusedCell:
    """A cell that cannot be used: its row in the file, its column, what stands there and what may."""

    row: int
    column: str
    wrong: str
    allowed: str


class Measured(NamedTuple):
    """One value: when, where, and how much in our unit (see the data file)."""

    moment: date | datetime
    station: str
    value: float


@dataclass(frozen=True, slots=True)
class Shape:
    """How a table is laid out: `columns` by what they hold, to their places; `values`: in a wide one, the place of each
    measure's values. `flags`: the places of flags, by the place of the value that each is of, -1 for all."""

    layout: str  # long, wide
    columns: Mapping[str, int]
    values: Mapping[str, int]
    flags: Mapping[int, int]
    order: DayOrder


@dataclass(slots=True)
class RecordRead:
    """What was understood of a record; `rows`: of the measure that was asked for."""

    what: str
    unit: str | None
    stations: tuple[str, ...]
    station: str | None
    shape: Shape
    used: list[Measured] = field(default_factory=list)
    refused: list[RefusedCell] = field(default_factory=list)
    other: int = 0
    doubled: int = 0
    flagged: int = 0

    @property
    def rows(self) -> int:
        return len(self.used) + len({cell.row for cell in self.refused}) + self.doubled + self.flagged


def _detect_shape(table: RecordTable) -> Shape:
    """How a table is laid out. Raises InvalidInput where it has no days, or nothing that was measured."""
    known = house_record_words()
    data = [known.column(heading) for heading in table.headings]
    measures = [known.measure(heading) for heading in table.headings]
    columns: dict[str, int] = {}
    for _, place in sorted(((-count, index) for index, (count, name) in enumerate(data) if name)):
        name = data[place][1]
        says_measure = bool(measures[place]) and name not in ("what", "unit", "flag", "station", "date", "time")
        if name not in columns and not says_measure:
            columns[name] = place
    if "date" not in columns and "time" in columns:  # a column called time may hold whole moments
        time = columns["time"]
        sample = [row[time] for _, row in table.rows[:50] if row[time]]
        if sample and all(read_moment(text, detect_day_order(sample)) for text in sample[:5]):
            columns["date"] = columns.pop("time")
    if "date" not in columns and not {"year", "month", "day"} <= set(columns):
        raise InvalidInput(
            "heading", "names no column of days", "a heading like Date, Sample date or Year, Month and Day"
        )
    order = (
        detect_day_order(row[columns["date"]] for _, row in table.rows[:5_000])
        if "date" in columns
        else DayOrder(False)
    )
    flags = {index for index, (_, name) in enumerate(data) if name == "flag"}
    if "what" in columns and "value" in columns:
        every = {-1: min(flags)} if flags else {}
        return Shape("long", columns, {}, every, order)
    values: dict[str, int] = {}
    notes = _told_in_notes(table, known)
    for place, heading in enumerate(table.headings):
        what = measures[place] or notes.get(heading.lower(), "")
        if what and place not in columns.values() and place not in flags and _has_numbers(table, place):
            values.setdefault(what, place)
    if not values and "value" in columns and (what := known.measure(" ".join((*table.headings, *table.notes)))):
        values[what] = columns["value"]
    if not values:
        raise InvalidInput("heading", "names nothing that is measured in water or sky", ", ".join(known.measures))
    return Shape("wide", columns, values, _flags_beside(table, flags, values), order)


def _told_in_notes(table: RecordTable, known: RecordWords) -> dict[str, str]:
    """What headings that are codes stand for, as comment lines above tell: "# 63_01 Turbidity, FNU"."""
    found: dict[str, str] = {}
    for heading in table.headings:
        parts = [heading, *_codes_in(heading)]
        for note in table.notes:
            if any(re.search(rf"(?<!\w){re.escape(part)}(?!\w)", note) for part in parts) and (
                what := known.measure(note)
            ):
                found.setdefault(heading.lower(), what)
    return found


def _codes_in(heading: str) -> list[str]:
    """The numbers in a heading that stand for what is measured."""
    return [part for part in re.split(r"[_\s]", heading) if part.isdigit() and len(part) > 3]


def _has_numbers(table: RecordTable, place: int) -> bool:
    sample = [row[place] for _, row in table.rows[:2_000] if row[place]]
    return not sample or sum(bool(_NUMBER.search(cell)) for cell in sample) >= len(sample) / 2


def _flags_beside(table: RecordTable, flags: set[int], values: Mapping[str, int]) -> dict[int, int]:
    """Which flag is of which value: the one whose heading begins as the value's, else the one right behind it; a
    single one may be of all."""
    found: dict[int, int] = {}
    one_for_all = len(flags) == 1 and len(values) > 1
    for place in values.values():
        mine = [flag for flag in flags if table.headings[flag].lower().startswith(table.headings[place].lower())]
        near = mine or [flag for flag in flags if flag == place + 1 and not one_for_all]
        if near:
            found[place] = near[0]
    rest = flags - set(found.values())
    return found | ({-1: min(rest)} if rest and not found else {})


def describe_columns(table: RecordTable, read: RecordRead) -> dict[str, str]:
    """The headings that a measure was read from, by what they hold: date, station, value, flag and so on."""
    shape = read.shape
    columns = {name: table.headings[place] for name, place in shape.columns.items() if name != "flag"}
    if shape.layout == "wide":
        columns["value"] = table.headings[shape.values[read.what]]
    flag = shape.flags.get(shape.values.get(read.what, -1), shape.flags.get(-1))
    return columns | ({"flag": table.headings[flag]} if flag is not None else {})


class Record:
    """A table as a record: how it is laid out, and what it can be asked for. Raises InvalidInput where it has no days,
    or nothing that was measured."""

    def __init__(self, table: RecordTable) -> None:
        self.table, self.shape = table, _detect_shape(table)
        self.moments: dict[str, date | datetime | None] = {}  # of the texts that were read already

    @cached_property
    def there(self) -> dict[str, int]:
        """What is measured, and how many rows speak of it."""
        rows = self.table.rows
        if self.shape.layout == "wide":
            return {what: sum(bool(row[place]) for _, row in rows) for what, place in self.shape.values.items()}
        counts = Counter(self.named[row[self.shape.columns["what"]]] for _, row in rows)
        return {what: count for what, count in counts.items() if what}

    @cached_property
    def named(self) -> dict[str, str]:
        """What each name in a long table's column of what was measured stands for; empty where it is none of ours."""
        known, place = house_record_words(), self.shape.columns["what"]
        return {name: known.measure(name) for name in dict.fromkeys(row[place] for _, row in self.table.rows)}

    @cached_property
    def stations(self) -> tuple[str, ...]:
        at = self.shape.columns.get("station")
        return tuple(dict.fromkeys(row[at] for _, row in self.table.rows if row[at])) if at is not None else ()

    def read(self, what: str = "", station: str | None = None, today: date | None = None) -> RecordRead:
        """Reads one measure: the one asked for, else the first of ours that it has.

        Raises InvalidInput where it has none, or no such station.
        """
        asked = what or next((one for one in FIRST_ASKED if self.there.get(one)), "")
        if not self.there.get(asked):
            allowed = ", ".join(self.there) or "a measure of ours"
            raise InvalidInput("what", f"{asked or 'nothing of ours'} is not in the record", allowed)
        if station is not None and station not in self.stations:
            allowed = ", ".join(self.stations[:20]) or "no station: it names none"
            raise InvalidInput("station", f"{station!r} is not in the record", allowed)
        one = station or (self.stations[0] if len(self.stations) == 1 else None)
        found = RecordRead(asked, None, self.stations, one, self.shape)
        self._into(found, station, today)
        return found

    def _into(self, found: RecordRead, station: str | None, today: date | None) -> None:
        """Reads all rows into what was understood."""
        values, good = _Values(self.table, self.shape, found.what), house_record_words().good
        seen: set[tuple[object, ...]] = set()
        units: dict[str, int] = {}
        columns, long = self.shape.columns, self.shape.layout == "long"
        for number, row in self.table.rows:
            mine = self.named[row[columns["what"]]] == found.what if long else bool(row[values.value_at])
            place = columns.get("station")
            where = row[place] if place is not None else ""
            if not mine or (station is not None and where != station):
                found.other += 1
                continue
            if values.flag_at is not None and row[values.flag_at].strip().lower() not in good:
                found.flagged += 1
                continue
            moment = self._moment(row, today)
            if moment is None:
                column = columns.get("date", columns.get("day", 0))
                found.refused.append(RefusedCell(number, self.table.headings[column], row[column][:60], "a date"))
                continue
            data = values.read_value(number, row)
            if isinstance(data, RefusedCell):
                found.refused.append(data)
                continue
            value, unit = data
            units[unit] = units.get(unit, 0) + 1
            key = (moment, where, round(value, 6))
            if key in seen:
                found.doubled += 1
                continue
            seen.add(key)
            found.used.append(Measured(moment, where, value))
        found.unit = max(units, key=lambda one: units[one]) if units else None

    def _moment(self, row: Sequence[str], today: date | None) -> date | datetime | None:
        columns = self.shape.columns
        if "date" in columns:
            data, time = row[columns["date"]], row[columns["time"]] if "time" in columns else ""
        else:
            data, time = "-".join(row[columns[name]] for name in ("year", "month", "day")), ""
        text = f"{data}|{time}"
        if text not in self.moments:
            self.moments[text] = read_moment(data, self.shape.order, time)
        moment = self.moments[text]
        return None if moment is None or (today and moment_day(moment) > today) else moment


def pairs_in(table: RecordTable) -> list[tuple[float, float]]:
    """Turbidity (NTU) and visibility (in) of the rows of a wide table that tell both. Raises InvalidInput."""
    known = house_record_words()
    named = {known.measure(heading): place for place, heading in reversed(list(enumerate(table.headings)))}
    if not {"turbidity", "secchi"} <= set(named):
        raise InvalidInput("pairs", "do not name turbidity and visibility", "a column of each, with its unit")
    shape = Shape("wide", {}, named, {}, DayOrder(False))
    turbid, seen = (_Values(table, shape, what) for what in ("turbidity", "secchi"))
    found = []
    for number, row in table.rows:
        one, other = turbid.read_value(number, row), seen.read_value(number, row)
        if not isinstance(one, RefusedCell) and not isinstance(other, RefusedCell):
            found.append((one[0], other[0]))
    return found


class _Values:
    """The values of one measure in the rows of a table, in our unit."""

    def __init__(self, table: RecordTable, shape: Shape, what: str) -> None:
        self.table, self.shape, self.what = table, shape, what
        self.known = house_record_words()
        self.units: dict[str, str] = {}
        self.value_at = shape.values.get(what, shape.columns.get("value", 0))
        self.flag_at = shape.flags.get(self.value_at, shape.flags.get(-1))
        self.column_unit = self._unit_of_heading()

    def _unit_of_heading(self) -> str:
        """The unit that a wide table's heading, or a note above, tells: "Secchi (m)", "turb_FNU"."""
        heading = self.table.headings[self.value_at]
        notes = [note for note in self.table.notes if any(code in note for code in _codes_in(heading))]
        for text in (heading, *notes):
            marked = _IN_MARKS.search(text)
            for data in ([marked[1]] if marked else []) + heading_words(text)[::-1]:
                if unit := self._unit(data):
                    return unit
        return ""

    def _unit(self, text: str) -> str:
        """The unit as we know it; empty where it is none for this measure."""
        plain = text.strip().lower().replace("°", "").replace("²", "2").rstrip(".")
        if self.what in _TEMPERATURES:
            words = plain.replace("deg", "").replace("rees", "").strip()
            return {"c": "c", "celsius": "c", "f": "f", "fahrenheit": "f", "k": "k", "kelvin": "k"}.get(words, "")
        units = self.known.units.get(self.what, {})
        for name in (plain, plain.replace(" ", ""), " ".join(heading_words(plain))):
            if name in units:
                return name
        return ""

    def read_value(self, number: int, row: Sequence[str]) -> tuple[float, str] | RefusedCell:
        """The value in our unit, with the unit that it was told in."""
        heading, text = self.table.headings[self.value_at], row[self.value_at]
        if text.lower() in self.known.missing or not _NUMBER.fullmatch(text.replace(" ", "")):
            return RefusedCell(number, heading, text[:60], "a number")
        amount = float(text.replace(" ", "").replace(",", "."))
        unit = self.column_unit
        if self.shape.layout == "long" and "unit" in self.shape.columns:
            at = self.shape.columns["unit"]
            if row[at] not in self.units:
                self.units[row[at]] = self._unit(row[at])
            unit = self.units[row[at]] if row[at] else unit
            if row[at] and not unit:
                allowed = ", ".join(self.known.units.get(self.what, {"C": 1, "F": 1}))
                return RefusedCell(number, self.table.headings[at], row[at][:60], allowed)
        unit = unit or _USUAL_UNIT[self.what]
        value = self._in_ours(amount, unit)
        low, high = _BOUNDS[self.what]
        if not math.isfinite(value) or not low < value <= high:
            return RefusedCell(number, heading, text[:60], _allowed(self.what))
        return value, unit

    def _in_ours(self, amount: float, unit: str) -> float:
        if self.what in _TEMPERATURES:
            return {"c": amount * 1.8 + 32, "k": (amount - 273.15) * 1.8 + 32}.get(unit, amount)
        return amount * self.known.units[self.what][unit]


def values_by_day(measured: Iterable[Measured]) -> dict[date, list[float]]:
    """The values of each day that has some."""
    days: defaultdict[date, list[float]] = defaultdict(list)
    for one in measured:
        days[moment_day(one.moment)].append(one.value)
    return days


def _allowed(what: str) -> str:
    low, high = _BOUNDS[what]
    unit = {"secchi": " in", "temperature": " F", "air_temperature": " F", "wind": " mph", "rain": " in"}.get(what, "")
    return f"from {'above ' if low == 0 else ''}{low:g} to {high:g}{unit}"
