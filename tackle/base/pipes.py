"""Programs whose output another one reads, and the files that their callers name."""

from __future__ import annotations

import os
import signal
from pathlib import Path

__all__ = ["ends_quietly", "from_caller"]


def ends_quietly() -> None:
    """Whoever reads our answers may stop reading (`| head`): then this process ends, as every program does."""
    if hasattr(signal, "SIGPIPE"):
        signal.signal(signal.SIGPIPE, signal.SIG_DFL)


def from_caller(path: str | Path) -> Path:
    """A file as its name stands where ./wax was called, which goes to its own folder first."""
    return Path(os.environ.get("WAX_FROM", ".")) / path
