"""How alike two cards are, by what is seen of them: back, side, belly, opacity, finish, flake, accents."""

from __future__ import annotations

from functools import cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from tackle.colours.card import Card

__all__ = ["SAME_WITHIN", "difference", "lab", "lab_of", "linear_of", "unlike_traits"]

# CIE 1976 differences: about 2.3 is just noticeable side by side in air; an arm's length apart, in two
# trays, twice that and more passes for the same colour.
SAME_WITHIN: Final = 6.0

_LINEAR_TO_XYZ: Final = np.array([
    [0.4124564, 0.3575761, 0.1804375], [0.2126729, 0.7151522, 0.0721750], [0.0193339, 0.1191920, 0.9503041],
])  # fmt: skip
_D65_WHITE: Final = np.array([0.95047, 1.0, 1.08883])


@cache
def lab(srgb_hex: str) -> NDArray[np.float64]:
    """CIE L*a*b* (D65, shape (3,)) of an sRGB hex. Sources: IEC 61966-2-1 and CIE 15:2004."""
    encoded = np.array([int(srgb_hex[i : i + 2], 16) / 255 for i in (1, 3, 5)])
    return lab_of(np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4))


def lab_of(linear: NDArray[np.float64]) -> NDArray[np.float64]:
    """CIE L*a*b* (D65) of linear sRGB light, shape (..., 3). Source: CIE 15:2004."""
    ratio = linear @ _LINEAR_TO_XYZ.T / _D65_WHITE
    root = np.where(ratio > (6 / 29) ** 3, np.cbrt(ratio), ratio / (3 * (6 / 29) ** 2) + 4 / 29)
    x, y, z = root[..., 0], root[..., 1], root[..., 2]
    return np.stack([116 * y - 16, 500 * (x - y), 200 * (y - z)], axis=-1)


def linear_of(colour: NDArray[np.float64]) -> NDArray[np.float64]:
    """Linear sRGB light of CIE L*a*b* (D65), shape (..., 3); may lie outside 0 to 1. Source: CIE 15:2004."""
    y = (colour[..., 0] + 16) / 116
    root = np.stack([y + colour[..., 1] / 500, y, y - colour[..., 2] / 200], axis=-1)
    ratio = np.where(root > 6 / 29, root**3, 3 * (6 / 29) ** 2 * (root - 4 / 29))
    return np.asarray(ratio * _D65_WHITE @ np.linalg.inv(_LINEAR_TO_XYZ).T, dtype=np.float64)


def difference(one: Card, other: Card) -> float:
    """The largest CIE 1976 colour difference between two cards' backs, sides and bellies (0: identical)."""
    return max(
        float(np.linalg.norm(lab(getattr(one, part)) - lab(getattr(other, part)))) for part in ("back", "side", "belly")
    )


def unlike_traits(one: Card, other: Card) -> tuple[str, ...]:
    """The seen traits in which two cards differ: opacity, finish, flake, flake_hues, accents."""
    seen = ("opacity", "finish", "flake", "flake_hues", "accents")
    return tuple(trait for trait in seen if _plain(getattr(one, trait)) != _plain(getattr(other, trait)))


def _plain(value: object) -> object:
    return frozenset(value) if isinstance(value, tuple) else value
