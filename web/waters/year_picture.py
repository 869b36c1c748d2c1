"""The year of a water as it is drawn: twelve months across, visibility hanging down from the surface."""

import math
from collections import Counter
from dataclasses import dataclass
from typing import Any

from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.units import CM_PER_IN, System, degrees_of, write_exact, write_length
from tackle.vocabulary import Season
from web.waters.changes import EDGES, MONTH_NAMES
from web.waters.models import Water, WaterMonth
from web.waters.reads import core_water, spread_of

LEFT, COLUMN, TOP, HEIGHT = 62, 54.0, 14, 232
WIDTH = LEFT + 12 * COLUMN
SHALLOWEST_IN, DEEPEST_IN = 4.0, 400.0


def y_of(inches: float) -> float:
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
    """One month: its row, its handles, the guess's own range where readings have moved it, and its readings."""

    row: WaterMonth
    name: str
    x: float
    handles: list[Handle]
    measured: tuple[float, float, float] | None
    dots: list[tuple[float, float, str]]
    season: Season | None
    closed: bool
    temp: str


@dataclass(frozen=True, slots=True)
class Year:
    """The drawing: strips of the clarity bands, the range's outline, and the months."""

    columns: list[Column]
    strips: list[tuple[str, float, float]]  # band, y, height
    outline: str
    usual: str
    # Of each food: by month the amount, what a press makes of it, and how often it was seen then.
    foods: list[tuple[str, list[tuple[int, str, str, int]]]]


def draw_year(water: Water, units: System) -> Year:
    """The drawing of a water's year."""
    core = core_water(water)
    columns = []
    for row in water.year.all():
        x = round(LEFT + (row.month - 0.5) * COLUMN, 1)
        readings = [r for r in water.readings.all() if r.date.month == row.month]
        spread = spread_of(water, row)
        columns.append(
            Column(
                row=row,
                name=MONTH_NAMES[row.month - 1],
                x=x,
                handles=[_handle(row, edge, x, units) for edge in EDGES],
                measured=(y_of(spread.low_in), y_of(spread.usual_in), y_of(spread.high_in)) if readings else None,
                dots=[
                    (round(x + (r.date.day - 15) / 30 * COLUMN * 0.8, 1), y_of(r.visibility_in),
                     f"{r.date}: {write_length(r.visibility_in, units)}")
                    for r in readings
                ],
                season=core.season(row.month),
                closed=row.month in water.closed_months,
                temp=f"{degrees_of(row.temp_f, units):.0f}",
            )
        )  # fmt: skip
    edges = [SHALLOWEST_IN, *HOUSE_LADDER.edges_in, DEEPEST_IN]
    strips = [(band, y_of(edges[i]), round(y_of(edges[i + 1]) - y_of(edges[i]), 1)) for i, band in enumerate(BANDS)]
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
        spread, month = spread_of(water, row), core.months[row.month]
        lengths = [round(inches * per_in, 1) for inches in (spread.low_in, spread.usual_in, spread.high_in)]
        foods = "; ".join(food for food, _ in sorted(month.food.items(), key=lambda told: -told[1]))
        rows.append(
            [
                MONTH_NAMES[row.month - 1], *lengths, round(row.days, 1), round(degrees_of(row.temp_f, units)),
                core.season(row.month) or "", foods, rests_on(water, row),
            ]
        )  # fmt: skip
    return rows


def rests_on(water: Water, row: WaterMonth) -> str:
    """On what a month's visibility rests, in words."""
    days = [reading.date for reading in water.readings.all() if reading.date.month == row.month]
    years = len({day.year for day in days})
    said = "a guess" if row.guess else "what you said"
    if not days:
        return said
    readings = "1 reading" if len(days) == 1 else f"{len(days)} readings"
    return f"{readings} of {years} {'year' if years == 1 else 'years'}, and {said}"


def _handle(row: WaterMonth, edge: str, x: float, units: System) -> Handle:
    inches = getattr(row, f"{edge}_in")
    said = f"{MONTH_NAMES[row.month - 1]}, {edge} visibility"
    return Handle(
        f"edge-{row.month}-{edge}", row.month, edge, x, y_of(inches), inches, write_exact(inches, units), said
    )


def _wide(points: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """The first and last month drawn out to the edges of the picture."""
    return [(float(LEFT), points[0][1]), *points, (float(WIDTH), points[-1][1])]


def _points(points: list[tuple[float, float]]) -> str:
    return " ".join(f"{x:g},{y:g}" for x, y in points)


_NEXT = {"": "some", "some": "main", "main": ""}


def _foods(water: Water) -> list[tuple[str, list[tuple[int, str, str, int]]]]:
    seen = Counter((one.food, one.date.month) for one in water.sightings.all())
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
