"""Where the files that anglers change are found, and how one is read."""

from __future__ import annotations

import tomllib
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any, Final, TypeVar, cast

from tackle.base.errors import DataError

__all__ = ["FOLDER", "loaded", "read_toml", "reason"]

Content = TypeVar("Content")

FOLDER: Final = Path(__file__).parent
_REASONS: Final = FOLDER / "reasons.toml"


def loaded(load: Callable[[Path], Content], path: Path) -> Content:
    """What a file that ships holds, loaded once. Raises what `load` does."""
    return cast(Content, _loaded(load, path))


@cache
def _loaded(load: Callable[[Path], object], path: Path) -> object:
    return load(path)


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
    words = loaded(read_toml, _REASONS).get(which)
    if not isinstance(words, str):
        raise DataError("reasons.toml", which, "words", "is missing or not text")
    return words.format(**names)
