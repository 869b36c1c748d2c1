"""The year of a water as it is drawn: twelve months across, visibility hanging down from the surface."""

import math
from collections import Counter
from dataclasses import dataclass
from typing import Any

from tackle.base.units import CM_PER_IN, System, to_degrees, write_exact, write_length
from tackle.base.vocabulary import Season
from tackle.records.posterior import KnownYear
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.water import Water as CoreWater
from web.domain.waters.models import Reading, Water, WaterMonth
from web.domain.waters.selectors import core_water
from web.domain.waters.services import EDGES, MONTH_NAMES

LEFT, COLUMN, TOP, HEIGHT = 62, 54.0, 14, 232
WIDTH = LEFT + 12 * COLUMN
MOST_DOTS = 60  # of a month, the newest
SHALLOWEST_IN, DEEPEST_IN = 4.0, 400.0


def scale_y(inches: float) -> float:
    """How far down a visibility hangs, on a log scale from the surface."""
    share = math.log(max(inches, SHALLOWEST_IN) / SHALLOWEST_IN) / math.log(DEEPEST_IN / SHALLOWEST_IN)
    return round(TOP + HEIGHT * min(share, 1.0), 1)


@dataclass(frozen=True, slots=True)
class Handle:
    """One edge of one month, to drag or to type."""

    id: str
    month: int
    edge: str
    x: float
    y: float
    inches: float
    value: str
    said: str


@dataclass(frozen=True, slots=True)
class Column:
    """One month: its row, its handles, the range where readings have moved it, where a record holds its usual sight
    nine times of ten, and its readings."""

    row: WaterMonth
    name: str
    x: float
    handles: list[Handle]
    measured: tuple[float, float, float] | None
    sure: tuple[float, float] | None
    dots: list[tuple[float, float, str, bool]]
    season: Season | None
    closed: bool
    temp: str

    @property
    def sure_box(self) -> tuple[float, float]:
        """Where the interval's box begins, from the left, and how high it is."""
        top, foot = self.sure or (0.0, 0.0)
        return self.x - 5, max(foot - top, 1.0)

    @property
    def state(self) -> str:
        """What is to be known of the month first, in a word."""
        stain = "" if self.row.stain == "none" else self.row.stain
        return "closed" if self.closed else "guess" if self.row.guess else stain

    @property
    def press(self) -> str:
        """What a press on its name does; it holds what stands there."""
        return f"{' '.join((self.name[:3], self.state)).strip()}: change all of {self.name}"


@dataclass(frozen=True, slots=True)
class Year:
    """The drawing: strips of the clarity bands, the range's outline, and the months."""

    columns: list[Column]
    strips: list[tuple[str, float, float]]  # band, y, height
    outline: str
    usual: str
    # Of each food: by month the amount, what a press makes of it, and how often it was seen then.
    foods: list[tuple[str, list[tuple[int, str, str, int]]]]


def draw_year(water: Water, core: CoreWater, known: KnownYear | None, units: System) -> Year:
    """The drawing of a water's year, from what the core makes of it."""
    columns = []
    for row in water.year.all():
        x = round(LEFT + (row.month - 0.5) * COLUMN, 1)
        readings = [r for r in water.readings.all() if r.date.month == row.month]
        spread = core.months[row.month].spread
        ends = known.intervals[row.month] if known else None
        columns.append(
            Column(
                row=row,
                name=MONTH_NAMES[row.month - 1],
                x=x,
                handles=[_handle(row, edge, x, units) for edge in EDGES],
                measured=(scale_y(spread.low_in), scale_y(spread.usual_in), scale_y(spread.high_in))
                if readings or known else None,
                sure=(scale_y(ends[0]), scale_y(ends[1])) if ends else None,
                dots=[
                    (round(x + (r.date.day - 15) / 30 * COLUMN * 0.8, 1), scale_y(r.visibility_in),
                     f"{r.date}: {write_length(r.visibility_in, units)}", r.source == Reading.Source.FILE)
                    for r in readings[:MOST_DOTS]
                ],
                season=core.season(row.month),
                closed=row.month in water.closed_months,
                temp=f"{to_degrees(row.temp_f, units):.0f}",
            )
        )  # fmt: skip
    edges = [SHALLOWEST_IN, *HOUSE_LADDER.edges_in, DEEPEST_IN]
    strips = [
        (band, scale_y(edges[i]), round(scale_y(edges[i + 1]) - scale_y(edges[i]), 1)) for i, band in enumerate(BANDS)
    ]
    low = [(c.x, c.handles[0].y) for c in columns]
    high = [(c.x, c.handles[2].y) for c in columns]
    return Year(
        columns=columns,
        strips=strips,
        outline=_points([*_wide(low), *reversed(_wide(high))]),
        usual=_points([(c.x, c.handles[1].y) for c in columns]),
        foods=_foods(water),
    )


def year_rows(water: Water, units: System) -> list[list[Any]]:
    """The numbers of the drawing, month by month: visibility with what was measured, days, temperature, season, foods,
    and on what it rests."""
    per_in = CM_PER_IN if units == "metric" else 1.0
    core, rows = core_water(water), []
    for row in water.year.all():
        month = core.months[row.month]
        spread = month.spread
        lengths = [round(inches * per_in, 1) for inches in (spread.low_in, spread.usual_in, spread.high_in)]
        foods = "; ".join(food for food, _ in sorted(month.food.items(), key=lambda data: -data[1]))
        rows.append(
            [
                MONTH_NAMES[row.month - 1], *lengths, round(row.days, 1), round(to_degrees(row.temp_f, units)),
                core.season(row.month) or "", foods, rests_on(water, row),
            ]
        )  # fmt: skip
    return rows


def rests_on(water: Water, row: WaterMonth) -> str:
    """On what a month's visibility rests, in words."""
    data = [reading for reading in water.readings.all() if reading.date.month == row.month]
    said = "a guess" if row.guess else "what you said"
    if not data:
        return said
    years, rain = len({one.date.year for one in data}), sum(one.rain_in is not None for one in data)
    readings = "1 reading" if len(data) == 1 else f"{len(data)} readings"
    known = f"; rain known on {rain}" if rain else ""
    return f"{readings} of {years} {'year' if years == 1 else 'years'}{known}; and {said}"


def _handle(row: WaterMonth, edge: str, x: float, units: System) -> Handle:
    inches = getattr(row, f"{edge}_in")
    said = f"{MONTH_NAMES[row.month - 1]}, {edge} visibility"
    return Handle(
        f"edge-{row.month}-{edge}", row.month, edge, x, scale_y(inches), inches, write_exact(inches, units), said
    )


def _wide(points: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """The first and last month drawn out to the edges of the picture."""
    return [(float(LEFT), points[0][1]), *points, (float(WIDTH), points[-1][1])]


def _points(points: list[tuple[float, float]]) -> str:
    return " ".join(f"{x:g},{y:g}" for x, y in points)


_NEXT = {"": "some", "some": "main", "main": ""}


def _foods(water: Water) -> list[tuple[str, list[tuple[int, str, str, int]]]]:
    seen = Counter((sighting.food, sighting.date.month) for sighting in water.sightings.all())
    eaten = sorted({food for row in water.year.all() for food in row.food} | {food for food, _ in seen})
    return [
        (
            food,
            [
                (row.month, amount := row.food.get(food, ""), _NEXT[amount], seen[food, row.month])
                for row in water.year.all()
            ],
        )
        for food in eaten
    ]
