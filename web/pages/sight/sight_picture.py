"""The second look as a drawing: sticks hanging in the water at their depths, and where each stands for the fish."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tackle.colours.colour import Colour
from tackle.colours.light import to_hex
from tackle.sight.alike import remaining_light, sight_views
from tackle.sight.below import outlines, points_below, screen_below, sky_above
from tackle.sight.beside import look_beside
from tackle.sight.flash import Flash, find_flashes
from tackle.sight.look import View, points, screen
from tackle.sight.parted import call_pairs
from tackle.sight.ruled import Ruled, ruling
from web.domain.waters.selectors import Days

DEPTHS_FT = (1.0, 2.0, 4.0, 6.0, 8.0)
CLOSER = 3  # times: the picture is taken from so much nearer than the fish looks from, for people to see something
CHART_IN = (6.0, 10.0, 15.0, 24.0, 36.0, 55.0, 80.0, 120.0)
CHART_FT = (1.0, 2.0, 4.0, 7.0, 12.0, 20.0)
BESIDE_FT = (1.0, 2.0, 4.0, 7.0, 12.0, 20.0, 30.0)
BESIDE_IN = (4.0, 6.0, 10.0, 15.0, 24.0, 36.0, 55.0, 80.0, 120.0, 200.0)
CHART_LEFT, CHART_TOP, CELL, CELL_TALL = 44, 22, 34, 28
WIDE, TALL, LEFT, TOP = 720, 424, 64, 26
PLOT_WIDE, PLOT_TALL, PLOT_RIM = 330, 220, 34


@dataclass(frozen=True, slots=True)
class Hung:
    """One stick in the water: where it hangs, and its bands from the back down, each a fill."""

    x: float
    y: float
    bands: tuple[tuple[float, str], ...]  # top, fill


@dataclass(frozen=True, slots=True)
class Placed:
    """Where one colour stands for the fish, by its side: in the plot's own units."""

    card: Colour
    x: float
    y: float


@dataclass(frozen=True, slots=True)
class DrawnPair:
    """Two colours, how many steps apart from where the fish looks and from half as far, what the eye says (`one`, `two`
    or `in doubt`), and what anglers rule where they rule otherwise."""

    first: Colour
    second: Colour
    far: float
    near: float
    says: str
    ruled: Ruled | None


@dataclass(frozen=True, slots=True)
class Window:
    """One colour from below: its fill against the sky's, the share of the sky's light that is missing or added, and how
    it flashes from the side."""

    card: Colour
    x: float
    fill: str
    contrast: float
    flash: Flash


@dataclass(frozen=True, slots=True)
class Look:
    """All of the drawing. `stops` are the water's own light by depth: offset in per cent, and fill."""

    stops: tuple[tuple[float, str], ...]
    depths: tuple[tuple[float, float], ...]  # feet, y
    hung: tuple[Hung, ...]
    placed: tuple[Placed, ...]
    pairs: tuple[DrawnPair, ...]
    windows: tuple[Window, ...]
    sky: str  # the fill of the sky from below


def draw(cards: Sequence[Colour], view: View, below: bool) -> Look:
    """The drawing of some colours in a water, from the side or from below."""
    step = (WIDE - LEFT) / max(len(cards), 1)
    rows = [(depth, TOP + (TALL - TOP - 36) * index / (len(DEPTHS_FT) - 1)) for index, depth in enumerate(DEPTHS_FT)]
    stops, hung = [], []
    for depth, y in rows:
        shown, water = screen(cards, replace(view, depth_ft=depth, range_ft=view.distance_ft / CLOSER))
        stops.append((round(100 * (y + 10) / TALL, 1), to_hex(water)))
        for index, parts in enumerate(shown):
            tops = (0.0, 6.0, 14.0)
            bands = tuple((top, to_hex(part)) for top, part in zip(tops, parts, strict=True))
            hung.append(Hung(LEFT + step * index + 6, y, bands))
    sky = sky_above(view.light)
    places = points_below(cards, view, sky) if below else points(cards, view)
    undersides, behind = screen_below(cards, replace(view, range_ft=view.distance_ft / CLOSER), sky)
    windows = tuple(
        Window(card, WIDE * (index + 0.5) / len(cards), to_hex(fill[0]), float(contrast), flash)
        for index, (card, fill, contrast, flash) in enumerate(
            zip(cards, undersides, outlines(cards, view, sky), find_flashes(cards, view), strict=True)
        )
    )
    return Look(
        tuple(stops), tuple(rows), tuple(hung), _placed(cards, places), find_pairs(cards, view, below), windows,
        to_hex(behind),
    )  # fmt: skip


def find_pairs(cards: Sequence[Colour], view: View, below: bool) -> tuple[DrawnPair, ...]:
    """Each two of some colours, least apart first."""
    called = call_pairs(cards, view, below)
    rows, columns = np.triu_indices(len(cards), 1)
    found = []
    for one, other in zip(rows.tolist(), columns.tolist(), strict=True):
        says = called.said(one, other)
        ruled = None if below else ruling(cards[one], cards[other])
        if ruled and ruled.anglers == says:
            ruled = None
        pair = DrawnPair(
            cards[one], cards[other], float(called.far[one, other]), float(called.near[one, other]), says, ruled
        )
        found.append(pair)
    return tuple(sorted(found, key=lambda pair: pair.far))


def tell_beside(pair: tuple[Colour, Colour], view: View, below: bool) -> dict[str, Any]:
    """Two colours side by side, by depth and visibility, as the page's script takes it."""
    table = look_beside(pair, view, BESIDE_FT, BESIDE_IN, below)
    return {
        "depths": BESIDE_FT, "visibilities": BESIDE_IN, "lures": table.lures.tolist(), "behind": table.behind.tolist(),
        "apart": table.apart.tolist(), "near": table.near.tolist(), "at": [view.depth_ft, view.visibility_in],
        "below": below,
    }  # fmt: skip


@dataclass(frozen=True, slots=True)
class Chart:
    """How much of a colour is left, depth against visibility, and the angler's days as dots."""

    cells: tuple[tuple[float, float, float, float], ...]  # x, y, share left, how dark it is drawn
    across: tuple[tuple[float, float], ...]  # inches, x
    down: tuple[tuple[float, float], ...]  # feet, y
    dots: tuple[tuple[float, float, float], ...]  # x, y, radius
    days: float


def make_chart(card: Colour, view: View, days: Days) -> Chart:
    """The chart of one colour, in the water and under the sky that are looked at."""
    shares = remaining_light(card, CHART_IN, CHART_FT, view.stain, view.light, view.eye)
    across = tuple((inches, CHART_LEFT + CELL * index) for index, inches in enumerate(CHART_IN))
    down = tuple((feet, CHART_TOP + CELL_TALL * index) for index, feet in enumerate(CHART_FT))
    cells = tuple(
        (x, y, float(shares[row, column]), round(float(shares[row, column]) ** 0.5, 2))
        for row, (_, y) in enumerate(down)
        for column, (_, x) in enumerate(across)
    )
    views = sight_views(days.kept)
    at: dict[tuple[float, float], float] = {}
    for one, count in views.items():
        place = _along(one.visibility_in, CHART_IN), _along(one.depth_ft, CHART_FT)
        at[place] = at.get(place, 0.0) + count
    dots = tuple(
        (CHART_LEFT + (x + 0.5) * CELL, CHART_TOP + (y + 0.5) * CELL_TALL, round(2 + min(count, 36) ** 0.5, 1))
        for (x, y), count in at.items()
    )
    return Chart(cells, across, down, dots, sum(views.values()))


def _along(value: float, marks: Sequence[float]) -> float:
    """Where a value lies among marks, on a scale of ratios between them; rounded so that near days are one dot."""
    return round(float(np.interp(np.log(value), np.log(marks), np.arange(len(marks)))), 1)


def _placed(cards: Sequence[Colour], places: NDArray[np.float64]) -> tuple[Placed, ...]:
    sides = places[:, places.shape[1] // 2]
    most = max(float(np.abs(sides).max(initial=0.0)), 0.5)
    wide, tall = PLOT_WIDE / 2 - PLOT_RIM, PLOT_TALL / 2 - PLOT_RIM
    return tuple(
        Placed(card, round(PLOT_WIDE / 2 + hue / most * wide, 1), round(PLOT_TALL / 2 - bright / most * tall, 1))
        for card, (hue, bright) in zip(cards, sides.tolist(), strict=True)
    )
