"""What comes from strangers as a file is read in a process of its own, which may ask for little and is thrown away.

The process that such processes are forked from is started where the first is needed, has one thread and none of our
data, and ends with the one that started it.
"""

import multiprocessing
import resource
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing.connection import Connection
from typing import Any, Final, ParamSpec, TypeVar

from django.core.exceptions import ValidationError

P = ParamSpec("P")
R = TypeVar("R")


@dataclass(frozen=True, slots=True)
class Bounds:
    """What a child may ask for: memory of its own in bytes, and seconds of processor."""

    memory: int
    cpu_s: int

    @property
    def wall_s(self) -> float:
        """After how long nobody waits for it any more: it shares the processors with others."""
        return 3.0 * self.cpu_s + 10


TEXT: Final = Bounds(300_000_000, 20)
PICTURE: Final = Bounds(500_000_000, 60)
TOO_MUCH: Final = "This file asks for too much: reading it takes more memory or time than any file of its kind needs."

_context = multiprocessing.get_context("forkserver")
_context.set_forkserver_preload(["django.core.exceptions", "odf.opendocument", "openpyxl", "PIL.Image", "pickle"])


def in_child(bounds: Bounds, work: Callable[P, R], *args: P.args, **named: P.kwargs) -> R:
    """What `work` returns, or the error that it raises; ValidationError where it goes past its bounds.

    `work` is a function of a module that can be imported without Django's apps; what goes in and comes out is pickled.
    """
    here, there = _context.Pipe(duplex=False)
    child = _context.Process(target=_work, args=(there, bounds, work, args, named), daemon=True)
    try:
        child.start()
        there.close()
        if not here.poll(bounds.wall_s):
            raise ValidationError(TOO_MUCH)
        well, came = here.recv()
    except EOFError:  # ended by the system, with nothing said
        raise ValidationError(TOO_MUCH) from None
    finally:
        here.close()
        child.kill()
        child.join()
        child.close()
    if not well:
        raise came
    return came  # type: ignore[no-any-return]


def _work(there: Connection, bounds: Bounds, work: Callable[..., Any], args: Any, named: Any) -> None:
    resource.setrlimit(resource.RLIMIT_DATA, (bounds.memory, bounds.memory))
    resource.setrlimit(resource.RLIMIT_CPU, (bounds.cpu_s, bounds.cpu_s))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        came = True, work(*args, **named)
    except MemoryError:
        came = False, ValidationError(TOO_MUCH)
    except Exception as error:  # told to who asked, as if it had been raised there
        came = False, error
    there.send(came)
