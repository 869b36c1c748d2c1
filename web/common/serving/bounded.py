"""Waitress's server with our bounds: by address, by route, and by time, both of what is sent and of what is read.

Waitress gives a request to a thread only once all of it is here, and holds answers for whoever reads slowly without
one. What it has no bound for is bounded here: connections of one address, bodies by what their address takes, and how
fast a header and a body come, and an answer goes.
"""

import logging
import socket
import time
from collections import Counter
from typing import Any, Final

from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import TcpWSGIServer
from waitress.task import ThreadedTaskDispatcher
from waitress.utilities import Error, RequestEntityTooLarge

from web.common.serving.bounds import MOST_BYTES, most_bytes_at

MOST_OF_ADDRESS: Final = 40  # connections of one address that a process holds, but of the proxy before it
MOST_ARRIVING: Final = 250_000_000  # bytes of all large bodies that are coming in at once
HEADER_S: Final = 10.0  # for a header, from its first byte; for the first one, from the connection's beginning
BODY_S: Final = 30.0  # for a body; longer only while it comes at this many bytes a second or faster
ANSWER_S: Final = 30.0  # for an answer, likewise
FLOOR_BYTES_S: Final = 16_000
IDLE_S: Final = 75.0  # between two requests of one connection
LINGER_S: Final = 2.0  # for the sender to read what it was told, before the connection is closed (RFC 9112, 9.6)
STOP_S: Final = 20.0  # for what is being answered when the server is told to end
_OURS: Final = {
    "connection_limit": 2_000, "cleanup_interval": 1, "asyncore_loop_timeout": 1, "asyncore_use_poll": True,
    "max_request_header_size": 32_768, "max_request_body_size": 1_000_000_000, "outbuf_high_watermark": 200_000_000,
    "clear_untrusted_proxy_headers": False, "ident": None, "log_socket_errors": False, "backlog": 1_024,
}  # fmt: skip

logger = logging.getLogger(__name__)


class LengthRequired(Error):  # type: ignore[misc]
    code, reason = 411, "Length Required"


class Request(HTTPRequestParser):  # type: ignore[misc]
    """A request whose body is bounded by what its address takes, before any of it is read."""

    bounded = False

    def received(self, data: bytes) -> int:
        taken: int = super().received(data)
        if self.headers_finished and not self.bounded and not self.empty:
            self.bounded = True
            if self.error is None:
                self._bound()
            if self.error is not None:
                self.completed, self.expect_continue = True, False
        return taken

    def _bound(self) -> None:
        most = most_bytes_at(self.path)
        if self.chunked:
            self.error = LengthRequired("a body comes with its length (Content-Length)")
        elif self.content_length > most:
            self.error = RequestEntityTooLarge(f"at most {most:,} bytes are taken here")


class Channel(HTTPChannel):  # type: ignore[misc]
    """One connection, with the times by which it is judged, in seconds since 1970."""

    parser_class = Request
    server: "Server"
    request: Request | None

    def __init__(self, server: "Server", sock: socket.socket, addr: Any, adj: Any, map: Any = None) -> None:
        self.begun = self.body_begun = self.answer_begun = time.time()
        self.taken = 0  # bytes of what is being answered
        self.refused = False
        self.lingers_since = 0.0
        self.address = addr[0] if isinstance(addr, tuple) else ""
        super().__init__(server, sock, addr, adj, map)

    @property
    def idle(self) -> bool:
        """Whether nothing is being answered on it."""
        return not self.requests and not self.total_outbufs_len

    def received(self, data: bytes) -> bool:
        if self.lingers_since or self.refused:
            return False
        if self.request is None:
            self.begun = time.time()
        header_was_here = bool(self.request and self.request.headers_finished)
        went_on: bool = super().received(data)
        if self.request and self.request.headers_finished and not header_was_here:
            self.body_begun = time.time()
            if self.request.content_length > MOST_BYTES and self.server.arriving() > MOST_ARRIVING:
                self.refuse("503 Service Unavailable", "many files are coming in just now: try again in a minute")
        self.refused = self.refused or any(request.error for request in self.requests)
        return went_on

    def readable(self) -> bool:
        return bool(self.lingers_since) or bool(super().readable())

    def send(self, data: bytes, do_close: bool = True) -> int:
        sent: int = super().send(data, do_close)
        self.taken += sent
        return sent

    def write_soon(self, data: Any) -> int:
        if not self.total_outbufs_len:
            self.answer_begun, self.taken = time.time(), 0
        written: int = super().write_soon(data)
        return written

    def refuse(self, status: str, words: str) -> None:
        """Says why, and closes."""
        body = f"{words}\n".encode()
        head = f"HTTP/1.1 {status}\r\nConnection: close\r\nContent-Type: text/plain; charset=utf-8\r\n"
        answer = f"{head}Content-Length: {len(body)}\r\n\r\n".encode() + body
        with self.outbuf_lock:
            self.outbufs[-1].append(answer)
            self.total_outbufs_len += len(answer)
        if self.request is not None:
            self.request.close()
            self.request = None
        self.refused = self.close_when_flushed = True

    def handle_close(self) -> None:
        """One that was refused may still be sending: it is closed once it had time to read why."""
        if self.refused and self.connected and not self.lingers_since:
            self.lingers_since, self.will_close = time.time(), False
            try:
                self.socket.shutdown(socket.SHUT_WR)
            except OSError:
                super().handle_close()
            return
        super().handle_close()

    def del_channel(self, map: Any = None) -> None:
        self.server.gone(self)
        super().del_channel(map)

    def check(self, now: float) -> None:
        """Ends it where it is too slow."""
        if self.lingers_since:
            if now - self.lingers_since > LINGER_S:
                super().handle_close()
        elif self.total_outbufs_len:
            if _too_slow(now - self.answer_begun, ANSWER_S, self.taken):
                super().handle_close()
        elif self.requests:
            return
        elif self.request is not None and self.request.headers_finished:
            if _too_slow(now - self.body_begun, BODY_S, self.request.body_bytes_received):
                self.refuse("408 Request Timeout", f"a body comes within {BODY_S:g} seconds, or faster than this")
        elif self.request is not None or self.last_activity == self.creation_time:
            if now - self.begun > HEADER_S:
                self.refuse("408 Request Timeout", f"a header comes within {HEADER_S:g} seconds")
        elif now - self.last_activity > IDLE_S or self.server.stopping:
            self.will_close = True


def _too_slow(took: float, patience: float, got: int) -> bool:
    return took > patience and got < took * FLOOR_BYTES_S


class Server(TcpWSGIServer):  # type: ignore[misc]
    """One process's server on a socket that others share."""

    channel_class = Channel

    def __init__(self, application: Any, listener: socket.socket, threads: int, proxy: str = "") -> None:
        self.held: Counter[str] = Counter()
        self.proxy, self.stopping = proxy, 0.0
        dispatcher = ThreadedTaskDispatcher()
        dispatcher.set_thread_count(threads)
        about = (listener.family, listener.type, listener.proto, listener.getsockname())
        adj = Adjustments(sockets=[listener], threads=threads, **_OURS)
        super().__init__(application, _sock=listener, dispatcher=dispatcher, adj=adj, bind_socket=False, sockinfo=about)

    def handle_accept(self) -> None:
        try:
            accepted = self.accept()
            if accepted is None:  # another process was quicker
                return
            conn, addr = accepted
            self.set_socket_options(conn)
        except OSError:  # gone again already
            return
        channel = self.channel_class(self, conn, self.fix_addr(addr), self.adj, map=self._map)
        self.held[channel.address] += 1
        crowded = channel.address != self.proxy and self.held[channel.address] > MOST_OF_ADDRESS
        if crowded and not self._make_room(channel):
            channel.refuse("429 Too Many Requests", f"one address has at most {MOST_OF_ADDRESS} connections")

    def gone(self, channel: Channel) -> None:
        """A connection is closed."""
        if self.held[channel.address] > 1:
            self.held[channel.address] -= 1
        else:
            self.held.pop(channel.address, None)

    def arriving(self) -> int:
        """How many bytes the large bodies have that are coming in."""
        lengths = (channel.request.content_length for channel in self.active_channels.values() if channel.request)
        return sum(length for length in lengths if length > MOST_BYTES)

    def maintenance(self, now: float) -> None:
        for channel in list(self.active_channels.values()):
            channel.check(now)
        if self.stopping and (not self.active_channels or now - self.stopping > STOP_S):
            raise SystemExit(0)

    def stop(self) -> None:
        """Takes nothing more, and ends once what it has is answered."""
        self.accepting, self.stopping, self.next_channel_cleanup = False, time.time(), 0

    def _make_room(self, new: Channel) -> bool:
        """Ends the connection of an address that has been half-sent the longest, or idle; false where all of them are
        being answered."""
        mine = [
            channel
            for channel in self.active_channels.values()
            if channel.address == new.address and channel is not new
        ]
        free = [one for one in mine if one.idle and not one.refused and not one.lingers_since]
        half = [one for one in free if one.request is not None or one.last_activity == one.creation_time]
        if half:
            oldest = min(half, key=lambda one: one.begun)
            oldest.refuse("429 Too Many Requests", f"one address has at most {MOST_OF_ADDRESS} connections")
        elif free:
            min(free, key=lambda one: one.last_activity).will_close = True
        return bool(free)
