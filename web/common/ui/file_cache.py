"""A folder of things worked out that all processes of a server share: so many places, each thing has one of them."""

import hashlib
import os
import secrets
from contextlib import suppress
from pathlib import Path
from typing import Final

_MARK: Final = 32  # bytes of what a place holds say what it is


class FileCache:
    """What falls on a place that is taken puts out what is there: it never holds more than `count` times `most` bytes.

    Whoever has the folder can read it all. Where it cannot be written, nothing is kept.
    """

    def __init__(self, folder: Path, count: int, most: int) -> None:
        self._folder, self._count, self._most = folder, count, most

    def get(self, name: str, version: str) -> bytes | None:
        """What was put there under this name, if it was of this version."""
        try:
            held = self._path(name).read_bytes()
        except OSError:
            return None
        return held[_MARK:] if held[:_MARK] == _digest(f"{name} {version}") else None

    def put(self, name: str, version: str, content: bytes) -> None:
        """Puts something there; whole or not at all, whoever else puts or gets something at once."""
        if len(content) > self._most:
            return
        path = self._path(name)
        beside = path.with_name(f"{path.name}.{secrets.token_hex(6)}")
        try:
            beside.write_bytes(_digest(f"{name} {version}") + content)
            os.replace(beside, path)
        except OSError:
            with suppress(OSError):
                beside.unlink()

    def clear(self) -> None:
        """Takes out all that there is."""
        with suppress(OSError):
            for path in list(self._folder.iterdir()):
                path.unlink(missing_ok=True)

    def _path(self, name: str) -> Path:
        return self._folder / str(int.from_bytes(_digest(name)[:8]) % self._count)


def _digest(words: str) -> bytes:
    return hashlib.blake2b(words.encode(), digest_size=_MARK).digest()
