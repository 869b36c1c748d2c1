"""Where the files that anglers change are found, and how one is read."""

from __future__ import annotations

import tomllib
from functools import cache
from pathlib import Path
from typing import Any, Final

from tackle.errors import DataError

__all__ = ["FOLDER", "read_toml", "reason"]

FOLDER: Final = Path(__file__).parent


def read_toml(path: Path) -> dict[str, Any]:
    """The content of a TOML file. Raises DataError with the line where it cannot be read."""
    try:
        return tomllib.loads(path.read_text(encoding="utf-8"))
    except OSError as error:
        raise DataError(path.name, "file", "path", error.strerror or "cannot be read") from error
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        raise DataError(path.name, "file", "syntax", str(error)) from error


def reason(which: str, **names: str) -> str:
    """What the core says of itself, in the words of the data file. Raises DataError where it has no such entry."""
    words = _reasons().get(which)
    if not isinstance(words, str):
        raise DataError("reasons.toml", which, "words", "is missing or not text")
    return words.format(**names)


@cache
def _reasons() -> dict[str, Any]:
    return read_toml(FOLDER / "reasons.toml")
