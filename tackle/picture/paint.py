"""A picture of a tray painted from lures: uneven light, shadows, noise, a slanted view. A camera to try things with."""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from PIL import Image, ImageDraw, ImageFilter

from tackle.base.vocabulary import Accent, Finish, Flake, Opacity
from tackle.colours.colour import Colour
from tackle.picture.rectify import Point, perspective

__all__ = ["Painted", "paint_tray"]

_CELL_W, _CELL_H = 264, 120
_MARGIN: Final = 70
_SCALE: Final = 2  # painted larger, then shrunk, for smooth edges
_SEEN_THROUGH: Final = {Opacity.OPAQUE: 0.0, Opacity.SEMI: 0.08, Opacity.TRANSLUCENT: 0.2}
_DOTS: Final = {Flake.NONE: (0, 0), Flake.FINE: (70, 1), Flake.MEDIUM: (45, 2), Flake.COARSE: (26, 3)}
_BOTTOM: Final = (176, 184, 186)
_WALL: Final = (120, 128, 132)
_ORANGE, _CHARTREUSE, _RED = (232, 120, 40), (206, 220, 60), (190, 44, 34)


@dataclass(frozen=True, slots=True)
class Painted:
    """The picture, the corners of its grid from the top left clockwise, and a point on the white card beside it."""

    image: Image.Image
    corners: tuple[Point, Point, Point, Point]
    white: Point


def paint_tray(cards: Sequence[Colour | None], rows: int, columns: int, seed: int = 0) -> Painted:
    """A tray of rows x columns compartments, filled row by row; None leaves one empty. The same for one seed."""
    scatter = random.Random(seed)
    width, height = columns * _CELL_W + 2 * _MARGIN, rows * _CELL_H + 2 * _MARGIN
    flat = Image.new("RGB", (width, height), (92, 84, 74))
    draw = ImageDraw.Draw(flat)
    draw.rectangle((_MARGIN - 8, _MARGIN - 8, width - _MARGIN + 8, height - _MARGIN + 8), fill=_WALL)
    for index in range(rows * columns):
        left = _MARGIN + index % columns * _CELL_W
        top = _MARGIN + index // columns * _CELL_H
        draw.rectangle((left + 4, top + 4, left + _CELL_W - 4, top + _CELL_H - 4), fill=_BOTTOM)
        card = cards[index] if index < len(cards) else None
        if card is not None:
            _lay(flat, card, left, top, scatter)
    draw.rectangle((14, 12, 14 + 90, 12 + 40), fill=(236, 236, 236))
    grid = [
        (_MARGIN, _MARGIN),
        (width - _MARGIN, _MARGIN),
        (width - _MARGIN, height - _MARGIN),
        (_MARGIN, height - _MARGIN),
    ]
    return _photographed(flat, [(float(x), float(y)) for x, y in grid], (59.0, 32.0), scatter, seed)


def _lay(flat: Image.Image, card: Colour, left: int, top: int, scatter: random.Random) -> None:
    """One lure with its shadow, lying a little askew, back up."""
    body = _body(card, scatter)
    turned = body.rotate(scatter.uniform(-4, 4), Image.Resampling.BICUBIC, expand=True)
    x = left + (_CELL_W - turned.width) // 2 + scatter.randint(-6, 6)
    y = top + (_CELL_H - turned.height) // 2 + scatter.randint(-3, 3)
    shade = turned.getchannel("A").point(lambda alpha: alpha * 0.28).filter(ImageFilter.GaussianBlur(4))
    flat.paste((40, 42, 44), (x + 5, y + 6), shade)
    flat.paste(turned, (x, y), turned)


def _body(card: Colour, scatter: random.Random) -> Image.Image:
    """A plain bait, head left: back, side and belly blended, with flake, accents, shine and what shows through."""
    width, height = 200 * _SCALE, 62 * _SCALE
    shares = np.linspace(0, 1, height)
    stops = np.array([0.0, 0.2, 0.38, 0.64, 0.8, 1.0])
    colours = np.array([_rgb(one) for one in (card.back, card.back, card.side, card.side, card.belly, card.belly)])
    column = np.stack([np.interp(shares, stops, colours[:, channel]) for channel in range(3)], axis=1)
    through = _SEEN_THROUGH[card.opacity]
    column = column * (1 - through) + np.array(_BOTTOM) * through
    image = Image.fromarray(np.repeat(column[:, None, :], width, axis=1).astype(np.uint8)).convert("RGBA")
    draw = ImageDraw.Draw(image)
    count, radius = _DOTS[card.flake]
    for index in range(count):
        x, y, size = scatter.uniform(0, width), scatter.uniform(0, height), radius * _SCALE
        draw.ellipse((x - size, y - size, x + size, y + size), fill=_rgb(card.flake_srgb[index % len(card.flake_srgb)]))
    _accents(draw, card, width, height)
    if card.finish is Finish.METALLIC:
        draw.rectangle((0, height * 0.3, width, height * 0.34), fill=(250, 250, 250))
    mask = Image.new("L", (width, height))
    outline = ImageDraw.Draw(mask)
    outline.ellipse((0, 0, width * 0.86, height), fill=255)
    outline.polygon(
        [(width * 0.7, height * 0.3), (width, height * 0.12), (width, height * 0.88), (width * 0.7, height * 0.7)],
        fill=255,
    )
    image.putalpha(mask)
    return image.resize((width // _SCALE, height // _SCALE), Image.Resampling.LANCZOS)


def _accents(draw: ImageDraw.ImageDraw, card: Colour, width: int, height: int) -> None:
    accents = set(card.accents)
    if Accent.BARS in accents:
        for share in (0.2, 0.33, 0.46, 0.59):
            draw.rectangle((width * share, 0, width * (share + 0.04), height * 0.55), fill=(52, 62, 40))
    belly = _ORANGE if Accent.ORANGE_BELLY in accents else _CHARTREUSE if Accent.CHARTREUSE_BELLY in accents else None
    if belly:
        draw.ellipse((width * 0.2, height * 0.82, width * 0.6, height * 1.1), fill=belly)
    tail = _ORANGE if Accent.ORANGE_TIPS in accents else _CHARTREUSE if Accent.CHARTREUSE_TAIL in accents else None
    if tail:
        draw.rectangle((width * 0.88, 0, width, height), fill=tail)
    if Accent.RED_THROAT in accents:
        draw.ellipse((width * 0.08, height * 0.68, width * 0.2, height), fill=_RED)


def _photographed(flat: Image.Image, grid: list[Point], white: Point, scatter: random.Random, seed: int) -> Painted:
    """The flat picture seen aslant, in light that falls off and has a cast, with a camera's noise."""
    width, height = flat.size
    lean = 0.045
    edges = [(0.0, 0.0), (float(width), 0.0), (float(width), float(height)), (0.0, float(height))]
    seen = [
        (
            x + scatter.uniform(0, lean) * width * (1 if x == 0 else -1),
            y + scatter.uniform(0, lean) * height * (1 if y == 0 else -1),
        )
        for x, y in edges
    ]
    image = flat.transform(
        flat.size,
        Image.Transform.PERSPECTIVE,
        perspective(seen, edges),
        Image.Resampling.BICUBIC,
        fillcolor=(92, 84, 74),
    )
    there = perspective(edges, seen)
    rows, columns = np.mgrid[0:height, 0:width]
    fall = (
        1.0 + scatter.uniform(0.1, 0.22) * (columns / width - 0.5) + scatter.uniform(-0.2, 0.2) * (rows / height - 0.5)
    )
    cast = np.array([scatter.uniform(0.94, 1.08), 1.0, scatter.uniform(0.86, 1.02)])
    noise = np.random.default_rng(seed).normal(0, 3.0, (height, width, 3))
    lit = np.asarray(image, dtype=np.float64) * fall[..., None] * cast + noise
    corners = tuple(_carried(point, there) for point in grid)
    return Painted(Image.fromarray(np.clip(lit, 0, 255).astype(np.uint8)), corners, _carried(white, there))  # type: ignore[arg-type]


def _carried(point: Point, by: Sequence[float]) -> Point:
    (x, y), (a, b, c, d, e, f, g, h) = point, by
    below = g * x + h * y + 1
    return (a * x + b * y + c) / below, (d * x + e * y + f) / below


def _rgb(srgb_hex: str) -> tuple[int, int, int]:
    return int(srgb_hex[1:3], 16), int(srgb_hex[3:5], 16), int(srgb_hex[5:7], 16)
