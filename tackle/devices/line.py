"""A line to something outside: what it says until it closes, says too much, or its time is up as a whole."""

from __future__ import annotations

import socket
import time

__all__ = ["Deadline", "heard"]


class Deadline:
    """A moment by which all of a conversation is over, however slowly the other side talks."""

    def __init__(self, seconds: float) -> None:
        self._end = time.monotonic() + seconds

    @property
    def left_s(self) -> float:
        """The seconds left; 0 once it is over."""
        return max(self._end - time.monotonic(), 0.0)


def heard(line: socket.socket, deadline: Deadline, most_bytes: int) -> bytes:
    """What comes over a line until it is closed, `most_bytes` are there, or the deadline is over."""
    said = b""
    while len(said) < most_bytes and deadline.left_s:
        line.settimeout(max(deadline.left_s, 0.001))
        try:
            part = line.recv(min(65_536, most_bytes - len(said)))
        except TimeoutError:
            break
        if not part:
            break
        said += part
    return said
