"""The ten kinds of water as ten small drawn years, in the tints of what one sees in them."""

from dataclasses import dataclass

from tackle.base.units import System, write_length
from tackle.situations.clarity import HOUSE_LADDER
from tackle.situations.regions import Region
from tackle.situations.starting import WaterKind, kinds
from web.common.ui.words import label

WIDTH, HEIGHT, DEEPEST_IN = 192, 78, 120.0


@dataclass(frozen=True, slots=True)
class Drawn:
    """A kind of water: `band` is the polygon between its poor and its good visibility, down from the surface; something
    white usually goes out of sight at `depth`."""

    id: str
    name: str
    tint: str
    band: str
    usual: str
    depth: float


def drawn_kinds(units: System, region: Region) -> list[Drawn]:
    """All kinds, as they are in a region."""
    return [_drawn(kind, units, region) for kind in kinds().values()]


def _drawn(kind: WaterKind, units: System, region: Region) -> Drawn:
    # The middle of each quarter is said; between them a year has no corners.
    spreads = [kind.month(month, region).spread for month in (1, 4, 7, 10, 1)]
    low = [(i * WIDTH / 4, _down(spread.low_in)) for i, spread in enumerate(spreads)]
    high = [(i * WIDTH / 4, _down(spread.high_in)) for i, spread in enumerate(spreads)]
    usual = sum(spread.usual_in for spread in spreads[:4]) / 4
    points = " ".join(f"{x:.0f},{y:.1f}" for x, y in (*low, *reversed(high)))
    return Drawn(
        kind.id, label(kind.id), HOUSE_LADDER.band_at(usual), points, write_length(round(usual), units), _down(usual)
    )


def _down(inches: float) -> float:
    return 3 + min(inches, DEEPEST_IN) / DEEPEST_IN * (HEIGHT - 3)
