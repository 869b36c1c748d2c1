"""How alike two cards are, by what is seen of them: back, side, belly, opacity, finish, flake, accents."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.base.vocabulary import Accent, Brightness, Tone
from tackle.colours.colour import Colour

__all__ = [
    "difference", "lab", "to_lab", "lab_to_linear", "most_alike", "never_one", "unlike_traits",
]  # fmt: skip

_LINEAR_TO_XYZ: Final = np.array([
    [0.4124564, 0.3575761, 0.1804375], [0.2126729, 0.7151522, 0.0721750], [0.0193339, 0.1191920, 0.9503041],
])  # fmt: skip
_D65_WHITE: Final = np.array([0.95047, 1.0, 1.08883])


@lru_cache(maxsize=4096)
def lab(srgb_hex: str) -> NDArray[np.float64]:
    """CIE L*a*b* (D65, shape (3,)) of an sRGB hex. Sources: IEC 61966-2-1 and CIE 15:2004."""
    encoded = np.array([int(srgb_hex[i : i + 2], 16) / 255 for i in (1, 3, 5)])
    return to_lab(np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4))


def to_lab(linear: NDArray[np.float64]) -> NDArray[np.float64]:
    """CIE L*a*b* (D65) of linear sRGB light, shape (..., 3). Source: CIE 15:2004."""
    ratio = linear @ _LINEAR_TO_XYZ.T / _D65_WHITE
    root = np.where(ratio > (6 / 29) ** 3, np.cbrt(ratio), ratio / (3 * (6 / 29) ** 2) + 4 / 29)
    x, y, z = root[..., 0], root[..., 1], root[..., 2]
    return np.stack([116 * y - 16, 500 * (x - y), 200 * (y - z)], axis=-1)


def lab_to_linear(colour: NDArray[np.float64]) -> NDArray[np.float64]:
    """Linear sRGB light of CIE L*a*b* (D65), shape (..., 3); may lie outside 0 to 1. Source: CIE 15:2004."""
    y = (colour[..., 0] + 16) / 116
    root = np.stack([y + colour[..., 1] / 500, y, y - colour[..., 2] / 200], axis=-1)
    ratio = np.where(root > 6 / 29, root**3, 3 * (6 / 29) ** 2 * (root - 4 / 29))
    return np.asarray(ratio * _D65_WHITE @ np.linalg.inv(_LINEAR_TO_XYZ).T, dtype=np.float64)


def difference(one: Colour, other: Colour) -> float:
    """The largest CIE 1976 colour difference between two cards' backs, sides and bellies (0: identical)."""
    return max(
        float(np.linalg.norm(lab(getattr(one, part)) - lab(getattr(other, part)))) for part in ("back", "side", "belly")
    )


def unlike_traits(one: Colour, other: Colour) -> tuple[str, ...]:
    """The seen traits in which two cards differ: opacity, finish, flake, flake_hues, accents."""
    seen = ("opacity", "finish", "flake", "flake_hues", "accents")
    return tuple(trait for trait in seen if _plain(getattr(one, trait)) != _plain(getattr(other, trait)))


def most_alike(card: Colour, others: Iterable[Colour]) -> list[tuple[Colour, float, tuple[str, ...]]]:
    """Cards by how much they look like one, the most alike first: fewest traits that differ, then least apart. Each
    with its difference and these traits."""
    found = [(other, difference(card, other), unlike_traits(card, other)) for other in others]
    return sorted(found, key=lambda one: (len(one[2]), one[1]))


# What anglers never take for one colour, whatever the plan makes of it: orange or none, one belly or another, one back
# or another; and the two greens, between which clarity decides.
_TELLING: Final = frozenset((
    Accent.ORANGE_BELLY, Accent.ORANGE_TIPS, Accent.RED_THROAT, Accent.PALE_BELLY, Accent.YELLOW_BELLY,
    Accent.CHARTREUSE_BELLY, Accent.CHARTREUSE_TAIL, Accent.WHITE_BACK,
))  # fmt: skip
_TWO_GREENS: Final = frozenset((Tone.WATERMELON, Tone.GREEN_PUMPKIN))


def never_one(one: Colour, other: Colour) -> bool:
    """Whether two cards are two colours to an angler, even where a plan has the same use for both."""
    return (
        one.opacity != other.opacity
        or one.finish != other.finish
        or (Brightness.MUTED in (one.brightness, other.brightness) and one.brightness != other.brightness)
        or bool((frozenset(one.accents) ^ frozenset(other.accents)) & _TELLING)
        or {one.tone, other.tone} == _TWO_GREENS
    )


def _plain(value: object) -> object:
    return frozenset(value) if isinstance(value, tuple) else value
