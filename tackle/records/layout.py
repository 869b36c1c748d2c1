"""How a record's table is laid out: which column holds days, which what was measured, and what goes with it."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from tackle.base.errors import InvalidInput
from tackle.records.moments import DayOrder, Epoch, detect_day_order, find_epoch, read_moment
from tackle.records.table import RecordTable
from tackle.records.words import RecordWords, heading_words, house_record_words

__all__ = ["STATISTICS", "Layout", "codes_in", "describe_columns", "detect_layout", "flag_is_bad", "preference"]

_NUMBER: Final = re.compile(r"[<>≤≥]?=?\s*[-+−]?(?:\d+(?:[.,]\d*)?|[.,]\d+)")
_DEPTH_IN: Final = re.compile(r"(?<![\d.])(\d+(?:\.\d+)?)\s?(?:m|ft)\b", re.I)
_DEEP, _UPPER = {"bottom", "deep", "hypolimnion", "lower"}, {"surface", "upper", "top", "epilimnion"}
STATISTICS: Final = ("median", "mean", "", "maximum", "minimum")
_SEPARATED: Final = re.compile(r"[-/. ]")
_SAY_QUALITY: Final = {
    "quality",
    "qc",
    "qa",
    "flag",
    "validation",
    "status",
    "qualifier",
    "qualifiers",
    "q",
    "qualitat",
}
_NO_FLAG: Final = {"agency", "country", "state", "county", "zone", "tz"}  # codes that say nothing of values
_ORDINARY: Final = 0.9  # a flag that so many of all rows have is no word against them
_MOST_LOOKED_AT: Final = 5_000
_MOST_NAMES: Final = 40
_NO_MEASURE: Final = ("what", "unit", "flag", "station", "date", "time", "zone", "kind", "bottom", "statistic")


@dataclass(frozen=True, slots=True)
class Layout:
    """`columns` by what they hold, to their places; `values`: in a wide table, the places of each measure's values, the
    preferred first. `flags`: the places of flags, by the place of the value that they are of, -1 for all. `unnamed`:
    the place of values that nothing names, -1 where there are none such. `days`: where no heading names the days, the
    places of all columns that hold some, the one taken first."""

    layout: str  # long, wide
    columns: Mapping[str, int]
    values: Mapping[str, Sequence[int]]
    flags: Mapping[int, Sequence[int]]
    order: DayOrder
    epoch: Epoch | None = None
    unnamed: int = -1
    days: Sequence[int] = ()

    def flags_of(self, place: int) -> list[int]:
        """The places of the flags that are of a value: its own, and those of all."""
        return [*self.flags.get(place, ()), *self.flags.get(-1, ())]


def detect_layout(table: RecordTable, settled: Mapping[str, str] | None = None) -> Layout:
    """How a table is laid out; `settled`: headings by what a person said they hold, a column or a measure. Raises
    InvalidInput where it has no days, or nothing that was measured, or no such heading."""
    known = house_record_words()
    measures = [known.measure(heading) for heading in table.headings]
    named = [known.column(heading) for heading in table.headings]
    columns = _columns(table, known, measures, named)
    places = {name: _place(table, heading) for name, heading in (settled or {}).items()}
    columns |= {name: place for name, place in places.items() if name in known.columns}
    days: list[int] = []
    if "date" not in columns and not {"year", "month", "day"} <= set(columns):
        days = [place for place in range(len(table.headings)) if _holds_days(table, place)]
        if not days:
            raise InvalidInput(
                "heading", "names no column of days", "a heading like Date, Sample date or Year, Month and Day"
            )
        columns = {name: place for name, place in columns.items() if place != days[0]} | {"date": days[0]}
    order, epoch = DayOrder(False), None
    if "date" in columns:
        texts = [row[columns["date"]] for _, row in table.rows[:_MOST_LOOKED_AT]]
        heading = f"{table.headings[columns['date']]} {table.units[columns['date']]}"
        order, epoch = detect_day_order(texts), find_epoch(texts, heading)
    flags = [
        place for place, (_, name) in enumerate(named)
        if name == "flag" and not set(heading_words(table.headings[place])) & _NO_FLAG
    ]  # fmt: skip
    if "value" in columns and "what" not in columns and (place := _names_measures(table, columns, known)) is not None:
        columns["what"] = place
    if "what" in columns and "value" in columns:
        return Layout("long", columns, {}, {-1: flags} if flags else {}, order, epoch, days=days)
    values: dict[str, list[int]] = {}
    notes = _told_in_notes(table, known)
    for place, heading in enumerate(table.headings):
        what = measures[place] or notes.get(heading.lower(), "")
        if what and place not in columns.values() and place not in flags and _is_measured(table, place, what, known):
            values.setdefault(what, []).append(place)
    for name, place in places.items():
        if name in known.measures:
            values[name] = [place, *(one for one in values.get(name, ()) if one != place)]
    unnamed = columns.get("value", -1)
    if not values and (what := known.measure(" ".join((*table.headings, *table.notes)))):
        place = columns.get("value", columns.get("depth", -1) if what == "secchi" else -1)
        if place >= 0:
            values[what] = [place]
    if not values and unnamed < 0:
        raise InvalidInput("heading", "names nothing that is measured in water or sky", ", ".join(known.measures))
    for what, there in values.items():
        if what not in places:
            values[what] = sorted(there, key=lambda place: preference(table.headings[place], known))
    every = [place for there in values.values() for place in there]
    beside = _flags_beside(table, flags, every)
    return Layout("wide", columns, values, beside, order, epoch, -1 if values else unnamed, days)


def _columns(
    table: RecordTable, known: RecordWords, measures: Sequence[str], named: Sequence[tuple[int, str]]
) -> dict[str, int]:
    """The places of columns, by what they hold: of several the one with most words to say so, and of days the one on
    which it was done before that on which it was written down."""
    columns: dict[str, int] = {}
    entries = {"date", "time"}
    candidates = [(_is_entry(table.headings[place], known) and name in entries, -count, place)
                  for place, (count, name) in enumerate(named) if name]  # fmt: skip
    for _, _, place in sorted(candidates):
        name = named[place][1]
        says_measure = bool(measures[place]) and name not in _NO_MEASURE
        of_sample = name != "depth" or not set(heading_words(table.headings[place])) & known.lists["no_depth"]
        written_down = name == "time" and _is_entry(table.headings[place], known)
        if name not in columns and not says_measure and of_sample and not written_down:
            columns[name] = place
    if "date" not in columns and "time" in columns:  # a column called time may hold whole moments
        time = columns["time"]
        sample = [row[time] for _, row in table.rows[:50] if row[time]]
        whole = sample and all(read_moment(text, detect_day_order(sample)) for text in sample[:5])
        if whole or find_epoch(sample, f"{table.headings[time]} {table.units[time]}"):
            columns["date"] = columns.pop("time")
    return columns


def _holds_days(table: RecordTable, place: int) -> bool:
    """Whether the cells of a column are days, whatever its heading says."""
    sample = [row[place] for _, row in table.rows[:_MOST_LOOKED_AT] if row[place]]
    order = detect_day_order(sample)
    days = sum(len(_SEPARATED.findall(text)) > 1 and read_moment(text, order) is not None for text in sample)
    return bool(sample) and days >= _ORDINARY * len(sample)


def _place(table: RecordTable, heading: str) -> int:
    if heading not in table.headings:
        raise InvalidInput("column", f"{heading[:60]!r} is not in the record", table.headings[:40])
    return table.headings.index(heading)


def _names_measures(table: RecordTable, columns: Mapping[str, int], known: RecordWords) -> int | None:
    """The place of a column of few words that name what was measured, where no heading says so."""
    for place in range(len(table.headings)):
        if place not in columns.values():
            names = {row[place] for _, row in table.rows[:_MOST_LOOKED_AT]}
            if len(names) <= _MOST_NAMES and any(known.measure(name) for name in names):
                return place
    return None


def _is_entry(heading: str, known: RecordWords) -> bool:
    words = set(heading_words(heading))
    return any(set(name.split()) <= words for name in known.lists["entered"])


def preference(heading: str, known: RecordWords) -> tuple[int, float]:
    """How a column of values stands among others of its measure: by its statistic, then by how near the surface."""
    words = set(heading_words(heading))
    said = _DEPTH_IN.search(heading.replace("_", " "))
    depth = 1e3 if words & _DEEP else 0.0 if words & _UPPER else float(said[1]) if said else 0.5
    return STATISTICS.index(known.statistic(heading)), depth


def _is_measured(table: RecordTable, place: int, what: str, known: RecordWords) -> bool:
    """Whether a column holds numbers of a measure: a length through the air is no sight in the water."""
    words = set(heading_words(f"{table.headings[place]} {table.units[place]}"))
    if what == "secchi" and words & known.lists["through_air"]:
        return False
    sample = [row[place] for _, row in table.rows[:_MOST_LOOKED_AT] if row[place]]
    return not sample or sum(bool(_NUMBER.match(cell)) for cell in sample) >= len(sample) / 2


def _told_in_notes(table: RecordTable, known: RecordWords) -> dict[str, str]:
    """What headings that are codes stand for, as comment lines above tell: "# 63_01 Turbidity, FNU"."""
    found: dict[str, str] = {}
    for heading in table.headings:
        parts = [heading, *codes_in(heading)]
        for note in table.notes:
            if any(re.search(rf"(?<!\w){re.escape(part)}(?!\w)", note) for part in parts) and (
                what := known.measure(note)
            ):
                found.setdefault(heading.lower(), what)
    return found


def codes_in(heading: str) -> list[str]:
    """The numbers in a heading that stand for what is measured."""
    return [part for part in re.split(r"[_\s]", heading) if part.isdigit() and len(part) > 3]


def _flags_beside(table: RecordTable, flags: Sequence[int], values: Iterable[int]) -> dict[int, list[int]]:
    """Which flags are of which value: those whose heading begins as the value's, else the one right behind it, where it
    is not alone; the rest are of all."""
    found: dict[int, list[int]] = {}
    values = list(values)
    one_for_all = len(flags) == 1 and len(values) > 1
    for place in values:
        mine = [flag for flag in flags if table.headings[flag].lower().startswith(table.headings[place].lower())]
        near = mine or [flag for flag in flags if flag == place + 1 and not one_for_all]
        if near:
            found[place] = near
    taken = {flag for near in found.values() for flag in near}
    rest = [flag for flag in flags if flag not in taken]
    return found | ({-1: rest} if rest else {})


def flag_is_bad(table: RecordTable, place: int, beside: bool) -> frozenset[str]:
    """What in a column of flags or kinds puts a value out, as it is written. `beside`: the flags are of one value."""
    known = house_record_words().lists
    texts: dict[str, int] = {}
    for _, row in table.rows:
        texts[row[place]] = texts.get(row[place], 0) + 1
    quality = beside or bool(set(heading_words(table.headings[place])) & _SAY_QUALITY)
    bad = set()
    for text, count in texts.items():
        plain = text.strip().lower()
        parts = [part for part in re.split(r"[\s,;:|]+", plain) if part]
        fine = plain in known["good"] or all(part in known["good"] for part in parts)
        bound = plain in known["at_least"] | known["at_most"]
        ordinary = not beside and count >= _ORDINARY * len(table.rows) and len(plain) > 1
        if set(heading_words(text)) & known["bad"] or (quality and not fine and not bound and not ordinary):
            bad.add(text)
    return frozenset(bad)


def describe_columns(table: RecordTable, layout: Layout, place: int) -> dict[str, str]:
    """The headings that a measure was read from, by what they hold: date, station, value, flag and so on."""
    kept = ("date", "time", "zone", "what", "value", "unit", "station", "depth", "statistic", "year", "month", "day")
    columns = {name: table.headings[layout.columns[name]] for name in kept if name in layout.columns}
    if layout.layout == "wide":
        columns["value"] = table.headings[place]
    flags = layout.flags_of(place)
    return columns | ({"flag": table.headings[flags[0]]} if flags else {})
