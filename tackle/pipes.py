"""Programs whose output another one reads."""

from __future__ import annotations

import signal

__all__ = ["ends_quietly"]


def ends_quietly() -> None:
    """Whoever reads our answers may stop reading (`| head`): then this process ends, as every program does."""
    if hasattr(signal, "SIGPIPE"):
        signal.signal(signal.SIGPIPE, signal.SIG_DFL)
