"""Looks after the process that does the heavy work: what is silent for too long ends, and so does what has grown."""

import os
import signal
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from threading import Lock, Thread
from time import monotonic, sleep
from typing import Any, Final

from django.db import DatabaseError, connection
from django_tasks.signals import task_finished

from web.common.accounts.once import forget_sent
from web.common.accounts.throttle import forget_old_tries
from web.common.work import services

MOST_MB: Final = 500  # that the process may have grown to; it begins anew between two pieces of work
LOOK_S: Final = 1.0
TIDY_S: Final = 86_400.0
ENDED: Final = 75  # the status of a process that was ended over its work


@dataclass(slots=True)
class Watch:
    """Over one process: which piece it is at, and when it was last heard of."""

    on: bool = False
    _job: int | None = None
    _heard: float = 0.0
    _lock: Lock = field(default_factory=Lock)

    def begin(self) -> None:
        """Watches this process from now on."""
        self.on = True
        task_finished.connect(_end_where_grown, dispatch_uid="grown")
        Thread(target=self._look, daemon=True).start()

    def heard(self, job: int | None) -> None:
        """Something was heard of a piece of work; None once it has ended."""
        with self._lock:
            self._job, self._heard = job, monotonic()

    def silent(self, now: float) -> int | None:
        """The piece of work that has told nothing for its bound."""
        with self._lock:
            return self._job if self._job is not None and now - self._heard > services.QUIET.total_seconds() else None

    def _look(self) -> None:
        tidied = float("-inf")
        while True:
            sleep(LOOK_S)
            if monotonic() - tidied > TIDY_S:
                tidied = monotonic()
                with suppress(DatabaseError):  # tomorrow, then
                    forget_old_tries()
                    forget_sent()
                connection.close()
            if job := self.silent(monotonic()):
                services.cut_off(job)
                connection.close()
                os._exit(ENDED)  # what it is at listens to nobody; ./wax begins the process anew


WATCH: Final = Watch()


def _end_where_grown(**_: Any) -> None:
    if resident_mb() > MOST_MB:
        os.kill(os.getpid(), signal.SIGTERM)  # the loop ends once this piece is put away


def resident_mb() -> float:
    """The memory that this process holds."""
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") / 1e6
