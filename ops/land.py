"""Draws the outlines of land, as the vendored atlas has them, for the map on which a water's place is pointed at.

usage: python ops/land.py web/pages/waters/templates/waters/land.svg
"""

import json
import sys
from itertools import accumulate, pairwise
from pathlib import Path

ATLAS = Path(__file__).parent.parent / "web" / "common" / "ui" / "static" / "vendor" / "land-110m.json"
PER_DEGREE = 10  # units of the drawing
HALF_ROUND = 180 * PER_DEGREE

Point = tuple[int, int]


def rings(atlas: dict) -> list[list[Point]]:
    """The rings of all land, in tenths of a degree east and south, from TopoJSON: arcs of steps, one's complement where
    an arc runs the other way."""
    (sx, sy), (dx, dy) = atlas["transform"]["scale"], atlas["transform"]["translate"]
    arcs = [
        [(round((x * sx + dx) * PER_DEGREE), round(-(y * sy + dy) * PER_DEGREE))
         for x, y in accumulate(arc, lambda a, b: (a[0] + b[0], a[1] + b[1]))]
        for arc in atlas["arcs"]
    ]  # fmt: skip
    found = []
    for shape in atlas["objects"]["land"]["geometries"]:
        for polygon in shape["arcs"] if shape["type"] == "MultiPolygon" else [shape["arcs"]]:
            for ring in polygon:
                points = [point for at in ring for point in (arcs[at] if at >= 0 else arcs[~at][::-1])]
                whole = [points[0], *(b for a, b in pairwise(points) if a != b)]
                found += halves(whole)
    return [ring for ring in found if len(ring) > 3]


def halves(ring: list[Point]) -> list[list[Point]]:
    """A ring that runs over the edge of the map in its parts on either side, so that no line crosses the whole map."""
    parts: list[list[Point]] = [[ring[0]]]
    for a, b in pairwise(ring):
        if abs(b[0] - a[0]) > HALF_ROUND:
            parts.append([])
        parts[-1].append(b)
    sides = [[point for part in parts[side::2] for point in part] for side in (0, 1)]
    return [side for side in sides if side]


def path(ring: list[Point]) -> str:
    steps = " ".join(f"{b[0] - a[0]} {b[1] - a[1]}" for a, b in pairwise(ring[:-1]))
    return f"M{ring[0][0]} {ring[0][1]}l{steps}z".replace(" -", "-")


def main() -> None:
    drawn = "".join(map(path, rings(json.loads(ATLAS.read_text()))))
    Path(sys.argv[1]).write_text(f'<path class="map-land" d="{drawn}"/>\n')


if __name__ == "__main__":
    main()
