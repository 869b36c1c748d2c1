"""What lies in a picture: the grid as the page sends it, and what was seen in each compartment of it."""

import io
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from PIL import Image

from tackle.base.errors import InvalidInput
from tackle.base.strict import read_json
from tackle.colours.colour import Colour
from tackle.colours.palette import Palette
from tackle.picture.find import find_loose
from tackle.picture.rectify import Point, outlines
from tackle.picture.sample import LikelyCard, Sampled, count_lures, is_pale, offers, read_loose, read_tray, seen_at
from web.common.watching.timing import timed
from web.domain.crate.models import Picture

OFFERED = 3
MOST_GRID = 2_000  # characters of the grid as the page sends it


@dataclass(frozen=True, slots=True)
class SeenCell:
    """A compartment, or a loose lure: where it is in the picture, what was seen in it, and what it may be."""

    place: int
    outline: list[Point]
    category: str
    seen: Sampled | None
    offers: list[LikelyCard]

    @property
    def count(self) -> int:
        return count_lures(self.seen, self.category) if self.seen else 0

    @property
    def pale(self) -> bool:
        return is_pale(self.offers)

    @property
    def as_seen(self) -> Colour:
        """The nearest card in the very colours that were seen, to hold beside the offers."""
        assert self.seen
        seen = self.seen
        return replace(self.offers[0].card, name="As seen", code="??", back=seen.back, side=seen.side, belly=seen.belly)

    @property
    def box(self) -> str:
        """The part of the picture to show, as an SVG view box with a little around it."""
        xs, ys = [x for x, _ in self.outline], [y for _, y in self.outline]
        wide, tall = max(xs) - min(xs), max(ys) - min(ys)
        return f"{min(xs) - wide / 20:.0f} {min(ys) - tall / 20:.0f} {wide * 1.1:.0f} {tall * 1.1:.0f}"


@timed("picture")
def sample_cells(
    picture: Picture,
    asked: dict[str, Any],
    palette: Palette,
    category: str,
    one: int | None,
    of_one: str,
    likely: frozenset[str],
) -> list[SeenCell]:
    """All that lies in the picture. Of `one`, the angler says that it holds a lure, and of which category. `likely`:
    the colours that the angler has, or chose once for a word."""
    image = Image.open(io.BytesIO(bytes(picture.jpeg))).convert("RGB")
    white, picks = asked["white"], asked["picks"]
    seen: Sequence[Sampled | None]
    if asked["loose"]:
        boxes = find_loose(image)
        outlined = [_around(box.left, box.top, box.left + box.width, box.top + box.height) for box in boxes]
        seen = read_loose(image, boxes, white)
    elif len(picks) == 3:
        xs, ys = [x for x, _ in picks], [y for _, y in picks]
        outlined = [_around(min(xs) - 60, min(ys) - 40, max(xs) + 60, max(ys) + 40)]
        back, side, belly = picks
        seen = [seen_at(image, back, side, belly, white)]
    else:
        corners, rows, columns = asked["corners"], asked["rows"], asked["columns"]
        seen = read_tray(image, corners, rows, columns, white, {one - 1} if one else ())
        outlined = outlines(corners, rows, columns)
    there = [index for index, found in enumerate(seen) if found]
    others = {there.index(one - 1): palette.sold_in(of_one)} if one and one - 1 in there else None
    offered = offers(
        [found for found in seen if found], palette.sold_in(category), OFFERED, others, bool(white), likely
    )
    near = dict(zip(there, offered, strict=True))
    return [
        SeenCell(index + 1, outline, of_one if index + 1 == one else category, found, near.get(index, []))
        for index, (outline, found) in enumerate(zip(outlined, seen, strict=True))
    ]


def _around(left: float, top: float, right: float, low: float) -> list[tuple[float, float]]:
    return [(left, top), (right, top), (right, low), (left, low)]


def read_grid(text: str, picture: Picture) -> dict[str, Any]:
    """The grid as the page sends it, checked. Raises InvalidInput."""
    try:
        data = read_json(text[:MOST_GRID], "grid")
        corners = [(float(x), float(y)) for x, y in data["corners"]]
        rows, columns = int(data["rows"]), int(data["columns"])
        white = tuple(map(float, data["white"])) if data.get("white") else None
        picks = [(float(x), float(y)) for x, y in data.get("picks", [])]
        points = [*corners, *picks, *([white] if white else [])]
        inside = all(
            -picture.width <= x <= 2 * picture.width and -picture.height <= y <= 2 * picture.height for x, y in points
        )
        if len(corners) != 4 or len(picks) > 3 or not inside:
            raise ValueError
    except (ValueError, TypeError, KeyError, RecursionError, OverflowError):
        raise InvalidInput("grid", "cannot be read", "four corners in the picture, rows and columns") from None
    loose = data.get("loose") is True
    return {"corners": corners, "rows": rows, "columns": columns, "white": white, "picks": picks, "loose": loose}
