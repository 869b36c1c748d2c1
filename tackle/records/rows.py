"""The rows of a record that speak of one measure: which of them are used, and what they leave open."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from datetime import date
from typing import TYPE_CHECKING, Final

from tackle.base.units import M_PER_FT
from tackle.records.choices import SURFACE_M
from tackle.records.layout import STATISTICS, flag_is_bad, preference
from tackle.records.measured import Measured, RecordRead, RefusedCell
from tackle.records.moments import EPOCHS, moment_day
from tackle.records.units import known_unit, unit_of_column
from tackle.records.values import LEAVE_OUT, ColumnValues
from tackle.records.words import heading_words, house_record_words

if TYPE_CHECKING:
    from tackle.records.reading import Record

__all__ = ["RowReader"]

_BY_DEPTH: Final = ("temperature", "turbidity")
_WEATHER: Final = ("cloud", "wind", "rain", "radiation")
_IN_WATER: Final = {"water", "secchi", "wasser", "wassertemperatur", "eau", "agua", "lake", "surface", "bottom", "sea",
                    "river"}  # fmt: skip
_CLOSE_M: Final = 1e-4


class RowReader:
    """Reads the rows of a record that speak of one measure."""

    def __init__(self, record: Record, found: RecordRead, today: date | None) -> None:
        self.record, self.found, self.today = record, found, today
        self.table, self.layout, self.settled = record.table, record.layout, record.settled
        self.known, self.what = house_record_words(), found.what
        self.long = self.layout.layout == "long"
        self.columns = self.layout.columns
        self.flags = self._bad_flags()
        self.depth_unit_told = True

    def read(self, station: str | None) -> None:
        """Reads all rows into what was understood."""
        found = self.found
        if self.settled.of("meaning", self.what) == "air":
            found.other = len(self.table.rows)
            return
        rows = self._rows(station)
        found.other = len(self.table.rows) - len(rows)
        cells = [row[found.place] for _, row in rows]
        values = ColumnValues(self.settled, self.layout, found, self.table, cells)
        seen: set[tuple[object, ...]] = set()
        units: Counter[str] = Counter()
        at = self.columns.get("station")
        for number, row in rows:
            if self.flags and any(row[place] in bad for place, bad in self.flags):
                found.flagged += 1
                continue
            moment = self.record.moment(row)
            if moment is None or (self.today and moment_day(moment) > self.today):
                column = self.columns.get("date", self.columns.get("day", 0))
                allowed = "a date" if moment is None else "a date that is past"
                found.refused.append(RefusedCell(number, self.table.headings[column], row[column][:60], allowed))
                continue
            data = values.read(number, row)
            if isinstance(data, RefusedCell):
                found.refused.append(data)
                continue
            if data is None:
                found.flagged += 1
                continue
            amount, unit = data
            units[unit] += 1
            where = row[at] if at is not None else ""
            key = (moment, where, round(amount.value, 6), amount.bound)
            if key in seen:
                found.doubled += 1
                continue
            seen.add(key)
            found.used.append(Measured(moment, where, amount.value, amount.bound))
        found.unit = max(units, key=lambda one: units[one]) if units else None
        self._ask(values)

    def _bad_flags(self) -> list[tuple[int, frozenset[str]]]:
        """The places of flags and kinds, with what in each puts a value out."""
        beside = set(self.layout.flags.get(self.found.place, ()))
        places = [*self.layout.flags_of(self.found.place)]
        if "kind" in self.columns:
            places.append(self.columns["kind"])
        found = [(place, flag_is_bad(self.table, place, place in beside or len(places) == 1)) for place in places]
        if "kind" in self.columns:
            place = self.columns["kind"]
            bad = self.known.lists["bad"]
            found[-1] = place, frozenset(text for text in found[-1][1] if set(heading_words(text)) & bad)
        return [(place, bad) for place, bad in found if bad]

    def _rows(self, station: str | None) -> list[tuple[int, list[str]]]:
        """The rows of the measure, of a station, of the statistic and the depth that are taken."""
        at, what_at, place = self.columns.get("station"), self.columns.get("what", -1), self.found.place
        if self.long:
            mine = {name for name, what in self.record.named.items() if what == self.what}
            rows = [one for one in self.table.rows if one[1][what_at] in mine]
        else:
            rows = [one for one in self.table.rows if one[1][place]]
        if station is not None and at is not None:
            rows = [one for one in rows if one[1][at] == station]
        return self._near_surface(self._of_statistic(rows))

    def _of_statistic(self, rows: list[tuple[int, list[str]]]) -> list[tuple[int, list[str]]]:
        """Of several values of a day or a station the median, else the mean, else what is there."""
        self.statistic = self.known.statistic(self.table.headings[self.found.place])
        self.statistics: tuple[str, ...] = ()
        if self.long:
            places = [self.columns[name] for name in ("statistic", "what") if name in self.columns]
            said: dict[tuple[str, ...], str] = {}
            for _, row in rows:
                key = tuple(row[place] for place in places)
                if key not in said:
                    said[key] = next((one for one in map(self.known.statistic, key) if one), "")
            there = set(said.values())
            order = [one for one in STATISTICS if one in there]
            settled = self.settled.of("statistic", self.what)
            if order and (len(order) > 1 or settled):
                taken = settled if settled in there else order[0]
                self.statistic, self.statistics = taken, tuple(one for one in order if one != taken)
                return [one for one in rows if said[tuple(one[1][place] for place in places)] == taken]
            self.statistic = order[0] if order else ""
        else:
            headings = [self.table.headings[place] for place in self.layout.values.get(self.what, ())]
            kinds = [self.known.statistic(heading) for heading in headings]
            self.statistics = tuple(one for one in dict.fromkeys(kinds) if one != self.statistic)
            settled = self.settled.of("statistic", self.what)
            if settled and settled != self.statistic and settled in kinds:
                self.found.place = self.layout.values[self.what][kinds.index(settled)]
                self.statistic = settled
                return [one for one in rows if one[1][self.found.place]]
        return rows

    def _near_surface(self, rows: list[tuple[int, list[str]]]) -> list[tuple[int, list[str]]]:
        """Of rows at several depths those of the uppermost metre, or down to what was settled; where none lies so high
        those of the uppermost."""
        self.deeper, self.surface = 0, True
        at = self.columns.get("depth")
        if at is None or self.what not in _BY_DEPTH:
            return rows
        depths = [(one, self._depth_m(one[1], at)) for one in rows]
        some = [depth for _, depth in depths if depth is not None]
        least = min(some, default=0.0)
        settled = self.settled.depth_to_m
        self.surface = least <= SURFACE_M
        most = max(SURFACE_M, least) if settled in (None, SURFACE_M) else settled
        kept = [one for one, depth in depths if depth is None or depth <= most + _CLOSE_M]
        self.deeper = len(rows) - len(kept)
        return kept

    def _depth_m(self, row: Sequence[str], at: int) -> float | None:
        try:
            depth = abs(float(row[at].replace(",", ".")))
        except ValueError:
            return None
        unit_at = self.columns.get("depth_unit")
        unit = known_unit("level", row[unit_at]) if unit_at is not None else ""
        unit = unit or unit_of_column("level", self.table, at)
        self.depth_unit_told &= bool(unit)
        return depth * self.known.units["level"].get(unit or "m", 1 / M_PER_FT) * M_PER_FT

    def _ask(self, values: ColumnValues) -> None:
        """What the record leaves open of the measure that was read."""
        found, ask, columns = self.found, self.record.ask, self.columns
        if values.open_units and not self.settled.of("unit", self.what):
            ask(found, "unit", found.place, values.taken_unit, values.open_units, "no unit is told")
        if values.below and not self.settled.of("sign", self.what):
            ask(found, "sign", found.place, "below the surface", [LEAVE_OUT], "its numbers are below nothing")
        if "date" in columns and self.layout.order.open and self.layout.epoch is None:
            day_first = self.layout.order.day_first
            taken, other = ("dmy", "mdy") if day_first else ("mdy", "dmy")
            ask(found, "day_order", columns["date"], taken, [other], "day or month may come first")
        if self.layout.epoch and not self.layout.epoch.told:
            name = self.layout.epoch.name
            ask(found, "kind_of_day", columns["date"], name, [one for one in EPOCHS if one != name and "days" in one],
                "its days are numbers, and nothing says from which day on")  # fmt: skip
        if self.record.zone_is_open(found):
            home = str(self.record.home) if self.record.home else "solar"
            ask(found, "zone", columns.get("time", columns.get("date", 0)), home,
                [one for one in ("UTC", "solar") if one != home], "no zone is told")  # fmt: skip
        self._ask_which()

    def _ask_which(self) -> None:
        found, ask = self.found, self.record.ask
        if self.deeper and self.settled.depth_to_m is None and not (self.surface and self.depth_unit_told):
            why = (
                "the unit of its depths is not told" if self.surface else "nothing was measured in the uppermost metre"
            )
            ask(found, "depth", self.columns["depth"], "surface", ["all depths"], why)
        if self.statistic in ("maximum", "minimum") and not self.settled.of("statistic", self.what):
            ask(found, "statistic", found.place, self.statistic, [one or "plain" for one in self.statistics],
                f"it has no median and no mean: these are {self.statistic} values")  # fmt: skip
        if not self.long and not self.settled.of("column", self.what):
            alike = [place for place in self.layout.values.get(self.what, ())
                     if preference(self.table.headings[place], self.known)
                     == preference(self.table.headings[found.place], self.known)]  # fmt: skip
            if len(alike) > 1:
                others = [self.table.headings[place] for place in alike if place != found.place]
                taken, why = self.table.headings[found.place], "several columns may be it"
                ask(found, "meaning", found.place, taken, others, why, is_column=True)
        if self._may_be_air() and not self.settled.of("meaning", self.what):
            ask(found, "meaning", found.place, "water", ["air"], "nothing says if it is of water or air")

    def _may_be_air(self) -> bool:
        """Whether a bare "temperature" or "visibility" may be the air's: beside weather, and nothing of the water."""
        there = self.record.there
        names = [self.table.headings[self.found.place]]
        if self.long:
            names = [name for name, what in self.record.named.items() if what == self.what]
        said = {word for name in names for word in heading_words(name)} | {
            word for note in self.table.notes for word in heading_words(note)
        }
        if said & _IN_WATER:
            return False
        weather = any(there.get(one) for one in _WEATHER)
        if self.what == "temperature":
            in_water = any(there.get(one) for one in ("secchi", "turbidity", "level", "air_temperature"))
            return not in_water and "depth" not in self.columns
        return self.what == "secchi" and "visibility" in said and weather
