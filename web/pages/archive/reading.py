"""An archive read as a stream: bounded by what has been unpacked, and never held whole."""

import io
import json
import shutil
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import IO, Any, Final

from tackle.base.errors import InvalidInput
from tackle.base.strict import check_value, decoder
from web.common.serving.child import TEXT, in_child

FORMAT, TABLE, PACKED = 1, "wax-crate.json", "packed.zip"
MOST_UNPACKED, MOST_ROWS, MOST_ROW = 150_000_000, 300_000, 8_000_000
_PIECE: Final = 65_536
_SPACE: Final = " \t\n\r"


@dataclass(slots=True)
class Archive:
    """What an archive holds: of each table its rows, in a file of a line each, and its pictures, still packed."""

    packed: zipfile.ZipFile
    folder: Path
    account: Any
    counts: dict[str, int]

    def rows(self, label: str) -> Iterator[dict[str, Any]]:
        """The rows of a table, in their order."""
        if label in self.counts:
            with (self.folder / label).open(encoding="utf-8") as file:
                yield from map(json.loads, file)

    def picture(self, place: int) -> IO[bytes]:
        """A picture by the place of its row, from 1; nothing where there is none."""
        try:
            return self.packed.open(f"pictures/{place}.jpg")
        except KeyError:
            return io.BytesIO()


@contextmanager
def opened(file: IO[bytes], labels: frozenset[str]) -> Iterator[Archive]:
    """An archive of tables with these names. Raises InvalidInput where it is none, or too large; ValidationError where
    it asks for too much."""
    with TemporaryDirectory(prefix="wax-archive-") as place:
        folder = Path(place)
        with (folder / PACKED).open("wb") as whole:
            shutil.copyfileobj(file, whole)
        account, counts = in_child(TEXT, _unpacked, place, labels)
        try:
            with zipfile.ZipFile(folder / PACKED) as packed:
                yield Archive(packed, folder, account, counts)
        except (zipfile.BadZipFile, EOFError) as error:  # of a picture in it
            raise InvalidInput("archive", "is damaged", "an archive as it was written") from error


def _unpacked(place: str, labels: frozenset[str]) -> tuple[Any, dict[str, int]]:
    """Writes the rows of each table into a file of its own in the folder, a line each; the account and their counts."""
    folder, counts = Path(place), dict[str, int]()
    try:
        with zipfile.ZipFile(folder / PACKED) as packed, packed.open(TABLE) as content:
            return _read_table(_Text(content), folder, counts, labels), counts
    except (EOFError, UnicodeDecodeError, zlib.error) as error:
        raise InvalidInput("archive", "is damaged", "an archive as it was written") from error
    except InvalidInput:
        raise
    except (zipfile.BadZipFile, KeyError, RuntimeError, NotImplementedError, OSError, ValueError) as error:
        raise InvalidInput(
            "archive", f"is none of Wax Crate ({str(error)[:80]})", f"a ZIP file with {TABLE} in it"
        ) from error


def _read_table(text: "_Text", folder: Path, counts: dict[str, int], labels: frozenset[str]) -> Any:
    form = account = None
    for name in text.names():
        if name == "things":
            for label in text.names():
                if label not in labels:
                    raise InvalidInput(TABLE, f"things.{label[:40]} is no table of this version", sorted(labels))
                _read_rows(text, folder, counts, label)
        elif name == "account":
            account = text.checked("account")
        else:
            value = text.checked(name[:40])
            form = value if name == "wax_crate" else form
    if form != FORMAT:
        raise InvalidInput(TABLE, "is of another form", f"form {FORMAT}")
    return account


def _read_rows(text: "_Text", folder: Path, counts: dict[str, int], label: str) -> None:
    if label in counts:
        raise InvalidInput(TABLE, f"things.{label} stands twice", "each table once")
    counts[label] = 0
    with (folder / label).open("w", encoding="utf-8") as file:
        for place in text.places():
            row = text.checked(f"{label}[{place}]")
            if not isinstance(row, dict):
                raise InvalidInput(f"{label}[{place}]", "is not a row", "an object")
            file.write(json.dumps(row) + "\n")
            counts[label] += 1
            if sum(counts.values()) > MOST_ROWS:
                raise InvalidInput(TABLE, "has too many rows", f"at most {MOST_ROWS:,}")


class _Text:
    """JSON as it comes, a value at a time."""

    def __init__(self, content: IO[bytes]) -> None:
        self._content = io.TextIOWrapper(content, "utf-8-sig")
        self._decode = decoder().raw_decode
        self._held, self._at, self._read, self._ended = "", 0, 0, False

    def names(self) -> Iterator[str]:
        """The names in an object; the value of each is to be read before the next is asked for."""
        for _ in self._parts("{", "}"):
            name = self._value()
            if not isinstance(name, str):
                raise self._wrong("a name is no text")
            self._take(":")
            yield name

    def places(self) -> Iterator[int]:
        """The places of a list, from 1; as above."""
        yield from self._parts("[", "]")

    def checked(self, where: str) -> Any:
        """A value, with nothing in it that nothing can hold."""
        value = self._value()
        check_value(value, where)
        return value

    def _parts(self, begins: str, ends: str) -> Iterator[int]:
        self._take(begins)
        place = 0
        while self._next() != ends:
            if place:
                self._take(",")
            place += 1
            yield place
        self._take(ends)

    def _value(self) -> Any:
        self._next()
        while True:
            try:
                value, end = self._decode(self._held, self._at)
            except RecursionError as error:
                raise self._wrong("it is nested too deep") from error
            except ValueError as error:
                if self._ended:
                    raise self._wrong(str(error)[:80]) from error
            else:
                if end < len(self._held) or self._ended:  # a number may go on in what has not come yet
                    self._at = end
                    return value
            self._more()

    def _next(self) -> str:
        """The next character that is no space; an empty text at the end."""
        while True:
            while self._at < len(self._held):
                if self._held[self._at] not in _SPACE:
                    return self._held[self._at]
                self._at += 1
            if self._ended:
                return ""
            self._more()

    def _take(self, wanted: str) -> None:
        if self._next() != wanted:
            raise self._wrong(f"{wanted!r} is missing")
        self._at += 1

    def _more(self) -> None:
        """Reads on, as much as there is held already, so that a long value is not tried again and again."""
        self._held = self._held[self._at :]
        self._at = 0
        if len(self._held) > MOST_ROW:
            raise InvalidInput(TABLE, "has a row that is too long", f"rows of at most {MOST_ROW:,} characters")
        more = self._content.read(max(_PIECE, len(self._held)))
        self._read += len(more)
        if self._read > MOST_UNPACKED:
            raise InvalidInput(TABLE, "is too large", f"at most {MOST_UNPACKED // 1_000_000} MB when it is unpacked")
        self._ended = not more
        self._held += more

    def _wrong(self, words: str) -> InvalidInput:
        return InvalidInput(TABLE, f"is not JSON: {words}", "JSON as it was written")
