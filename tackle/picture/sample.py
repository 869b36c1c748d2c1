"""What lies in one compartment: the background taken away, the lure's back, side and belly, and the nearest cards."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from tackle.base.vocabulary import CATEGORIES, Group, Opacity, Tone
from tackle.colours.colour import Colour
from tackle.colours.light import encoded, linear_light, to_hex, to_linear
from tackle.colours.likeness import lab_to_linear, to_lab
from tackle.picture.find import Box
from tackle.picture.rectify import CELL_H, CELL_W, Point, compartments

__all__ = [
    "LikelyCard",
    "Sampled",
    "balanced",
    "count_lures",
    "is_pale",
    "offers",
    "read_loose",
    "read_tray",
    "sample",
    "seen_at",
]

_RIM: Final = 0.09  # of a compartment's width and height: what is taken for its bottom
_APART: Final = 5.0  # CIE 1976: from here on a pixel is not the bottom's
_LEAST: Final = 0.04  # of the compartment: less is dirt, not a lure
_CLUSTERS: Final = 4
_LEAST_EDGED: Final = 0.004  # of the compartment: fewer sharp changes are dirt or a highlight
_SHARP: Final = 1.6  # lightness a pixel: from here on a change is sharp
_WALL: Final = 10  # pixels of a compartment laid straight that are its wall, or the wall's gleam
_SMALL: Final = 0.12  # a cluster with less of the lure is flake or glare
_FILLED: Final = 0.7  # of its outline: less, and it is two lures
_SMOOTH: Final = frozenset(
    [one.id for one in CATEGORIES.values() if one.group is Group.HARD]
    + ["swimbait", "inshore-paddletail", "inshore-jerkshad", "finesse-stick", "spoon"]
)
_GAINS: Final = np.geomspace(0.55, 1.4, 20)  # how much lighter or darker a picture may be than its white says
_FREE_GAINS: Final = np.geomspace(0.4, 2.5, 25)  # and where nothing white is told
_CASTS: Final = np.geomspace(0.67, 1.5, 7)  # how much redder or bluer it may be then
_UNLIKELY: Final = 2.0  # CIE 1976, for each e-fold of a gain or a cast that no white tells
_PALE: Final = frozenset({Tone.WHITE, Tone.BONE, Tone.PEARL})
_NEARER: Final = 2.5  # CIE 1976: so much nearer counts a card that one has
_ENOUGH: Final = 6  # lures that tell of the light; fewer may be of any colour
_ROUNDS: Final = 2  # of trying gain and cast in turn: a third changes nothing
_FAR: Final = 25.0  # a lure further from every card than this says nothing of the light
_SEEN_THROUGH: Final = {
    Opacity.OPAQUE: (0.0,), Opacity.SEMI: (0.0, 0.12), Opacity.TRANSLUCENT: (0.0, 0.2, 0.4),
}  # fmt: skip
_WEIGHTS: Final = np.array([0.3, 0.45, 0.25])  # back, side, belly


@dataclass(frozen=True, slots=True)
class Sampled:
    """A lure as seen: sRGB hexes of back, side and belly, how much of it sparkles, 0 to 1, what it lies on,
    and how many there are.
    """

    back: str
    side: str
    belly: str
    sparkle: float
    bottom: str | None = None
    solid: float = 1.0


@dataclass(frozen=True, slots=True)
class LikelyCard:
    """A card that may be it, and how far it is from what was seen (CIE 1976, weighted over back, side and belly)."""

    card: Colour
    apart: float


def balanced(image: Image.Image, white: Point | None) -> Image.Image:
    """The picture with what is at `white` made neutral, and light enough; without a point, as it is.

    Von Kries scaling of the channels, in linear light, by the median of a small square around the point.
    """
    pixels = linear_light(np.asarray(image.convert("RGB"), dtype=np.uint8))
    if white is None:
        return image.convert("RGB")
    x, y = (min(max(round(at), 4), most - 5) for at, most in zip(white, image.size, strict=True))
    seen = np.median(pixels[y - 4 : y + 5, x - 4 : x + 5].reshape(-1, 3), axis=0)
    gain = 0.85 / np.maximum(seen, 0.02)
    return Image.fromarray(encoded(np.clip(pixels * gain, 0, 1)))


def read_tray(
    image: Image.Image,
    corners: Sequence[Point],
    rows: int,
    columns: int,
    white: Point | None = None,
    held: Collection[int] = (),
) -> list[Sampled | None]:
    """What lies in each compartment, row by row; None where it is empty. Raises InvalidInput where there is no grid.

    `held`: the places, from 0, that hold a lure whatever they look like: there what stands out most is taken for it.
    Light that falls off over the tray is evened out by the compartments' bottoms, which are of one colour.
    """
    cells = [linear_light(cell) for cell in compartments(balanced(image, white), corners, rows, columns)]
    bottoms = [_bottom(cell) for cell in cells]
    common = np.median(np.array([np.median(bottom, axis=(0, 1)) for bottom in bottoms]), axis=0)
    evened = [
        np.clip(cell * np.clip(common / np.maximum(bottom, 0.01), 0.5, 2.0), 0, 1)
        for cell, bottom in zip(cells, bottoms, strict=True)
    ]
    return [_sample(cell, common, index in held) for index, cell in enumerate(evened)]


def read_loose(image: Image.Image, boxes: Sequence[Box], white: Point | None = None) -> list[Sampled]:
    """The lures in some boxes of a picture, each with a margin of the ground around it."""
    light = balanced(image, white)
    found = []
    for box in boxes:
        wide, tall = 0.25 * box.width + 6, 0.35 * box.height + 6
        left, top, right, low = (
            box.left - wide,
            box.top - tall,
            box.left + box.width + wide,
            box.top + box.height + tall,
        )
        (cell,) = compartments(light, [(left, top), (right, top), (right, low), (left, low)], 1, 1)
        found.append(sample(cell) or seen_at(light, *[(box.left + box.width / 2, box.top + box.height / 2)] * 3))
    return found


def seen_at(image: Image.Image, back: Point, side: Point, belly: Point, white: Point | None = None) -> Sampled:
    """A lure by three points on it: the median of a small square around each."""
    pixels = to_lab(linear_light(np.asarray(balanced(image, white), dtype=np.uint8)))
    found = []
    for point in (back, side, belly):
        x, y = (min(max(round(at), 2), most - 3) for at, most in zip(point, image.size, strict=True))
        found.append(_hex(np.median(pixels[y - 2 : y + 3, x - 2 : x + 3].reshape(-1, 3), axis=0)))
    return Sampled(found[0], found[1], found[2], 0.0)


def sample(cell: NDArray[np.uint8]) -> Sampled | None:
    """The lure in one compartment laid straight, back up; None where there is none."""
    linear = linear_light(cell)
    bottom = _bottom(linear)
    common = np.median(bottom, axis=(0, 1))
    return _sample(np.clip(linear * common / np.maximum(bottom, 0.01), 0, 1), common)


def _sample(linear: NDArray[np.float64], bottom_light: NDArray[np.float64], held: bool = False) -> Sampled | None:
    seen, bottom = to_lab(linear), to_lab(bottom_light[None])[0]
    inner = _inner_mask()
    away = np.linalg.norm(seen - bottom, axis=2)
    noise = np.median(away[_rim_mask()])
    lure = (away > max(_APART, 3.0 * noise)) & ~_shadow(seen, bottom) & inner
    edged = _edged(seen[..., 0]) & inner
    if edged.mean() < _LEAST_EDGED and not held:
        return None
    whole = _joined(lure)
    if whole.mean() < _LEAST:
        whole = _joined(_closed(edged))
    if whole.mean() < _LEAST and held:
        whole = inner & (away >= np.quantile(away[inner], 1 - 2 * _LEAST))
    if whole.mean() < _LEAST:
        return None
    lure = _shrunk(whole)
    main = _without_small_clusters(seen, lure)
    heights = _heights(lure)
    parts = []
    for low, high in ((0.0, 0.22), (0.36, 0.66), (0.78, 1.0)):
        band = main & (heights >= low) & (heights <= high)
        chosen = seen[band] if band.sum() >= 12 else seen[main] if main.any() else seen[lure]
        parts.append(np.median(chosen, axis=0))
    sparkle = float((lure & ~main).sum() / lure.sum())
    back, side, belly = (_hex(part) for part in parts)
    return Sampled(back, side, belly, sparkle, _hex(bottom), _solid(lure))


def count_lures(seen: Sampled, category: str | None) -> int:
    """How many lie there: two that lie across each other fill little of their outline. Skirts, legs and curls fill
    little of it alone, so that of these, and where the category is not told, one is counted."""
    return 2 if category in _SMOOTH and seen.solid < _FILLED else 1


def offers(
    seen: Sequence[Sampled],
    cards: Sequence[Colour],
    most: int = 3,
    others: Mapping[int, Sequence[Colour]] | None = None,
    white_told: bool = True,
    likely: Collection[str] = (),
) -> list[list[LikelyCard]]:
    """For each lure of one picture the nearest cards, at most one of each tone, either side up.

    `likely`: the ids of cards that this person has or chose once: of two that are as near, one of them is taken.
    `others`: the cards to choose from for a lure, by its place, that is of another category than the rest.

    How light the picture is as a whole is found by trying: the exposure at which its lures are nearest to cards that
    there are; and where nothing white was told, how red or blue. Lures that let light through show something of what
    they lie on.
    """
    if not seen or not cards:
        return [[] for _ in seen]
    mine = np.array([to_linear((one.back, one.side, one.belly)) for one in seen])
    bottom = next((one.bottom for one in seen if one.bottom), None)
    ground = to_linear((bottom,))[0] if bottom else None
    looks, whose = _looks(cards, ground)
    light = _find_light(mine, looks, white_told or len(seen) < _ENOUGH)
    nearer = np.array([_NEARER * (cards[one].id in likely) for one in whose])
    found = [_best(row, cards, whose, most) for row in np.maximum(_distances(mine * light, looks) - nearer, 0.0)]
    for place, sold in (others or {}).items():
        looks, whose = _looks(sold, ground)
        found[place] = _best(_distances(mine[place : place + 1] * light, looks)[0], sold, whose, most)
    return found


def _find_light(mine: NDArray[np.float64], looks: NDArray[np.float64], white_told: bool) -> NDArray[np.float64]:
    """The gains of red, green and blue, (3,), at which the lures are nearest to looks that there are; of equally near
    ones the likeliest."""

    def cost(light: NDArray[np.float64]) -> float:
        near = np.minimum(_distances(mine * light, looks).min(axis=1), _FAR).mean()
        gain, casts = abs(np.log(light[1])), np.abs(np.log(light / light[1])).sum()
        return float(near + (gain if white_told else _UNLIKELY * (gain + casts)))

    light = np.ones(3)
    for _ in range(1 if white_told else _ROUNDS):
        cast = light / light[1]
        light = min((cast * gain for gain in (_GAINS if white_told else _FREE_GAINS)), key=cost)
        if not white_told:
            green = light[1]
            light = min((green * np.array([red, 1.0, blue]) for red in _CASTS for blue in _CASTS), key=cost)
    return light


def is_pale(found: Sequence[LikelyCard]) -> bool:
    """Whether a lure is white, bone or pearl: one family, of which a picture cannot tell which."""
    return len(found) > 1 and {one.card.tone for one in found[:2]} <= _PALE


def _best(row: NDArray[np.float64], cards: Sequence[Colour], whose: Sequence[int], most: int) -> list[LikelyCard]:
    best: dict[str, LikelyCard] = {}
    for place in np.argsort(row, kind="stable"):
        card = cards[whose[place]]
        best.setdefault(card.tone, LikelyCard(card, round(float(row[place]), 2)))
        if len(best) == most:
            break
    return list(best.values())


def _looks(cards: Sequence[Colour], bottom: NDArray[np.float64] | None) -> tuple[NDArray[np.float64], list[int]]:
    """How each card may look, either side up and more or less seen through: (looks, 3, 3) L*a*b*, and whose each is."""
    looks, whose = [], []
    for index, card in enumerate(cards):
        parts = to_linear((card.back, card.side, card.belly))
        for share in _SEEN_THROUGH[card.opacity] if bottom is not None else (0.0,):
            mixed = parts if bottom is None else parts * (1 - share) + bottom * share
            for way in (mixed, mixed[::-1]):
                looks.append(to_lab(way))
                whose.append(index)
    return np.array(looks), whose


def _distances(mine: NDArray[np.float64], looks: NDArray[np.float64]) -> NDArray[np.float64]:
    """From each lure to each look: CIE 1976, weighted over the parts."""
    labs = to_lab(np.clip(mine, 0, 1))
    return np.asarray(np.linalg.norm(labs[:, None] - looks[None], axis=3) @ _WEIGHTS, dtype=np.float64)


def _rim_mask() -> NDArray[np.bool_]:
    rim = _inner_mask()
    tall, wide = round(CELL_H * _RIM), round(CELL_W * _RIM)
    rim[_WALL + tall : -_WALL - tall, _WALL + wide : -_WALL - wide] = False
    return rim


def _inner_mask() -> NDArray[np.bool_]:
    """A compartment without its walls."""
    inner = np.zeros((CELL_H, CELL_W), dtype=np.bool_)
    inner[_WALL:-_WALL, _WALL:-_WALL] = True
    return inner


def _bottom(linear: NDArray[np.float64]) -> NDArray[np.float64]:
    """The light of a compartment's bottom everywhere: a plane through its rim, what lies over the rim left out."""
    rows, columns = np.nonzero(_rim_mask())
    at = np.column_stack((np.ones(len(rows)), rows / CELL_H - 0.5, columns / CELL_W - 0.5))
    seen = linear[rows, columns]
    kept = np.ones(len(rows), dtype=np.bool_)
    for _ in range(4):
        plane, *_rest = np.linalg.lstsq(at[kept], seen[kept], rcond=None)
        off = np.abs(seen - at @ plane).max(axis=1)
        kept = off <= max(2.0 * float(np.median(off)), 0.01)
    y, x = np.mgrid[0:CELL_H, 0:CELL_W]
    whole = np.stack((np.ones_like(y, dtype=float), y / CELL_H - 0.5, x / CELL_W - 0.5), axis=2)
    return np.asarray(np.maximum(whole @ plane, 0.005), dtype=np.float64)


def _edged(lightness: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Where lightness changes sharply, as at a lure's rim, eye or hook, and not as in a highlight or a shadow."""
    smooth = _box(lightness)
    steps = np.hypot(*np.gradient(smooth))
    return np.asarray(steps > max(_SHARP, 5.0 * float(np.median(steps))), dtype=np.bool_)


def _solid(lure: NDArray[np.bool_]) -> float:
    """How much of its convex hull a shape fills (the hull by Andrew 1979)."""
    rows, columns = np.nonzero(lure)
    if len(rows) < 9:
        return 1.0
    points = sorted({(int(x), int(y)) for x, y in zip(columns, rows, strict=True)})
    hull = [*_half_hull(points), *_half_hull(points[::-1])]
    area = abs(sum(x * v - u * y for (x, y), (u, v) in zip(hull, [*hull[1:], hull[0]], strict=True))) / 2
    return float(len(rows) / max(area, 1.0))


def _half_hull(points: Sequence[tuple[int, int]]) -> list[tuple[int, int]]:
    hull: list[tuple[int, int]] = []
    for x, y in points:
        while len(hull) > 1:
            (a, b), (c, d) = hull[-2], hull[-1]
            if (c - a) * (y - b) - (d - b) * (x - a) > 0:
                break
            hull.pop()
        hull.append((x, y))
    return hull[:-1]


def _shrunk(lure: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """A lure without its soft rim and what is thin on it, hooks and line; as it is, where little would be left."""
    core = _box(lure.astype(np.float64)) > 0.99
    return core if core.sum() >= 0.25 * lure.sum() else lure


def _box(values: NDArray[np.float64]) -> NDArray[np.float64]:
    """The mean over each pixel and its eight neighbours."""
    padded = np.pad(values, 1, mode="edge")
    tall, wide = values.shape
    summed = sum(padded[dy : dy + tall, dx : dx + wide] for dy in range(3) for dx in range(3))
    return np.asarray(summed, dtype=np.float64) / 9


def _closed(edged: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """What lies between a rim above and a rim below, column by column: a lure of the bottom's own colour."""
    down = np.maximum.accumulate(edged, axis=0)
    up = np.maximum.accumulate(edged[::-1], axis=0)[::-1]
    return np.asarray(down & up, dtype=np.bool_)


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


def _hex(colour: NDArray[np.float64]) -> str:
    return to_hex(np.clip(lab_to_linear(colour), 0, 1))
