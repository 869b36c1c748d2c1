"""What a record says of one measure: each row used, refused, flagged, doubled, or of something else; and what the
record leaves open."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import replace
from datetime import date, datetime, tzinfo
from functools import cached_property
from typing import Final

from tackle.base.errors import InvalidInput
from tackle.records.choices import Question, Settled
from tackle.records.layout import Layout, detect_layout
from tackle.records.measured import RecordRead
from tackle.records.moments import EPOCHS, DayOrder, read_moment, read_zone, read_zone_told
from tackle.records.numbers import NumberStyle
from tackle.records.rows import RowReader
from tackle.records.table import RecordTable
from tackle.records.units import to_our_unit, unit_of_column
from tackle.records.words import heading_words, house_record_words

__all__ = ["Record", "best_record", "pairs_in", "unite"]

UNNAMED: Final = "level"  # what values are taken for that nothing names
FIRST_ASKED: Final = ("secchi", "turbidity", "temperature", "cloud", "wind", "rain", "level", "radiation")
_BY_THE_HOUR: Final = ("level", "cloud", "radiation", "wind")  # measures of which the hour counts


class Record:
    """A table as a record: how it is laid out, and what it can be asked for. `home`: the zone of the water's place,
    where that is known. Raises InvalidInput where it has no days, or nothing that was measured."""

    def __init__(self, table: RecordTable, settled: Settled | None = None, home: tzinfo | None = None) -> None:
        self.table, self.settled, self.home = table, settled or Settled(), home
        self._codes = house_record_words().zones
        self.layout = _settle_days(detect_layout(table, self.settled.columns), self.settled)
        self.zone_told = _zone_of_heading(table, self.layout)
        self.is_solar = any("solar time" in note.lower() for note in table.notes)
        self._zone_taken = None if self.is_solar else home
        if self.settled.zone:
            self._zone_taken = read_zone_told(self.settled.zone, self._codes)
        self._zones: dict[str, tzinfo | None] = {}  # by the codes of a column
        self._moments: dict[tuple[str, str, str], date | datetime | None] = {}  # of the texts that were read already

    @cached_property
    def there(self) -> dict[str, int]:
        """What is measured, and how many rows speak of it."""
        rows = self.table.rows
        if self.layout.layout == "wide":
            return {what: sum(bool(row[places[0]]) for _, row in rows) for what, places in self.layout.values.items()}
        counts = Counter(self.named[row[self.layout.columns["what"]]] for _, row in rows)
        return {what: count for what, count in counts.items() if what}

    @cached_property
    def first(self) -> str:
        """The measure that is read where none is asked for, the first of ours that there is; what nothing names, in
        JSON, is taken for levels. Empty where there is none."""
        if not self.there and self.layout.unnamed >= 0 and self.table.format == "json":
            return self.settled.of("meaning", UNNAMED) or UNNAMED
        return next((one for one in FIRST_ASKED if self.there.get(one)), "")

    @cached_property
    def named(self) -> dict[str, str]:
        """What each name in a long table's column of what was measured stands for; empty where it is none of ours."""
        known, place = house_record_words(), self.layout.columns["what"]
        return {name: known.measure(name) for name in dict.fromkeys(row[place] for _, row in self.table.rows)}

    @cached_property
    def stations(self) -> tuple[str, ...]:
        at = self.layout.columns.get("station")
        return tuple(dict.fromkeys(row[at] for _, row in self.table.rows if row[at])) if at is not None else ()

    def read(self, what: str = "", station: str | None = None, today: date | None = None) -> RecordRead:
        """Reads one measure: the one asked for, else the first of ours that it has.

        Raises InvalidInput where it has none, or no such station.
        """
        asked = what or self.first
        unnamed = not self.there and self.layout.unnamed >= 0
        if not (unnamed and asked) and not self.there.get(asked):
            allowed = ", ".join(self.there) or "a measure of ours"
            raise InvalidInput("what", f"{asked or 'nothing of ours'} is not in the record", allowed)
        if station is not None and station not in self.stations:
            allowed = ", ".join(self.stations[:20]) or "no station: it names none"
            raise InvalidInput("station", f"{station!r} is not in the record", allowed)
        one = station or (self.stations[0] if len(self.stations) == 1 else None)
        found = RecordRead(asked, None, self.stations, one, self.layout, self._place(asked))
        RowReader(self, found, today).read(station)
        if unnamed and not what and not self.settled.of("meaning", UNNAMED):
            others = tuple(one for one in FIRST_ASKED if one != asked)
            self.ask(found, "meaning", found.place, asked, others, "nothing says what was measured")
        if self.layout.days:
            days, *rest = (self.table.headings[place] for place in self.layout.days)
            why = "no heading says which column is the day"
            found.ask.append(Question("meaning", days, days, tuple(rest), why, len(found.used), "date", True))
        if len(self.stations) > 1 and station is None:
            at = self.layout.columns["station"]
            found.ask.append(Question("station", self.table.headings[at], "all", self.stations[:40],
                                      "it has several stations", len(found.used), asked))  # fmt: skip
        return found

    def _place(self, what: str) -> int:
        """The place of a measure's values."""
        if self.layout.layout == "long":
            return self.layout.columns["value"]
        return self.layout.values[what][0] if what in self.layout.values else self.layout.unnamed

    def ask(
        self, found: RecordRead, name: str, place: int, taken: str, others: Sequence[str], why: str,
        is_column: bool = False,
    ) -> None:  # fmt: skip
        """Notes what is left open of a measure that was read."""
        heading, rows = self.table.headings[place], len(found.used)
        found.ask.append(Question(name, heading, taken, tuple(others), why, rows, found.what, is_column))

    def moment(self, row: Sequence[str]) -> date | datetime | None:
        """When a row was measured, in the zone of the place where both are known; None where it does not say."""
        parts, time_at, zone_at = self._moment_at
        data = row[parts[0]] if len(parts) == 1 else "-".join(row[place] for place in parts)
        time, code = "" if time_at is None else row[time_at], "" if zone_at is None else row[zone_at]
        key = data, time, code
        try:
            return self._moments[key]
        except KeyError:
            found = self._moments[key] = self._read_moment(data, time, code)
            return found

    @cached_property
    def _moment_at(self) -> tuple[tuple[int, ...], int | None, int | None]:
        """Where the day stands, in one place or as year, month and day; the hour, beside it; and the zone."""
        columns = self.layout.columns
        if "date" in columns:
            return (columns["date"],), columns.get("time"), columns.get("zone")
        return tuple(columns[name] for name in ("year", "month", "day")), None, columns.get("zone")

    def _read_moment(self, data: str, time: str, code: str) -> date | datetime | None:
        moment: date | datetime | None
        if self.layout.epoch is not None:
            try:
                moment = self.layout.epoch.moment(float(data))
            except (ValueError, OverflowError):
                return None
            if not moment.hour and not moment.minute and self.layout.epoch.step == 1.0:
                return moment.date()
        else:
            moment = read_moment(data, self.layout.order, time, self._codes)
        if not isinstance(moment, datetime):
            return moment
        if moment.tzinfo is None:
            if code not in self._zones:
                self._zones[code] = read_zone(code, self._codes) if code else None
            zone = self._zones[code] or self.zone_told or self._zone_taken
            if zone is None:
                return moment
            moment = moment.replace(tzinfo=zone)
        return moment.astimezone(self.home) if self.home else moment

    def zone_is_open(self, found: RecordRead) -> bool:
        """Whether nothing tells in which zone the hours of a record are."""
        settled = self.settled.zone or self.zone_told or self.is_solar or self.layout.columns.get("zone") is not None
        if settled or found.what not in _BY_THE_HOUR or (self.layout.epoch and self.layout.epoch.told):
            return False
        texts = next(iter(self._moments), ("", "", ""))
        aware = read_moment(texts[0], self.layout.order, texts[1], self._codes)
        return isinstance(aware, datetime) and aware.tzinfo is None


def best_record(tables: Sequence[RecordTable], settled: Settled, home: tzinfo | None) -> tuple[Record, dict[str, int]]:
    """Of the tables of a file the record with most readings, and how many rows each other list has, by where it lies.
    Raises InvalidInput where none is a record."""
    records, first_error = [], None
    for table in tables:
        try:
            record = Record(table, settled, home)
        except InvalidInput as error:
            first_error = first_error or error
        else:
            records.append(record)
    if not records:
        raise first_error or InvalidInput("file", "holds no measurements", "a heading and a row for each measurement")
    best = max(records, key=lambda one: (sum(one.there.values()), len(one.table.rows)))
    return best, {table.at: len(table.rows) for table in tables if table is not best.table}


def unite(reads: Iterable[RecordRead]) -> list[Question]:
    """What several measures of a record leave open: what is of the whole file is asked once."""
    found: dict[tuple[str, str], Question] = {}
    for read in reads:
        for one in read.ask:
            key = (one.key, one.column)
            if key not in found or found[key].rows < one.rows:
                found[key] = one
    return list(found.values())


def _settle_days(layout: Layout, settled: Settled) -> Layout:
    """The layout with the order of days and the epoch that were settled."""
    if settled.day_order:
        layout = replace(layout, order=DayOrder(settled.day_order == "dmy"))
    if settled.epoch and layout.epoch:
        layout = replace(layout, epoch=replace(EPOCHS[settled.epoch], told=True))
    return layout


def _zone_of_heading(table: RecordTable, layout: Layout) -> tzinfo | None:
    """The zone that the heading of days or hours tells: "Date (UTC)", "time_gmt"."""
    codes = house_record_words().zones
    for name in ("date", "time"):
        if (place := layout.columns.get(name)) is not None:
            for word in heading_words(f"{table.headings[place]} {table.units[place]}"):
                if word in ("utc", "gmt") or (word.upper() in codes and len(word) > 3):
                    return read_zone(word, codes)
    return None


def pairs_in(table: RecordTable) -> list[tuple[float, float]]:
    """Turbidity (NTU) and visibility (in) of the rows of a wide table that tell both. Raises InvalidInput."""
    known = house_record_words()
    named = {known.measure(heading): place for place, heading in reversed(list(enumerate(table.headings)))}
    if not {"turbidity", "secchi"} <= set(named):
        raise InvalidInput("pairs", "do not name turbidity and visibility", "a column of each, with its unit")
    style = NumberStyle(False)
    units = {what: unit_of_column(what, table, named[what]) or ("m" if what == "secchi" else "ntu")
             for what in ("turbidity", "secchi")}  # fmt: skip
    found = []
    for _, row in table.rows:
        pair = {what: style.read(row[named[what]]) for what in units}
        one, other = pair["turbidity"], pair["secchi"]
        if one and other and one.value > 0 and other.value > 0:
            found.append((to_our_unit("turbidity", one.value, units["turbidity"]),
                          to_our_unit("secchi", other.value, units["secchi"])))  # fmt: skip
    return found
