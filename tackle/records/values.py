"""The values of one column of a record, in our unit of what it measures."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from tackle.base.errors import InvalidInput
from tackle.records.choices import Settled
from tackle.records.layout import Layout
from tackle.records.measured import RecordRead, RefusedCell
from tackle.records.numbers import AT_LEAST, AT_MOST, Amount, NumberStyle, detect_style, stands_for_nothing
from tackle.records.table import RecordTable
from tackle.records.units import BOUNDS, allowed_values, guess_unit, known_unit, to_our_unit, unit_of_column
from tackle.records.words import house_record_words

__all__ = ["LEAVE_OUT", "ColumnValues"]

LEAVE_OUT: Final = "leave out"  # what may be settled of numbers below nothing
_YES: Final = {"y", "yes", "true", "1", "x", "b", "bottom", "ja", "oui", "si", "t"}
_MOST_LOOKED_AT: Final = 20_000
_MOSTLY: Final = 0.9


class ColumnValues:
    """`open_units`: what else the unit may be, where a row that tells none was read; `below`: its numbers are depths
    that are written as heights below nothing."""

    def __init__(
        self, settled: Settled, layout: Layout, found: RecordRead, table: RecordTable, cells: Sequence[str]
    ) -> None:
        self.what, self.table, self.place, self.columns = found.what, table, found.place, layout.columns
        self.known = house_record_words()
        self._missing = self.known.lists["missing"]
        self._low, self._high = BOUNDS[self.what]
        self.style: NumberStyle = detect_style(cells[:_MOST_LOOKED_AT], table.mark)
        amounts = [one.value for one in map(self.style.read, cells[:_MOST_LOOKED_AT]) if one is not None]
        self.nothing = stands_for_nothing(amounts, self.known.nothing)
        left = [one for one in amounts if one not in self.nothing]
        self.below = self.what == "secchi" and bool(left) and sum(one < 0 for one in left) > _MOSTLY * len(left)
        if self.below:
            left = [abs(one) for one in left]
        self.leave_below = settled.of("sign", self.what) == LEAVE_OUT
        self.leave_bounds = settled.of("censored", self.what) == "leave"
        self._units: dict[str, str] = {}
        beside = layout.layout == "long" or self.place == layout.columns.get("value")
        self.unit_at = layout.columns.get("unit") if beside else None
        self.column_unit = unit_of_column(self.what, table, self.place)
        self.open_units: list[str] = []
        self.taken_unit, self._others = guess_unit(self.what, left)
        self.settled = settled.of("unit", self.what)
        if self.settled:
            self.column_unit = known_unit(self.what, self.settled)
            if not self.column_unit:
                allowed = tuple(self.known.units.get(self.what, ("C", "F")))
                raise InvalidInput("unit", f"{self.settled[:40]!r} is none for this", allowed)
        self._bounds_at = layout.flags_of(self.place)
        self._bottom_at = self.columns.get("bottom") if self.what == "secchi" else None
        self._flag_bounds: dict[str, str] = {}  # of the texts of flags that were read already

    def read(self, number: int, row: Sequence[str]) -> tuple[Amount, str] | RefusedCell | None:
        """The value in our unit, with the unit that it was told in; None where it is a bound that is left out."""
        heading, text = self.table.headings[self.place], row[self.place]
        amount = self.style.read(text)
        if amount is None or amount.value in self.nothing or text.lower() in self._missing:
            return RefusedCell(number, heading, text[:60], "a number")
        unit = self._unit(row)
        if unit is None and self.unit_at is not None:
            allowed = ", ".join(self.known.units.get(self.what, {"C": 1, "F": 1}))
            return RefusedCell(number, self.table.headings[self.unit_at], row[self.unit_at][:60], allowed)
        bound = amount.bound or self._bound_beside(row)
        if bound and self.leave_bounds:
            return None
        if not unit:
            unit, self.open_units = self.taken_unit, self._others
        plain = abs(amount.value) if self.below and not self.leave_below else amount.value
        value = to_our_unit(self.what, plain, unit, self.known)
        if not self._low < value <= self._high:
            return RefusedCell(number, heading, text[:60], allowed_values(self.what))
        return Amount(value, bound), unit

    def _unit(self, row: Sequence[str]) -> str | None:
        """The unit of a row; empty where none is told, None where it is none of ours."""
        if self.settled or self.unit_at is None or not row[self.unit_at]:
            return self.column_unit
        text = row[self.unit_at]
        if text not in self._units:
            self._units[text] = known_unit(self.what, text)
        return self._units[text] or None

    def _bound_beside(self, row: Sequence[str]) -> str:
        """Whether a mark beside the value makes it a bound: a sign among its flags, or the bottom that was seen."""
        for place in self._bounds_at:
            text = row[place]
            if text not in self._flag_bounds:
                plain, lists = text.strip().lower(), self.known.lists
                at_most = AT_MOST if plain in lists["at_most"] else ""
                self._flag_bounds[text] = AT_LEAST if plain in lists["at_least"] else at_most
            if bound := self._flag_bounds[text]:
                return bound
        seen = self._bottom_at is not None and row[self._bottom_at].strip().lower() in _YES
        return AT_LEAST if seen else ""
