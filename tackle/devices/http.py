"""One GET to something outside, with a deadline for the whole of it."""

from __future__ import annotations

import io
import socket
import ssl
from http.client import OK, HTTPException, HTTPResponse
from typing import Final
from urllib.parse import SplitResult, urlsplit

from tackle.base.errors import InvalidInput
from tackle.devices.line import Deadline, heard

__all__ = ["Unreachable", "fetched"]

_MOST_HEAD: Final = 10_000


class Unreachable(Exception):
    """The service did not answer, or not in time, or not with what was asked."""


def fetched(address: str, what: str, timeout_s: float, most_bytes: int) -> bytes:
    """The body of what an address answers. Raises Unreachable; InvalidInput, naming `what`, where it is no HTTP."""
    try:
        said = _asked(urlsplit(address), Deadline(timeout_s), most_bytes + _MOST_HEAD)
    except (OSError, ValueError) as error:
        raise Unreachable(str(error)) from error
    try:
        answer = HTTPResponse(_Said(said))  # type: ignore[arg-type]
        answer.begin()
        body = answer.read()
    except (HTTPException, OSError, ValueError) as error:
        raise (
            InvalidInput(what, "is not an answer in HTTP", "an answer in HTTP") if said else Unreachable()
        ) from error
    if answer.status != OK:
        raise Unreachable(f"status {answer.status}")
    return body


def _asked(address: SplitResult, deadline: Deadline, most_bytes: int) -> bytes:
    """All that a service answers to one GET, by a deadline for the whole. Raises OSError, ValueError."""
    secure = address.scheme == "https"
    host = address.hostname or ""
    with socket.create_connection((host, address.port or (443 if secure else 80)), deadline.left_s or 0.001) as bare:
        line = ssl.create_default_context().wrap_socket(bare, server_hostname=host) if secure else bare
        head = (
            f"GET {address.path or '/'}?{address.query} HTTP/1.0\r\nHost: {address.netloc}\r\nConnection: close\r\n\r\n"
        )
        line.sendall(head.encode("ascii"))
        return heard(line, deadline, most_bytes)


class _Said:
    """What was said already, as the file that the standard library's reader of HTTP asks a socket for."""

    def __init__(self, said: bytes) -> None:
        self._said = said

    def makefile(self, mode: str) -> io.BytesIO:
        return io.BytesIO(self._said)
