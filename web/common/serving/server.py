"""The web server: some processes on one socket, each of them `bounded`, with the app loaded once for all.

python -m web.common.serving.server --bind 127.0.0.1:8040 --workers 2 --threads 4 --pid var/server.pid
"""

import argparse
import logging
import os
import signal
import socket
import sys
import time
from pathlib import Path
from types import FrameType
from typing import Final

PATIENCE_S: Final = 30.0  # for processes that are told to end
LOOK_S: Final = 0.2
AGAIN_S: Final = 0.5  # before a process that has ended is begun again

logger = logging.getLogger(__name__)


def main() -> None:
    parser = argparse.ArgumentParser(description="Serves the app.")
    parser.add_argument("--bind", default="127.0.0.1:8040")
    parser.add_argument("--workers", type=int, default=1)
    parser.add_argument("--threads", type=int, default=4)
    parser.add_argument("--pid", type=Path)
    asked = parser.parse_args()
    listener = bound(asked.bind)
    if asked.pid:
        asked.pid.write_text(str(os.getpid()))
    from web.wsgi import application  # loaded before the processes part, so that they share it

    listener.listen(1_024)
    status = Processes(listener, application, asked.workers, asked.threads).run()
    if asked.pid:
        asked.pid.unlink(missing_ok=True)
    sys.exit(status)


def bound(address: str) -> socket.socket:
    """A socket at an address, which takes nobody yet."""
    host, _, port = address.rpartition(":")
    listener = socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind((host.strip("[]"), int(port)))
    except OSError as error:
        sys.exit(f"{address} cannot be opened: {error.strerror}")
    listener.setblocking(False)
    return listener


class Processes:
    """So many processes, each begun again where it ends before it is told to."""

    def __init__(self, listener: socket.socket, application: object, count: int, threads: int) -> None:
        self.listener, self.application, self.count, self.threads = listener, application, count, threads
        self.running: set[int] = set()
        self.stopping = False

    def run(self) -> int:
        """Serves until it is told to end; the status to end with."""
        for number in (signal.SIGTERM, signal.SIGINT):
            signal.signal(number, self._stop)
        while not self.stopping:
            while len(self.running) < self.count and not self.stopping:
                self._begin()
            self._wait()
        for pid in self.running:
            os.kill(pid, signal.SIGTERM)
        until = time.monotonic() + PATIENCE_S
        while self.running and time.monotonic() < until:
            self._reap()
            time.sleep(0.05)
        for pid in self.running:
            os.kill(pid, signal.SIGKILL)
        return 0

    def _stop(self, number: int, frame: FrameType | None) -> None:
        self.stopping = True

    def _begin(self) -> None:
        if pid := os.fork():
            self.running.add(pid)
            return
        from web.common.serving.bounded import Server

        server = Server(self.application, self.listener, self.threads, os.environ.get("WAX_PROXY", ""))
        signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C goes to all: the first process tells the others
        signal.signal(signal.SIGTERM, lambda *_: server.stop())
        server.run()
        os._exit(0)

    def _wait(self) -> None:
        while not self.stopping and not self._reap():
            time.sleep(LOOK_S)
        if not self.stopping:
            time.sleep(AGAIN_S)

    def _reap(self) -> bool:
        """Whether a process has ended."""
        found = False
        for pid in list(self.running):
            if os.waitpid(pid, os.WNOHANG)[0]:
                self.running.discard(pid)
                found = True
                if not self.stopping:
                    logger.warning("a process of the server has ended; it is begun again")
        return found


if __name__ == "__main__":
    main()
