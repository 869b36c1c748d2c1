"""What lies in one compartment: the background taken away, the lure's back, side and belly, and the nearest cards."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from tackle.colours.card import Card
from tackle.colours.likeness import lab, lab_of, linear_of
from tackle.picture.rectify import CELL_H, CELL_W, Point, compartments

__all__ = ["Offer", "Sampled", "balanced", "offers", "read_tray", "sample", "seen_at"]

_RIM: Final = 0.07  # of a compartment's width and height: what is taken for its bottom
_APART: Final = 6.0  # CIE 1976: from here on a pixel is not the bottom's
_LEAST: Final = 0.04  # of the compartment: less is dirt, not a lure
_CLUSTERS: Final = 4
_SMALL: Final = 0.12  # a cluster with less of the lure is flake or glare
_WEIGHTS: Final = np.array([0.3, 0.45, 0.25])  # back, side, belly


@dataclass(frozen=True, slots=True)
class Sampled:
    """A lure as seen: sRGB hexes of back, side and belly, and how much of it sparkles, 0 to 1."""

    back: str
    side: str
    belly: str
    sparkle: float


@dataclass(frozen=True, slots=True)
class Offer:
    """A card that may be it, and how far it is from what was seen (CIE 1976, weighted over back, side and belly)."""

    card: Card
    apart: float


def balanced(image: Image.Image, white: Point | None) -> Image.Image:
    """The picture with what is at `white` made neutral, and light enough; without a point, as it is.

    Von Kries scaling of the channels, in linear light, by the median of a small square around the point.
    """
    pixels = _linear(np.asarray(image.convert("RGB"), dtype=np.uint8))
    if white is None:
        return image.convert("RGB")
    x, y = (min(max(round(at), 4), most - 5) for at, most in zip(white, image.size, strict=True))
    seen = np.median(pixels[y - 4 : y + 5, x - 4 : x + 5].reshape(-1, 3), axis=0)
    gain = 0.85 / np.maximum(seen, 0.02)
    return Image.fromarray(_encoded(np.clip(pixels * gain, 0, 1)))


def read_tray(
    image: Image.Image, corners: Sequence[Point], rows: int, columns: int, white: Point | None = None
) -> list[Sampled | None]:
    """What lies in each compartment, row by row; None where it is empty. Raises Refused where there is no grid.

    Light that falls off over the tray is evened out by the compartments' bottoms, which are of one colour.
    """
    cells = compartments(balanced(image, white), corners, rows, columns)
    bottoms = [np.median(_linear(cell)[_rim_mask()], axis=0) for cell in cells]
    common = np.median(np.array(bottoms), axis=0)
    return [
        sample(_encoded(np.clip(_linear(cell) * np.clip(common / np.maximum(bottom, 0.01), 0.5, 2.0), 0, 1)))
        for cell, bottom in zip(cells, bottoms, strict=True)
    ]


def seen_at(image: Image.Image, back: Point, side: Point, belly: Point, white: Point | None = None) -> Sampled:
    """A lure by three points on it: the median of a small square around each."""
    pixels = lab_of(_linear(np.asarray(balanced(image, white), dtype=np.uint8)))
    found = []
    for point in (back, side, belly):
        x, y = (min(max(round(at), 2), most - 3) for at, most in zip(point, image.size, strict=True))
        found.append(_hex(np.median(pixels[y - 2 : y + 3, x - 2 : x + 3].reshape(-1, 3), axis=0)))
    return Sampled(found[0], found[1], found[2], 0.0)


def sample(cell: NDArray[np.uint8]) -> Sampled | None:
    """The lure in one compartment laid straight, back up; None where there is none."""
    seen = lab_of(_linear(cell))
    bottom = np.median(seen[_rim_mask()], axis=0)
    spread = np.median(np.linalg.norm(seen[_rim_mask()] - bottom, axis=1))
    lure = np.linalg.norm(seen - bottom, axis=2) > max(_APART, 3.5 * spread)
    lure &= ~_shadow(seen, bottom)
    lure = _joined(lure)
    if lure.mean() < _LEAST:
        return None
    main = _without_small_clusters(seen, lure)
    heights = _heights(lure)
    parts = []
    for low, high in ((0.0, 0.22), (0.36, 0.66), (0.78, 1.0)):
        band = main & (heights >= low) & (heights <= high)
        chosen = seen[band] if band.sum() >= 12 else seen[main] if main.any() else seen[lure]
        parts.append(np.median(chosen, axis=0))
    sparkle = float((lure & ~main).sum() / lure.sum())
    back, side, belly = (_hex(part) for part in parts)
    return Sampled(back, side, belly, sparkle)


def offers(seen: Sampled, cards: Sequence[Card], most: int = 3) -> list[Offer]:
    """The nearest cards, at most one of each tone, either side up."""
    mine = np.array([lab(seen.back), lab(seen.side), lab(seen.belly)])
    best: dict[str, Offer] = {}
    for card in cards:
        parts = np.array([lab(card.back), lab(card.side), lab(card.belly)])
        ways = (float(_WEIGHTS @ np.linalg.norm(parts - way, axis=1)) for way in (mine, mine[::-1]))
        offer = Offer(card, round(min(ways), 2))
        if card.tone not in best or offer.apart < best[card.tone].apart:
            best[card.tone] = offer
    return sorted(best.values(), key=lambda offer: offer.apart)[:most]


def _rim_mask() -> NDArray[np.bool_]:
    rim = np.zeros((CELL_H, CELL_W), dtype=np.bool_)
    tall, wide = round(CELL_H * _RIM), round(CELL_W * _RIM / 2)
    inset = 3  # the wall between two compartments
    rim[inset : inset + tall, inset:-inset] = rim[-inset - tall : -inset, inset:-inset] = True
    rim[inset:-inset, inset : inset + wide] = rim[inset:-inset, -inset - wide : -inset] = True
    return rim


def _shadow(seen: NDArray[np.float64], bottom: NDArray[np.float64]) -> NDArray[np.bool_]:
    """The bottom in shadow: darker, but not by much, and of its hue."""
    darker = bottom[0] - seen[..., 0]
    scale = np.clip(seen[..., 0] / max(bottom[0], 1.0), 0, 1)[..., None]
    hue = np.linalg.norm(seen[..., 1:] - bottom[1:] * scale, axis=2)
    return np.asarray((darker > 0) & (darker < 0.33 * bottom[0]) & (hue < 5.0), dtype=np.bool_)


def _joined(lure: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Specks gone and pinholes closed, by the majority of each pixel's neighbourhood; walls left out."""
    padded = np.pad(lure.astype(np.int16), 2)
    summed = sum(
        padded[2 + dy : 2 + dy + lure.shape[0], 2 + dx : 2 + dx + lure.shape[1]]
        for dy in range(-2, 3)
        for dx in range(-2, 3)
    )
    found = np.asarray(summed, dtype=np.int16) >= 13
    found[:4] = found[-4:] = False
    found[:, :4] = found[:, -4:] = False
    return np.asarray(found, dtype=np.bool_)


def _without_small_clusters(seen: NDArray[np.float64], lure: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """The lure without flake and glare: k-means in CIE L*a*b* (Lloyd 1982) from spread-out starts, small ones left."""
    points = seen[lure]
    order = np.argsort(points[:, 0], kind="stable")
    centres = points[order[np.linspace(0, len(order) - 1, _CLUSTERS).astype(int)]]
    nearest = np.zeros(len(points), dtype=np.intp)
    for _ in range(8):
        nearest = np.argmin(((points[:, None, :] - centres[None]) ** 2).sum(axis=2), axis=1)
        for cluster in range(_CLUSTERS):
            if (nearest == cluster).any():
                centres[cluster] = points[nearest == cluster].mean(axis=0)
    shares = np.bincount(nearest, minlength=_CLUSTERS) / len(points)
    kept = np.zeros_like(lure)
    kept[lure] = (shares >= _SMALL)[nearest]
    return kept


def _heights(lure: NDArray[np.bool_]) -> NDArray[np.float64]:
    """For each pixel of the lure, how far down it is from the back (0) to the belly (1), column by column."""
    rows = np.arange(lure.shape[0])[:, None]
    top = np.where(lure, rows, lure.shape[0]).min(axis=0)
    low = np.where(lure, rows, -1).max(axis=0)
    return np.where(lure, (rows - top) / np.maximum(low - top, 1), -1.0)


def _linear(pixels: NDArray[np.uint8]) -> NDArray[np.float64]:
    """Linear light from 8-bit sRGB (IEC 61966-2-1)."""
    encoded = pixels / 255
    return np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)


def _encoded(linear: NDArray[np.float64]) -> NDArray[np.uint8]:
    """8-bit sRGB from linear light (IEC 61966-2-1)."""
    encoded = np.where(linear <= 0.0031308, linear * 12.92, 1.055 * np.maximum(linear, 1e-9) ** (1 / 2.4) - 0.055)
    return np.asarray(np.rint(np.clip(encoded, 0, 1) * 255), dtype=np.uint8)


def _hex(colour: NDArray[np.float64]) -> str:
    return "#" + "".join(f"{part:02x}" for part in _encoded(np.clip(linear_of(colour), 0, 1)))
