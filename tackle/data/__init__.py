"""Where the files that anglers change are found, and how one is read."""

from __future__ import annotations

import tomllib
from pathlib import Path
from typing import Any, Final

from tackle.errors import DataError

__all__ = ["FOLDER", "read_toml"]

FOLDER: Final = Path(__file__).parent


def read_toml(path: Path) -> dict[str, Any]:
    """The content of a TOML file. Raises DataError with the line where it cannot be read."""
    try:
        return tomllib.loads(path.read_text(encoding="utf-8"))
    except OSError as error:
        raise DataError(path.name, "file", "path", error.strerror or "cannot be read") from error
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        raise DataError(path.name, "file", "syntax", str(error)) from error
