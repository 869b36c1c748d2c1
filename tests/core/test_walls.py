"""How many rows and columns a tray has, drawn by a ruler of the test's own."""

import random

import numpy as np
import pytest
from PIL import Image, ImageDraw

from tackle.picture.walls import find_walls


def drawn(rows, columns, seed, walls=True):
    """A tray seen a little aslant: a grey floor, blobs in most compartments, walls between, grain over all."""
    pick = random.Random(seed)
    wide, tall = 1200, 900
    flat = Image.new("RGB", (wide, tall), (188, 186, 180))
    pen = ImageDraw.Draw(flat)
    for row in range(rows):
        for column in range(columns):
            left, top = wide * column / columns, tall * row / rows
            if pick.random() < 0.75:
                right, low = pick.uniform(0.6, 0.85), pick.uniform(0.6, 0.8)
                near = left + wide / columns * 0.15, top + tall / rows * 0.25
                far = left + wide / columns * right, top + tall / rows * low
                pen.ellipse([*near, *far], fill=tuple(pick.randint(20, 230) for _ in range(3)))
    for at in range(1, columns) if walls else ():
        pen.line([(wide * at / columns, 0), (wide * at / columns, tall)], fill=(120, 118, 112), width=7)
    for at in range(1, rows) if walls else ():
        pen.line([(0, tall * at / rows), (wide, tall * at / rows)], fill=(120, 118, 112), width=7)
    tilted = flat.transform((1400, 1100), Image.Transform.AFFINE, (1, 0.03, -110, -0.02, 1, -70))
    grain = np.random.default_rng(seed).normal(0, 6, (1100, 1400, 3))
    shaken = Image.fromarray((np.asarray(tilted, dtype=float) + grain).clip(0, 255).astype(np.uint8))
    matrix = np.array([[1, 0.03, -110], [-0.02, 1, -70], [0, 0, 1]])
    back = np.linalg.inv(matrix)
    corners = [tuple((back @ [x, y, 1])[:2]) for x, y in ((0, 0), (wide, 0), (wide, tall), (0, tall))]
    return shaken, [(x + pick.uniform(-6, 6), y + pick.uniform(-6, 6)) for x, y in corners]


@pytest.mark.parametrize(("rows", "columns"), [(1, 4), (3, 6), (6, 3), (4, 5), (5, 2), (2, 9)])
@pytest.mark.parametrize("seed", range(3))
def test_the_walls_tell_rows_and_columns(rows, columns, seed):
    assert find_walls(*drawn(rows, columns, seed)) == (rows, columns)


def test_where_there_are_no_walls_none_are_seen():
    assert find_walls(*drawn(1, 1, 5, walls=False)) == (1, 1)
