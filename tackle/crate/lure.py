"""One kind of lure in the crate, and how many of it are wanted."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil
from types import MappingProxyType
from typing import Final

from tackle.base.vocabulary import CATEGORIES, Brightness, Group
from tackle.colours.colour import Colour

__all__ = [
    "DAYS_FOR_ONE_MORE",
    "OUT_OF_USE",
    "SOUNDS",
    "Form",
    "Lure",
    "find_sound",
    "forms_differ",
    "season_stock",
    "target_count",
]

SOUNDS: Final = ("silent", "rattle", "knock", "blade", "prop")

# What has to be mended before it is thrown again; what is worn or rusty is thrown.
OUT_OF_USE: Final = ("broken", "torn", "no hooks", "melted", "dried out")

# How many of one colour to own, at least and at most: a fish or a snag takes one, and one is none. Soft baits count in
# packs. Every so many days that a colour serves in a season, one more is worth having.
_PAR: Final = MappingProxyType({Group.HARD: (3, 6), Group.WIRE: (3, 6), Group.SKIRTED: (2, 4), Group.SOFT: (2, 4)})
DAYS_FOR_ONE_MORE: Final = 15
EATEN_A_TRIP: Final = 4.0  # soft baits of a colour, where the log does not tell
STOCKED_TRIPS: Final = 10


# Length, weight, running depth and sound, as far as they are told.
Form = tuple[float | None, float | None, float | None, str]
_SAME_SHARE: Final = 0.1  # of the larger: lengths, weights and depths this near are one
_ROUNDING: Final = 1e-9  # 9 and 10 differ by a tenth, not by over one


@dataclass(frozen=True, slots=True)
class Lure:
    """A compartment's content: `count` of one colour in one form; what was not noted of the form is None or empty.

    `size_in` in inches, `weight_oz` in ounces, `depth_ft` the running depth in feet, `sound` one of SOUNDS;
    `condition`: what has happened to it. `kind_word`: of a kind that goes in as the nearest of ours, its own word.
    """

    ref: str
    category: str
    card: Colour
    name: str
    count: int
    size_in: float | None = None
    weight_oz: float | None = None
    depth_ft: float | None = None
    sound: str = ""
    condition: str = ""
    kind_word: str = ""

    @property
    def is_usable(self) -> bool:
        """Whether it can be thrown as it is."""
        return self.condition not in OUT_OF_USE

    @property
    def form(self) -> Form:
        """What makes two lures of one colour different things."""
        return self.size_in, self.weight_oz, self.depth_ft, self.sound


def forms_differ(one: Form, other: Form, sizes_same: bool = False) -> bool:
    """Whether two forms are two things: by length, weight or depth where both tell one, by sound where both do.

    `sizes_same`: length, weight and depth make no difference.
    """
    if one[3] and other[3] and one[3] != other[3]:
        return True
    if sizes_same:
        return False
    data = ((a, b) for a, b in zip(one[:3], other[:3], strict=True) if a is not None and b is not None)
    return any(abs(a - b) > _SAME_SHARE * max(a, b) + _ROUNDING for a, b in data)


def target_count(category: str, card: Colour, days: float = 0.0) -> int:
    """How many of a colour to own that serves so many days of the plan. Of a loud one, one fewer, and never more."""
    least, most = _PAR[CATEGORIES[category].group]
    if card.brightness is Brightness.BRIGHT:
        return least - 1
    return min(most, least + int(days // DAYS_FOR_ONE_MORE))


def season_stock(category: str, eaten: float | None = None) -> int:
    """How many of one colour of a category are used up before one buys again, of which none is surplus: soft baits are
    eaten, so many a trip (`eaten`, else a usual number), for as many trips; of others none."""
    if CATEGORIES[category].group is not Group.SOFT:
        return 0
    return ceil((EATEN_A_TRIP if eaten is None else eaten) * STOCKED_TRIPS)


def find_sound(text: str) -> str | None:
    """The sound that a word stands for: "rattles" and "rattling" are a rattle. None where it is none."""
    return next((sound for sound in SOUNDS if text.lower()[:4] == sound[:4]), None)
