"""Whether a mirror calls fish up from below: as an outline against the sky, or by its flash to the side."""

from __future__ import annotations

from dataclasses import dataclass, replace

from tackle.base.vocabulary import Light
from tackle.colours.colour import Colour
from tackle.sight.below import outlines, sky_above
from tackle.sight.flash import Flash, find_flashes
from tackle.sight.look import View

__all__ = ["Calling", "find_calling"]


@dataclass(frozen=True, slots=True)
class Calling:
    """How much of an outline a mirror and a plain lure are from below, 0 to 1; how the mirror flashes in sun, and under
    cloud."""

    mirror: float
    plain: float
    sunny: Flash
    cloudy: Flash


def find_calling(mirror: Colour, plain: Colour, view: View) -> Calling:
    """What there is to be seen of a mirror in some water, beside a plain lure."""
    sunny, cloudy = (find_flashes([mirror], replace(view, light=light))[0] for light in (Light.BRIGHT, Light.OVERCAST))
    shines, other = outlines([mirror, plain], view, sky_above(view.light))
    return Calling(float(shines), float(other), sunny, cloudy)
