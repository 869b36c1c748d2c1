"""The grid of a tray laid straight: four corners in the picture become a rectangle of equal compartments."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from tackle.base.errors import InvalidInput

__all__ = ["CELL_H", "CELL_W", "Point", "polygon_area", "compartments", "outlines", "perspective"]

CELL_W, CELL_H = 220, 100  # pixels of one compartment laid straight
Point = tuple[float, float]


def perspective(at: Sequence[Point], to: Sequence[Point]) -> list[float]:
    """The eight coefficients that carry each of four points `at` to its fellow in `to`.

    For x' = (a x + b y + c) / (g x + h y + 1) and y' = (d x + e y + f) / (g x + h y + 1), as Pillow wants them; the
    usual linear system of a plane homography (Hartley & Zisserman 2004, 4.1). Raises InvalidInput where no such map is.
    """
    rows, values = [], []
    for (x, y), (u, v) in zip(at, to, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        values += [u, v]
    try:
        return [float(one) for one in np.linalg.solve(np.array(rows, dtype=float), np.array(values, dtype=float))]
    except np.linalg.LinAlgError:
        raise InvalidInput("corners", "lie on one line", "the four corners of the tray") from None


def compartments(image: Image.Image, corners: Sequence[Point], rows: int, columns: int) -> list[NDArray[np.uint8]]:
    """The compartments row by row, each (CELL_H, CELL_W, 3) sRGB.

    `corners`: of the grid in pixels, from the top left clockwise. Raises InvalidInput where they make no grid.
    """
    if not (1 <= rows <= 20 and 1 <= columns <= 20):
        raise InvalidInput("grid", f"{rows} by {columns} is not allowed", "1 to 20 rows and columns")
    if len(corners) != 4 or polygon_area(corners) < 32 * 32:
        raise InvalidInput("corners", "make no tray", "four corners, from the top left clockwise")
    width, height = columns * CELL_W, rows * CELL_H
    flat = [(0.0, 0.0), (float(width), 0.0), (float(width), float(height)), (0.0, float(height))]
    straight = image.convert("RGB").transform(
        (width, height), Image.Transform.PERSPECTIVE, perspective(flat, corners), Image.Resampling.BILINEAR
    )
    pixels = np.asarray(straight, dtype=np.uint8)
    return [
        pixels[r * CELL_H : (r + 1) * CELL_H, c * CELL_W : (c + 1) * CELL_W]
        for r in range(rows)
        for c in range(columns)
    ]  # fmt: skip


def outlines(corners: Sequence[Point], rows: int, columns: int) -> list[list[Point]]:
    """The four corners of each compartment in the picture, row by row, clockwise from its top left."""
    flat = [(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)]
    a, b, c, d, e, f, g, h = perspective(flat, corners)

    def at(u: float, v: float) -> Point:
        below = g * u + h * v + 1
        return (a * u + b * v + c) / below, (d * u + e * v + f) / below

    return [
        [at((x + right) / columns, (y + low) / rows) for right, low in ((0, 0), (1, 0), (1, 1), (0, 1))]
        for y in range(rows)
        for x in range(columns)
    ]


def polygon_area(corners: Sequence[Point]) -> float:
    """The area of a polygon by its corners (the shoelace formula)."""
    return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(corners, [*corners[1:], corners[0]], strict=True))) / 2
