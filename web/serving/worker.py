"""Gunicorn's threaded worker, but a request takes a thread only once all of it is here.

The main loop gathers what comes (`Arriving`), so that somebody who sends half a request holds a connection, never a
thread; it says no to bodies that their address does not take before it reads them, and ends the connections of who is
too slow, or has too many. Answers that nobody reads are given up after half a minute.
"""

import os
import selectors
import socket
import struct
import time
from collections import Counter
from concurrent.futures import Future
from functools import partial
from typing import IO, Any, Final

from gunicorn import http
from gunicorn.http.unreader import Unreader
from gunicorn.workers.gthread import TConn, ThreadWorker

from web.serving.arriving import Arriving, Stopped
from web.serving.bounds import MOST_BYTES, most_bytes_at

MOST_OF_ADDRESS: Final = 40  # connections of one address that a worker holds, but of the proxy before it
LINGER_S: Final = 2.0  # for the sender to read what it was told, before the connection is closed
WRITE_S: Final = 30  # without a byte of the answer taken
MOST_ARRIVING: Final = 250_000_000  # bytes of all bodies that are coming in at once
_PIECE: Final = 262_144


class _Whole(Unreader):  # type: ignore[misc]
    """What the parser reads of a request that is here already; there is never more to wait for."""

    def __init__(self) -> None:
        super().__init__()
        self.source: IO[bytes] | None = None

    def chunk(self, size_hint: int | None = None) -> bytes:
        return self.source.read(max(size_hint or 0, 65_536)) if self.source else b""


class Connection(TConn):  # type: ignore[misc]
    """One connection: what is arriving on it, and since when it is being ended."""

    def __init__(self, cfg: Any, sock: socket.socket, client: Any, server: Any) -> None:
        super().__init__(cfg, sock, client, server)
        self.initialized = False
        self.address = client[0] if isinstance(client, tuple) else ""
        self.arriving: Arriving | None = None
        self.left = b""
        self.ends_at = 0.0
        self.data_ready = True  # a thread need not wait: it is given whole requests alone
        sock.setsockopt(socket.SOL_SOCKET, socket.SO_SNDTIMEO, struct.pack("ll", WRITE_S, 0))

    def init(self) -> None:
        """A parser that reads what has arrived."""
        if not self.initialized:
            self.initialized = True
            self.parser = http.get_parser(self.cfg, self.sock, self.client)
            self.parser.unreader = _Whole()
        assert self.arriving is not None
        self.parser.unreader.source = self.arriving.whole()

    def close(self, graceful: bool = False) -> None:
        if self.arriving:
            self.arriving.close()
        super().close()


def _size(conn: Connection) -> int:
    """How many bytes the request on a connection has, as far as that is known."""
    return (conn.arriving and conn.arriving.length) or 0


def _too_many() -> Stopped:
    return Stopped("429 Too Many Requests", f"one address has at most {MOST_OF_ADDRESS} connections")


class PatientWorker(ThreadWorker):  # type: ignore[misc]
    """See the module."""

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.arriving: dict[Connection, None] = {}  # those that have not sent all of a request, the oldest first
        self.lingering: dict[Connection, None] = {}
        self.held: Counter[str] = Counter()
        self.proxy = os.environ.get("WAX_PROXY", "")

    def accept(self, listener: socket.socket) -> None:
        try:
            sock, client = listener.accept()
        except OSError:  # gone again already, or another worker was quicker
            return
        conn = Connection(self.cfg, sock, client, listener.getsockname())
        self.nr_conns += 1
        self.held[conn.address] += 1
        crowded = conn.address != self.proxy and self.held[conn.address] > MOST_OF_ADDRESS
        roomy = not crowded or self._make_room(conn.address)
        self._begin(conn)
        if not roomy:
            self._refuse(conn, _too_many())

    def on_client_socket_readable(self, conn: Connection, client: socket.socket) -> None:
        """A connection that was kept sends another request."""
        if conn not in self.keepalived_conns:  # ended by what came in the same moment
            return
        self.poller.unregister(client)
        self.keepalived_conns.remove(conn)
        self._begin(conn)

    def finish_request(self, conn: Connection, fs: "Future[Any]") -> None:
        """After an answer: the connection is kept, has sent its next request already, or ends."""
        if conn.arriving:
            conn.left = conn.arriving.left
            conn.arriving.close()
            conn.arriving = None
        try:
            kept = bool(not fs.cancelled() and fs.result()) and self.alive
        except Exception:
            kept = False
        if not kept:
            self._end(conn)
        elif conn.left:
            self._begin(conn)
        else:
            super().finish_request(conn, fs)

    def murder_pending(self) -> None:
        """Once a second: ends what comes too slowly, and what has had its time to read a refusal."""
        now = time.monotonic()
        for conn in list(self.arriving):
            assert conn.arriving is not None
            try:
                if not self.alive and conn.arriving.empty:
                    raise Stopped("503 Service Unavailable", "the server is being stopped")
                conn.arriving.check(now)
            except Stopped as stopped:
                self._refuse(conn, stopped)
        for conn in [one for one in self.lingering if one.ends_at < now]:
            self._close(conn)

    def murder_keepalived(self, force: bool = False) -> None:
        before = list(self.keepalived_conns)
        super().murder_keepalived(force)
        for conn in set(before) - set(self.keepalived_conns):
            self._forget(conn)

    def _begin(self, conn: Connection) -> None:
        conn.sock.setblocking(False)
        conn.arriving = Arriving(time.monotonic(), most_bytes_at)
        self.arriving[conn] = None
        self.poller.register(conn.sock, selectors.EVENT_READ, partial(self._on_bytes, conn))
        if conn.left:
            left, conn.left = conn.left, b""
            self._take(conn, left)

    def _on_bytes(self, conn: Connection, sock: socket.socket) -> None:
        if conn not in self.arriving:  # ended by what came in the same moment
            return
        try:
            data = sock.recv(_PIECE)
        except BlockingIOError:
            return
        except OSError:
            data = b""
        if data:
            self._take(conn, data)
        else:  # gone before it was whole
            self._leave(conn)
            self._close(conn)

    def _take(self, conn: Connection, data: bytes) -> None:
        assert conn.arriving is not None
        try:
            whole = conn.arriving.take(data, time.monotonic())
            self._bound_all(conn)
        except Stopped as stopped:
            self._refuse(conn, stopped)
            return
        except OSError:
            self._refuse(conn, Stopped("507 Insufficient Storage", "there is no room for the body"))
            return
        if whole:
            self._leave(conn)
            self.enqueue_req(conn)
        elif conn.arriving.goes_on:
            conn.arriving.goes_on = False
            self._send(conn, b"HTTP/1.1 100 Continue\r\n\r\n")

    def _bound_all(self, conn: Connection) -> None:
        """Large bodies take room on the disk: of all that are coming in, no more than so much at once."""
        if _size(conn) > MOST_BYTES and sum(map(_size, self.arriving)) > MOST_ARRIVING:
            raise Stopped("503 Service Unavailable", "many files are coming in just now: try again in a minute")

    def _make_room(self, address: str) -> bool:
        """Ends the connection of an address that has been half-sent the longest, or else has been idle the longest;
        false where all of them are being answered."""
        if half := next((one for one in self.arriving if one.address == address), None):
            self._refuse(half, _too_many())
            return True
        if idle := next((one for one in self.keepalived_conns if one.address == address), None):
            self.keepalived_conns.remove(idle)
            self.poller.unregister(idle.sock)
            self._close(idle)
            return True
        return False

    def _refuse(self, conn: Connection, stopped: Stopped) -> None:
        self._leave(conn)
        body = f"{stopped.words}\n".encode()
        head = f"HTTP/1.1 {stopped.status}\r\nConnection: close\r\nContent-Type: text/plain; charset=utf-8\r\n"
        self._send(conn, f"{head}Content-Length: {len(body)}\r\n\r\n".encode() + body)
        self._end(conn)

    def _send(self, conn: Connection, words: bytes) -> None:
        """A few words, where the other side takes them."""
        try:
            conn.sock.send(words)
        except OSError:
            self.log.debug("a refusal was not read")

    def _end(self, conn: Connection) -> None:
        """Closes once the other side has read what it was told, without anybody waiting for that (RFC 9112, 9.6)."""
        try:
            conn.sock.setblocking(False)
            conn.sock.shutdown(socket.SHUT_WR)
        except OSError:
            self._close(conn)
            return
        self._forget(conn)  # it takes no more room: nothing it sends is looked at
        conn.ends_at = time.monotonic() + LINGER_S
        self.lingering[conn] = None
        self.poller.register(conn.sock, selectors.EVENT_READ, partial(self._on_last_bytes, conn))

    def _on_last_bytes(self, conn: Connection, sock: socket.socket) -> None:
        if conn not in self.lingering:
            return
        try:
            if sock.recv(_PIECE):
                return
        except BlockingIOError:
            return
        except OSError:
            self.log.debug("reset while it was being closed")
        self._close(conn)

    def _leave(self, conn: Connection) -> None:
        """It is no longer arriving."""
        del self.arriving[conn]
        self.poller.unregister(conn.sock)

    def _close(self, conn: Connection) -> None:
        if conn in self.lingering:
            del self.lingering[conn]
            self.poller.unregister(conn.sock)
        else:
            self._forget(conn)
        self.nr_conns -= 1
        conn.close()

    def _forget(self, conn: Connection) -> None:
        self.held[conn.address] -= 1
        if not self.held[conn.address]:
            del self.held[conn.address]
