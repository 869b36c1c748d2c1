"""Season phase from water temperature and month, and the temperature that is usual where none was given."""

from __future__ import annotations

from types import MappingProxyType
from typing import Final

from tackle.base.vocabulary import Season

__all__ = ["mid_season_temp_f", "find_season", "usual_temp_f"]

# Surface temperatures (F) of each phase: in its middle; and where colours are chosen without a measurement. The two
# differ where what is eaten turns inside the phase: an unmeasured winter is on the side of the dull crawfish (below
# 42 F), February and what comes before the spawn on that of the red one (42 to 48 F).
_TEMPS_F: Final = MappingProxyType(
    {
        Season.WINTER: (42.0, 40.0),
        Season.PRESPAWN: (54.0, 47.0),
        Season.SPAWN: (65.0, 65.0),
        Season.POSTSPAWN: (72.0, 72.0),
        Season.SUMMER: (78.0, 78.0),
        Season.FALL: (62.0, 62.0),
    }
)
_LATE_WINTER_F: Final = 45.0

_BY_MONTH: Final = (
    Season.WINTER, Season.WINTER, Season.PRESPAWN, Season.SPAWN, Season.SPAWN, Season.POSTSPAWN,
    Season.SUMMER, Season.SUMMER, Season.FALL, Season.FALL, Season.FALL, Season.WINTER,
)  # fmt: skip


def find_season(water_temp_f: float | None, month: int | None) -> Season | None:
    """The phase for a surface temperature (F) and a northern month (1-12), either of which may be unknown.

    Temperature decides between neighbours; the month only tells a warming water from a cooling one.
    """
    if water_temp_f is None:
        return None if month is None else _BY_MONTH[month - 1]
    cooling = month is not None and month >= 8
    if water_temp_f < 48:
        return Season.WINTER
    if water_temp_f >= 75:
        return Season.SUMMER
    if cooling:
        return Season.FALL
    if water_temp_f < 58:
        return Season.PRESPAWN
    return Season.SPAWN if water_temp_f < 68 else Season.POSTSPAWN


def mid_season_temp_f(phase: Season) -> float:
    """The surface temperature (F) in the middle of a phase: by it a kind of lure is thrown or not."""
    return _TEMPS_F[phase][0]


def usual_temp_f(phase: Season, month: int | None) -> float:
    """The surface temperature (F) by which colours are chosen in a phase where nobody measured; in winter February is
    nearer to spring."""
    return _LATE_WINTER_F if phase is Season.WINTER and month == 2 else _TEMPS_F[phase][1]
