"""Finding things in a picture without being told where: a tray's four corners, or loose lures on a plain ground."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from tackle.base.errors import InvalidInput
from tackle.colours.light import linear_light
from tackle.colours.likeness import to_lab
from tackle.picture.rectify import Point, polygon_area

__all__ = ["Box", "find_loose", "find_tray", "regions"]

_SMALL: Final = 300  # pixels of the longer side that are looked at
_STEPS: Final = (
    5.0,
    4.0,
    3.2,
    2.7,
    2.3,
    2.0,
    1.8,
    1.6,
    1.4,
    1.2,
)  # CIE 1976 between neighbours: less is the same ground going on
_LEAST_TRAY: Final = 0.12  # of the picture
_MOST_TRAY: Final = 0.97  # of what lies within the rim: more, and the ground has not grown at all
_ON_LINE: Final = 1.5  # pixels of the small copy
_TRIED: Final = 40  # points of a side whose pairs are tried
_STRAIGHT: Final = 0.5  # of the points of a side on one line: fewer, and it is no side
_STRAIGHT_ENOUGH: Final = 0.95
_LARGER: Final = 1.1  # times the other: no more the same
_FILLS: Final = 0.3  # of the picture: so large a tray, found by two steps alike, is taken for the whole of it
_LEAST_LURE, _MOST_LURE = 0.0015, 0.35  # of the picture
_FULL: Final = 0.88  # of the four-sided shape that its sides make: less is no tray
_RIM: Final = 2  # pixels of the small copy's rim that are the ground for certain
_AWAY: Final = 9.0  # CIE 1976: from here on a pixel is not the ground's

Mask = NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Box:
    """A lure found: its box in pixels of the picture, `left`, `top`, `width`, `height`."""

    left: int
    top: int
    width: int
    height: int


def find_tray(image: Image.Image) -> list[Point]:
    """The corners of a tray, clockwise from the top left, in pixels. Raises InvalidInput where none is found.

    The ground grows in from the picture's rim as far as it goes on smoothly, by steps more and less forgiving; of what
    it leaves, the most four-sided counts. Where a step was too forgiving, the ground has grown into the tray and left
    some compartments of it, as straight as the whole: then a later step leaves more. A side is a line through the
    outermost points: a hand or a label over one is outvoted.
    """
    seen, scale = _looked_at(image)
    within = (seen.shape[0] - 2 * _RIM) * (seen.shape[1] - 2 * _RIM)
    best: tuple[float, list[Point]] | None = None
    for step in _STEPS:
        largest = max(regions(~_grown(seen, step)), key=np.count_nonzero, default=None)
        if largest is None or not _LEAST_TRAY * largest.size <= largest.sum() <= _MOST_TRAY * within:
            continue
        tray = _filled(largest)
        sides = [_side(tray, side) for side in ("top", "right", "bottom", "left")]
        corners = [_crossing(sides[index - 1][0], sides[index][0]) for index in range(4)]
        straight = min(share for _, share in sides)
        if tray.sum() < _FULL * polygon_area(corners):
            continue
        if best and min(straight, best[0]) >= _STRAIGHT_ENOUGH:
            if polygon_area(corners) >= _LARGER * polygon_area(best[1]):
                best = straight, corners
            elif largest.sum() >= _FILLS * largest.size:
                break
        elif best is None or straight > best[0]:
            best = straight, corners
    if best and best[0] >= _STRAIGHT:
        return [((x + 0.5) * scale, (y + 0.5) * scale) for x, y in best[1]]
    raise InvalidInput("picture", "shows no tray that could be found", "its four corners, with --corners")


def find_loose(image: Image.Image) -> list[Box]:
    """The lures that lie loose on a plain ground, from the top left on, row by row."""
    seen, scale = _looked_at(image)
    rim = np.concatenate((seen[:6].reshape(-1, 3), seen[-6:].reshape(-1, 3), seen[:, :6].reshape(-1, 3)))
    ground = np.median(rim, axis=0)
    spread = float(np.median(np.linalg.norm(rim - ground, axis=1)))
    away = np.linalg.norm((seen - ground) * np.array([0.6, 1.0, 1.0]), axis=2) > max(_AWAY, 3.0 * spread)
    boxes = []
    for region in regions(_thick(away)):
        rows, columns = np.nonzero(region)
        if not _LEAST_LURE <= len(rows) / away.size <= _MOST_LURE:
            continue
        top, left = int(rows.min() * scale), int(columns.min() * scale)
        low, right = int((rows.max() + 1) * scale), int((columns.max() + 1) * scale)
        boxes.append(Box(left, top, right - left, low - top))
    tall = np.median([box.height for box in boxes]) if boxes else 1
    return sorted(boxes, key=lambda box: (round((box.top + box.height / 2) / (1.5 * tall)), box.left))


def regions(mask: Mask) -> list[Mask]:
    """The connected regions of a mask, each a mask; neighbours share a side."""
    left, found = mask.copy(), []
    while left.any():
        start = np.unravel_index(int(np.argmax(left)), left.shape)
        region = np.zeros_like(mask)
        queue = deque([(int(start[0]), int(start[1]))])
        left[start] = False
        while queue:
            y, x = queue.popleft()
            region[y, x] = True
            for v, u in ((y - 1, x), (y + 1, x), (y, x - 1), (y, x + 1)):
                if 0 <= v < mask.shape[0] and 0 <= u < mask.shape[1] and left[v, u]:
                    left[v, u] = False
                    queue.append((v, u))
        found.append(region)
    return found


def _looked_at(image: Image.Image) -> tuple[NDArray[np.float64], float]:
    """A small copy in L*a*b*, and how many pixels of the picture one of it stands for."""
    scale = max(1.0, max(image.size) / _SMALL)
    small = image.convert("RGB").resize((round(image.width / scale), round(image.height / scale)), Image.Resampling.BOX)
    return to_lab(linear_light(np.asarray(small, dtype=np.uint8))), scale


def _grown(seen: NDArray[np.float64], step: float) -> Mask:
    """The ground: what goes on smoothly from the picture's rim inward."""
    grown = np.ones(seen.shape[:2], dtype=np.bool_)
    grown[_RIM:-_RIM, _RIM:-_RIM] = False
    rim: list[list[int]] = np.argwhere(grown).tolist()
    queue = deque((y, x) for y, x in rim)
    down = np.linalg.norm(np.diff(seen, axis=0), axis=2) < step
    across = np.linalg.norm(np.diff(seen, axis=1), axis=2) < step
    tall, wide = len(grown), len(grown[0])
    while queue:
        y, x = queue.popleft()
        for v, u, smooth in (
            (y - 1, x, y > 0 and down[y - 1, x]), (y + 1, x, y + 1 < tall and down[y, x]),
            (y, x - 1, x > 0 and across[y, x - 1]), (y, x + 1, x + 1 < wide and across[y, x]),
        ):  # fmt: skip
            if smooth and not grown[v, u]:
                grown[v, u] = True
                queue.append((v, u))
    return grown


def _thick(mask: Mask) -> Mask:
    """A mask without specks, its gaps of a pixel closed."""
    padded = np.pad(mask.astype(np.int16), 1)
    tall, wide = mask.shape
    summed = sum(padded[dy : dy + tall, dx : dx + wide] for dy in range(3) for dx in range(3))
    return np.asarray(np.asarray(summed) >= 4, dtype=np.bool_)


def _filled(region: Mask) -> Mask:
    """A region with its holes, row by row and column by column."""
    across = np.maximum.accumulate(region, axis=1) & np.maximum.accumulate(region[:, ::-1], axis=1)[:, ::-1]
    down = np.maximum.accumulate(region, axis=0) & np.maximum.accumulate(region[::-1], axis=0)[::-1]
    return np.asarray(across & down, dtype=np.bool_)


_Line = tuple[float, float, float]  # a x + b y = c


def _side(region: Mask, side: str) -> tuple[_Line, float]:
    """A line through the outermost points of one side, and how many of them lie on it, as a share.

    Of the lines through pairs of points, the one that most points lie on (Fischler & Bolles 1981), fitted to those.
    """
    flat = side in ("top", "bottom")
    mask = region if flat else region.T
    mask = mask if side in ("top", "left") else mask[::-1]
    along = np.nonzero(mask.any(axis=0))[0]
    cut = len(along) // 8
    along = along[cut : len(along) - cut]
    out = np.argmax(mask[:, along], axis=0).astype(float)
    if side in ("bottom", "right"):
        out = mask.shape[0] - 1 - out
    ones = np.linspace(0, len(along) - 1, _TRIED).astype(int)
    pairs = np.triu_indices(_TRIED, _TRIED // 4)
    first, second = pairs[0], pairs[1]
    x, y = along[ones].astype(float), out[ones]
    slopes = (y[second] - y[first]) / np.maximum(x[second] - x[first], 1)
    starts = y[first] - slopes * x[first]
    near = np.abs(out - starts[:, None] - slopes[:, None] * along) < _ON_LINE
    best = int(np.argmax(near.sum(axis=1)))
    fitted = np.polyfit(along[near[best]], out[near[best]], 1)
    slope, start = float(fitted[0]), float(fitted[1])
    share = float(np.mean(np.abs(out - start - slope * along) < _ON_LINE))
    return ((-slope, 1.0, start) if flat else (1.0, -slope, start)), share


def _crossing(one: _Line, other: _Line) -> Point:
    x, y = np.linalg.solve(np.array([one[:2], other[:2]]), np.array([one[2], other[2]]))
    return float(x), float(y)
