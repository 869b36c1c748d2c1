"""The tray command: a picture of a tray, or of loose lures, read as the picture page reads it."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from typing import Any, Final

from PIL import Image, ImageOps, UnidentifiedImageError

from tackle.base.errors import InvalidInput
from tackle.base.pipes import from_caller
from tackle.base.vocabulary import CATEGORIES
from tackle.colours.colour import Colour
from tackle.colours.palette import house_palette
from tackle.picture.find import find_loose, find_tray
from tackle.picture.rectify import Point
from tackle.picture.sample import Sampled, count_lures, offers, read_loose, read_tray
from tackle.picture.walls import find_walls

__all__ = ["tray"]

_OFFERED: Final = 3
_MOST_PIXELS: Final = 60_000_000


def tray(arguments: Sequence[str]) -> int:
    """Prints what lies in the compartments; returns the exit status: 1 where it cannot be told, 2 for a wrong call."""
    asked = _parser().parse_args(arguments)
    try:
        print(json.dumps(_answer(asked), ensure_ascii=False))
    except InvalidInput as refused:
        print(refused, file=sys.stderr)
        return 1
    return 0


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="wax tray", description="A picture of a tray, read compartment by compartment."
    )
    parser.add_argument("picture")
    parser.add_argument("--rows", type=int, help="rows of compartments; without it, read from the walls")
    parser.add_argument("--columns", type=int, help="columns of compartments; without it, read from the walls")
    parser.add_argument("--corners", nargs=4, type=_point, metavar="X,Y", help="clockwise from the top left, in pixels")
    parser.add_argument("--white", type=_point, metavar="X,Y", help="something white, in pixels")
    parser.add_argument("--category", choices=tuple(CATEGORIES))
    parser.add_argument("--loose", action="store_true", help="lures without a tray")
    return parser


def _point(text: str) -> Point:
    x, y = text.split(",")
    return float(x), float(y)


def _answer(asked: argparse.Namespace) -> dict[str, Any]:
    image = _opened(asked.picture)
    palette = house_palette()
    cards = palette.sold_in(asked.category) if asked.category else palette.cards
    if asked.loose:
        boxes = find_loose(image)
        seen: list[Sampled | None] = list(read_loose(image, boxes, asked.white))
        extra = [{"box": [box.left, box.top, box.width, box.height]} for box in boxes]
    else:
        corners = asked.corners or find_tray(image)
        rows, columns = asked.rows, asked.columns
        if rows is None or columns is None:
            found = find_walls(image, corners)
            rows, columns = rows or found[0], columns or found[1]
        seen = read_tray(image, corners, rows, columns, asked.white)
        extra = [{} for _ in seen]
    offered = iter(_offered([one for one in seen if one], cards, bool(asked.white)))
    cells = []
    for index, (one, more) in enumerate(zip(seen, extra, strict=True), 1):
        cell = {
            "place": index,
            "empty": one is None,
            "count": count_lures(one, asked.category) if one else 0,
            "category": asked.category,
        }
        cells.append({**cell, "offers": next(offered) if one else [], **more})
    return {"cells": cells}


def _opened(path: str) -> Image.Image:
    try:
        image = Image.open(from_caller(path))
        if image.width * image.height > _MOST_PIXELS:
            raise InvalidInput("picture", "is too large", f"at most {_MOST_PIXELS // 1_000_000} million pixels")
        return ImageOps.exif_transpose(image).convert("RGB")
    except (OSError, UnidentifiedImageError, Image.DecompressionBombError) as error:
        raise InvalidInput("picture", f"{path!r} cannot be read", "a JPEG, PNG or WebP file") from error


def _offered(seen: Sequence[Sampled], cards: Sequence[Colour], white_told: bool) -> list[list[dict[str, Any]]]:
    return [
        [{"colour": offer.card.id, "tone": offer.card.tone.value, "apart": offer.apart} for offer in near]
        for near in offers(seen, cards, _OFFERED, white_told=white_told)
    ]
