"""8-bit sRGB to linear light and back."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

__all__ = ["encoded", "to_hex", "to_linear", "linear_light"]


def linear_light(pixels: NDArray[np.uint8]) -> NDArray[np.float64]:
    """Linear light, 0 to 1, from 8-bit sRGB (IEC 61966-2-1)."""
    coded = pixels / 255
    return np.where(coded <= 0.04045, coded / 12.92, ((coded + 0.055) / 1.055) ** 2.4)


def encoded(linear: NDArray[np.float64]) -> NDArray[np.uint8]:
    """8-bit sRGB from linear light (IEC 61966-2-1)."""
    coded = np.where(linear <= 0.0031308, linear * 12.92, 1.055 * np.maximum(linear, 1e-9) ** (1 / 2.4) - 0.055)
    return np.asarray(np.rint(np.clip(coded, 0, 1) * 255), dtype=np.uint8)


def to_hex(linear: NDArray[np.float64]) -> str:
    """The sRGB hex (#rrggbb) of linear light, (3,)."""
    return "#" + "".join(f"{part:02x}" for part in encoded(linear))


def to_linear(hexes: Sequence[str]) -> NDArray[np.float64]:
    """Linear light, (n, 3), of sRGB hexes (#rrggbb)."""
    parts = bytes.fromhex("".join(one[1:] for one in hexes))
    return linear_light(np.frombuffer(parts, dtype=np.uint8).reshape(-1, 3))
