"""The categories as silhouettes, from the data file: an SVG path each, in a box of 72 x 32."""

from pathlib import Path
from typing import Final

from tackle.data import read_toml

SHAPES: Final[dict[str, str]] = read_toml(Path(__file__).parent / "shapes.toml")
