"""What comes of reading one measure of a record."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import NamedTuple

from tackle.records.choices import Question
from tackle.records.layout import Layout
from tackle.records.moments import moment_day

__all__ = ["Measured", "RecordRead", "RefusedCell", "values_by_day"]


@dataclass(frozen=True, slots=True)
class RefusedCell:
    """A cell that cannot be used: its row in the file, its column, what stands there and what may."""

    row: int
    column: str
    wrong: str
    allowed: str


class Measured(NamedTuple):
    """One value: when (aware where its zone is known, else solar time), where, how much in our unit (see the data
    file), and whether it is a bound: "at least", "at most", empty where it is the value."""

    moment: date | datetime
    station: str
    value: float
    bound: str = ""


@dataclass(slots=True)
class RecordRead:
    """What was understood of a record; `rows`: of the measure that was asked for. `place`: of its values."""

    what: str
    unit: str | None
    stations: tuple[str, ...]
    station: str | None
    layout: Layout
    place: int
    used: list[Measured] = field(default_factory=list)
    refused: list[RefusedCell] = field(default_factory=list)
    ask: list[Question] = field(default_factory=list)
    other: int = 0
    doubled: int = 0
    flagged: int = 0

    @property
    def rows(self) -> int:
        return len(self.used) + len({cell.row for cell in self.refused}) + self.doubled + self.flagged

    @property
    def censored(self) -> int:
        """How many of the values used are bounds."""
        return sum(bool(one.bound) for one in self.used)


def values_by_day(measured: Iterable[Measured]) -> Mapping[date, list[float]]:
    """The values of each day that has some."""
    days: defaultdict[date, list[float]] = defaultdict(list)
    for one in measured:
        days[moment_day(one.moment)].append(one.value)
    return days
