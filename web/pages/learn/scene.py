"""A day as a small scene: the sky, the water with a white lure as deep as it shows, and what is eaten."""

from dataclasses import dataclass
from math import log

from tackle.base.units import System, write_length
from tackle.base.vocabulary import Wind
from tackle.situations.clarity import HOUSE_LADDER
from tackle.situations.situation import Situation
from web.pages.learn.wording import day_told

SURFACE, BOTTOM = 46, 146  # of a drawing 240 x 150
_SHALLOWEST, _DEEPEST = 3.0, 240.0  # inches, drawn on a logarithmic scale


@dataclass(frozen=True, slots=True)
class Scene:
    """What the drawing shows; `said`: the same in words."""

    band: str
    stain: str
    light: str
    choppy: bool
    food: str
    shows_to: float  # where in the drawing the white lure is gone
    shows: str
    said: str


def make_scene(situation: Situation, units: System) -> Scene:
    """The scene of a situation."""
    band = HOUSE_LADDER.band_at(situation.visibility_in)
    inches = min(max(situation.visibility_in, _SHALLOWEST * 1.2), _DEEPEST)
    down = log(inches / _SHALLOWEST) / log(_DEEPEST / _SHALLOWEST)
    return Scene(
        band, situation.stain, situation.light, situation.wind is Wind.CHOP, situation.forage[0],
        round(SURFACE + 12 + down * (BOTTOM - SURFACE - 26), 1), write_length(round(situation.visibility_in), units),
        day_told(situation, band, units),
    )  # fmt: skip
