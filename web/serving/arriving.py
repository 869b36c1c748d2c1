"""A request as it comes in: its bytes are gathered until it is whole, comes too slowly, or is refused.

Only its end is looked for here (RFC 9112, section 6); what it says is for the server to read.
"""

import re
from collections.abc import Callable
from dataclasses import dataclass, field
from tempfile import SpooledTemporaryFile
from typing import IO, Final
from urllib.parse import unquote

HEADER_S: Final = 10.0  # for the header, from its first byte or from the connection's beginning
BODY_S: Final = 30.0  # for the body; longer only while it comes at this many bytes a second or faster
FLOOR_BYTES_S: Final = 16_000
MOST_HEADER: Final = 32_768
_IN_MEMORY: Final = 65_536
_END: Final = b"\r\n\r\n"
_LENGTH: Final = re.compile(rb"[0-9]{1,12}")


class Stopped(Exception):
    """A request that is not taken any further: the status, and why in words."""

    def __init__(self, status: str, words: str) -> None:
        super().__init__(words)
        self.status, self.words = status, words


def _file() -> IO[bytes]:
    return SpooledTemporaryFile(max_size=_IN_MEMORY)


@dataclass(slots=True)
class Arriving:
    """One request of a connection. `most_of`: how many bytes the body may have that is sent to a path.

    Times are seconds of a monotonic clock.
    """

    begun: float
    most_of: Callable[[str], int]
    length: int | None = None  # of header and body together, once the header is whole
    goes_on: bool = False  # whether the sender waits to be told so before the body (RFC 9110, section 10.1.1)
    left: bytes = b""  # what came after the request's end: the beginning of the next
    _header: bytearray = field(default_factory=bytearray)
    _file: IO[bytes] = field(default_factory=_file)
    _got: int = 0
    _body_begun: float = 0.0

    def take(self, data: bytes, now: float) -> bool:
        """Adds what came; returns whether the request is whole. Raises Stopped."""
        if self.length is None:
            self._header += data
            end = self._header.find(_END)
            if max(end, len(self._header) if end < 0 else 0) > MOST_HEADER:
                raise Stopped("431 Request Header Fields Too Large", f"a header has at most {MOST_HEADER:,} bytes")
            if end < 0:
                return False
            self.length = end + len(_END) + self._body_length(bytes(self._header[:end]))
            self._body_begun = now
            data = bytes(self._header)
        missing = self.length - self._got
        self._file.write(data[:missing])
        self._got += len(data[:missing])
        self.left += data[missing:]
        return self._got == self.length

    def check(self, now: float) -> None:
        """Raises Stopped where the request comes too slowly."""
        if self.length is None:
            if now - self.begun > HEADER_S:
                raise Stopped("408 Request Timeout", f"a header comes within {HEADER_S:g} seconds")
            return
        took = now - self._body_begun
        if took > BODY_S and self._got < took * FLOOR_BYTES_S:
            raise Stopped("408 Request Timeout", f"a body comes within {BODY_S:g} seconds, or faster than this")

    @property
    def empty(self) -> bool:
        """Whether nothing of it has come yet."""
        return not self._header

    def whole(self) -> IO[bytes]:
        """All its bytes, to be read from the beginning."""
        self._file.seek(0)
        return self._file

    def close(self) -> None:
        self._file.close()

    def _body_length(self, header: bytes) -> int:
        first, *lines = header.lstrip(b"\r\n").split(b"\r\n")
        told = [(name.strip().lower(), value.strip()) for name, _, value in (line.partition(b":") for line in lines)]
        values = dict(told)
        if b"transfer-encoding" in values:
            raise Stopped("411 Length Required", "a body comes with its length (Content-Length)")
        lengths = {value for name, value in told if name == b"content-length"}
        if len(lengths) > 1 or not all(_LENGTH.fullmatch(one) for one in lengths):
            raise Stopped("400 Bad Request", "Content-Length is not one number")
        length = int(next(iter(lengths), b"0"))
        target = first.split(b" ")[1:2]
        path = unquote(target[0].partition(b"?")[0].decode("latin-1")) if target else ""
        if length and length > (most := self.most_of(path)):
            raise Stopped("413 Content Too Large", f"at most {most:,} bytes are taken here")
        self.goes_on = values.get(b"expect", b"").lower() == b"100-continue"
        return length
