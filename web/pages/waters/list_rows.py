"""The list of days as a board: clarity down, light across; and its sentence."""

from dataclasses import dataclass

from tackle.base.vocabulary import Light, ids
from tackle.situations.clarity import BANDS, HOUSE_LADDER
from tackle.situations.expected import without_rare
from tackle.situations.expected_rows import ExpectedDays
from tackle.situations.rows import MILLION


@dataclass(frozen=True, slots=True)
class WaterRow:
    band: str
    low_in: float
    below_in: float | None
    cells: tuple[tuple[str, float], ...]  # light, days


@dataclass(frozen=True, slots=True)
class WaterBoard:
    """Days by clarity and light, what is set aside as too rare, and what the sentence on top tells."""

    rows: list[WaterRow]
    total: float
    aside_days: float
    fair_days: float
    mostly: str


def make_board(expected: ExpectedDays, rare_days: float) -> WaterBoard:
    """The board of some expected days."""
    kept, aside = without_rare(expected, rare_days)
    cells = {(band, light.value): 0 for band in BANDS for light in Light}
    for band, light, _, _, millionths in kept.by_place():
        cells[band, light.value] += millionths
    bands = {band: sum(cells[band, light.value] for light in Light) / MILLION for band in BANDS}
    mostly = max(bands, key=lambda band: bands[band])
    return WaterBoard(
        rows=[
            WaterRow(band, *HOUSE_LADDER.band_range(band), tuple((one, cells[band,
            one] / MILLION) for one in ids(Light)))
            for band in reversed(BANDS)
        ],
        total=int(expected.millionths.sum()) / MILLION,
        aside_days=sum(one.days for one in aside),
        fair_days=sum(cells[mostly, light] for light in ("bright", "broken")) / MILLION,
        mostly=mostly,
    )  # fmt: skip
