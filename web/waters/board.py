"""The board of days: clarity down, light across."""

from dataclasses import dataclass

from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.vocabulary import Light
from web.waters.models import Water


@dataclass(frozen=True, slots=True)
class Row:
    band: str
    low_in: float
    below_in: float | None
    cells: tuple[tuple[str, float], ...]  # light, days


def board_of(water: Water) -> list[Row]:
    """The rows of a water's board, clearest first."""
    days = {(cell.band, cell.light): cell.days for cell in water.expected.all()}
    return [
        Row(band, *HOUSE_LADDER.range_of(band), tuple((light.value, days.get((band, light), 0.0)) for light in Light))
        for band in reversed(BANDS)
    ]


def busiest(water: Water) -> tuple[str, float] | None:
    """The clarity band with most days, and its days."""
    totals = {band: sum(cell.days for cell in water.expected.all() if cell.band == band) for band in BANDS}
    band = max(totals, key=lambda name: totals[name])
    return (band, totals[band]) if totals[band] else None
