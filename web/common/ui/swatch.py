"""The stick: how one colour card is drawn. Geometry and colours only; ui/stick.html turns them into SVG.

Everything is presentation attributes, with no ids and no gradients, so that the same drawing holds under a
strict Content-Security-Policy, many times on a page, and in print.
"""

from __future__ import annotations

import random
from dataclasses import dataclass
from typing import Final

from tackle.base.vocabulary import Accent, Finish, Flake, Opacity
from tackle.colours.colour import Colour

WIDTH: Final = 132
_LEFT, _SHOULDER, _TIP = 28.0, 106.0, 128.0
_TOP, _BOTTOM, _TIP_TOP, _TIP_BOTTOM = 2.0, 22.0, 9.0, 15.0
_SLICES: Final = 10
_DOTS: Final = {Flake.NONE: (0, 0.0), Flake.FINE: (44, 0.55), Flake.MEDIUM: (30, 0.95), Flake.COARSE: (20, 1.5)}
_WAX: Final = {Opacity.OPAQUE: 1.0, Opacity.SEMI: 0.86, Opacity.TRANSLUCENT: 0.62}
_CORE: Final = {Opacity.OPAQUE: 0.0, Opacity.SEMI: 0.35, Opacity.TRANSLUCENT: 0.8}
ORANGE: Final = "#f07f1e"
CHARTREUSE: Final = "#d3e32c"
RED: Final = "#c22a1e"
PATCHES: Final = {
    Accent.ORANGE_BELLY: ORANGE, Accent.CHARTREUSE_BELLY: CHARTREUSE, Accent.YELLOW_BELLY: "#e3d27a",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Stick:
    """What the template draws, in a box of WIDTH x 24."""

    card: Colour
    layers: tuple[tuple[str, str], ...]  # points, fill
    wax: float
    core: float
    dots: tuple[tuple[float, float, float, str], ...]  # x, y, radius, fill
    band: float  # pearl
    streak: float  # metallic
    bars: tuple[float, ...]
    belly_patch: str
    tip: str
    throat: str
    edge: str


def draw_swatch(card: Colour) -> Stick:
    """The drawing of a card; the flake falls in the same places every time."""
    accents = set(card.accents)
    tip = ORANGE if Accent.ORANGE_TIPS in accents else CHARTREUSE if Accent.CHARTREUSE_TAIL in accents else ""
    patch = next((colour for accent, colour in PATCHES.items() if accent in accents), "")
    return Stick(
        card=card,
        layers=tuple(_layers(card)),
        wax=_WAX[card.opacity],
        core=_CORE[card.opacity],
        dots=tuple(_dots(card)),
        band=0.38 if card.finish is Finish.PEARL else 0.0,
        streak=0.92 if card.finish is Finish.METALLIC else 0.0,
        bars=(38.0, 51.0, 64.0, 77.0, 90.0) if Accent.BARS in accents else (),
        belly_patch=patch,
        tip=tip,
        throat=RED if Accent.RED_THROAT in accents else "",
        edge="#55676d" if _is_dark(card.side) else "#8b989b",
    )


def _right(y: float) -> float:
    """Where the wax ends at a height: the tip tapers from the shoulder."""
    if _TIP_TOP <= y <= _TIP_BOTTOM:
        return _TIP
    share = (y - _TOP) / (_TIP_TOP - _TOP) if y < _TIP_TOP else (_BOTTOM - y) / (_BOTTOM - _TIP_BOTTOM)
    return _SHOULDER + share * (_TIP - _SHOULDER)


def _layers(card: Colour) -> list[tuple[str, str]]:
    """Back, side and belly in slices from the back down, each drawn to the bottom so that no seam shows."""
    step = (_BOTTOM - _TOP) / _SLICES
    layers = []
    for index in range(_SLICES):
        top = _TOP + index * step
        shoulders = [(_LEFT, top), (_right(top), top)]
        tips = [(_TIP, y) for y in (_TIP_TOP, _TIP_BOTTOM) if y > top]
        corners = [*shoulders, *tips, (_SHOULDER, _BOTTOM), (_LEFT, _BOTTOM)]
        points = " ".join(f"{x:.1f},{y:g}" for x, y in corners)
        layers.append((points, _blend(card, (index + 0.5) / _SLICES)))
    return layers


def _blend(card: Colour, at: float) -> str:
    """The colour at a share of the height: back to 0.2, side around 0.5, belly from 0.8."""
    if at < 0.5:
        one, other, share = card.back, card.side, min(max((at - 0.2) / 0.2, 0.0), 1.0)
    else:
        one, other, share = card.side, card.belly, min(max((at - 0.6) / 0.2, 0.0), 1.0)
    mixed = (round(int(one[i : i + 2], 16) * (1 - share) + int(other[i : i + 2], 16) * share) for i in (1, 3, 5))
    return "#" + "".join(f"{part:02x}" for part in mixed)


def _dots(card: Colour) -> list[tuple[float, float, float, str]]:
    count, radius = _DOTS[card.flake]
    scatter = random.Random(card.id)
    dots = []
    for index in range(count):
        y = scatter.uniform(_TOP + 2, _BOTTOM - 2)
        x = scatter.uniform(_LEFT + 4, _right(y) - 4)
        dots.append((round(x, 1), round(y, 1), radius, card.flake_srgb[index % len(card.flake_srgb)]))
    return dots


def _is_dark(srgb: str) -> bool:
    red, green, blue = (int(srgb[i : i + 2], 16) for i in (1, 3, 5))
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue < 90
