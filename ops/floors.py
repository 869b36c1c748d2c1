"""./wax floors [FILE]: draws the folders of core and web with the arrows of their imports, as an SVG (docs/floors.svg).

The rows are the layers that import-linter holds, from pyproject.toml; an arrow is drawn where no other way leads there.
Any room of the web may use the core.
"""

import sys
import tomllib
from collections.abc import Iterator
from html import escape
from pathlib import Path
from typing import Final

from grimp import ImportGraph, build_graph

ROOT: Final = Path(__file__).parent.parent
PICTURE: Final = ROOT / "docs" / "floors.svg"
CONTAINERS: Final = {
    "web.pages": "Pages",
    "web.domain": "What is kept",
    "web.common": "What serves all",
    "tackle": "The core",
}
ROOM_W, ROOM_H, GAP_X, GAP_Y, MARGIN = 104, 30, 14, 26, 150
WIDE: Final = 7 * (ROOM_W + GAP_X)
STYLE: Final = (
    "text{font:13px sans-serif;fill:#16262c}.name{font-weight:700}.room{fill:#fbfdfc;stroke:#5c7278}"
    ".arrow{stroke:#5c7278;fill:none;stroke-opacity:.55}"
)


def rows(container: str) -> list[list[str]]:
    """The rooms of a container, a row for each layer, the uppermost first."""
    contracts = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["importlinter"]["contracts"]
    layers = next(each["layers"] for each in contracts if each.get("containers") == [container])
    return [[f"{container}.{room.strip()}" for room in layer.split("|")] for layer in layers]


def arrows(graph: ImportGraph, rooms: list[str]) -> Iterator[tuple[str, str]]:
    """What imports what among rooms of web and among those of the core, without what follows from a chain of others."""
    direct = {
        room: {
            other
            for other in rooms
            if other != room
            and other.split(".")[0] == room.split(".")[0]
            and graph.direct_import_exists(importer=room, imported=other, as_packages=True)
        }
        for room in rooms
    }
    below: dict[str, set[str]] = {}
    for room in reversed(rooms):  # the rooms of lower rows first
        below[room] = direct[room].union(*(below.get(other, set()) for other in direct[room]))
    for room, others in direct.items():
        for other in sorted(others):
            if not any(other in below.get(between, set()) for between in others - {other}):
                yield room, other


def picture() -> str:
    """The picture of all containers, from the uppermost floor to the lowest."""
    graph = build_graph("tackle", "web")
    at: dict[str, tuple[float, float]] = {}
    drawn: list[str] = []
    y = 20.0
    for container, title in CONTAINERS.items():
        drawn.append(f'<text class="name" x="14" y="{y + 20:.0f}">{title}</text>')
        drawn.append(f'<text x="14" y="{y + 38:.0f}">{container}</text>')
        for row in rows(container):
            left = MARGIN + (WIDE - len(row) * (ROOM_W + GAP_X)) / 2
            for index, room in enumerate(row):
                at[room] = left + index * (ROOM_W + GAP_X), y
            y += ROOM_H + GAP_Y
        y += GAP_Y / 2
    lines = [
        f'<path class="arrow" marker-end="url(#head)" d="M{at[room][0] + ROOM_W / 2:.0f} {at[room][1] + ROOM_H:.0f}'
        f'L{at[other][0] + ROOM_W / 2:.0f} {at[other][1] - 2:.0f}"/>'
        for room, other in arrows(graph, list(at))
        if at[other][1] > at[room][1]
    ]
    for room, (x, top) in at.items():
        drawn.append(f'<rect class="room" x="{x:.0f}" y="{top:.0f}" width="{ROOM_W}" height="{ROOM_H}" rx="6"/>')
        name = escape(room.rsplit(".", 1)[-1])
        drawn.append(f'<text text-anchor="middle" x="{x + ROOM_W / 2:.0f}" y="{top + 20:.0f}">{name}</text>')
    head = (
        '<defs><marker id="head" viewBox="0 0 6 6" refX="5" refY="3" markerWidth="6" markerHeight="6" orient="auto">'
        '<path d="M0 0L6 3L0 6z" fill="#5c7278"/></marker></defs>'
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {MARGIN + WIDE + 20} {y:.0f}" role="img" '
        f'aria-label="Folders of Wax Crate and what imports what"><style>{STYLE}</style>{head}'
        + "".join([*lines, *drawn])
        + "</svg>\n"
    )


if __name__ == "__main__":
    Path(sys.argv[1] if len(sys.argv) > 1 else PICTURE).write_text(picture())
