"""What a template draws, drawn once for one thing to show; kept deflated."""

import zlib
from collections.abc import Callable
from functools import lru_cache
from typing import Any, Final

from django.template.loader import render_to_string
from django.utils.safestring import SafeString, mark_safe

from tackle.cache import Cache
from web.ui.marks import mark_of
from web.ui.shared import SHARED

_SHORT: Final = 16_000  # bytes: for less a wide window takes longer to set up than to use
_DRAWN: Final = Cache[bytes](megabytes=5)


def drawn_once(template: str, shows: Any, context: Callable[[], dict[str, Any]], *, shared: bool = False) -> SafeString:
    """What a template draws of a context. `shows` has to tell of all that it shows, by what can be marked.

    `shared`: it is worth a file, and lies there, where all processes of the server find it, instead of in this one.
    """
    name = f"{template} {mark_of(shows)}"

    def draw() -> bytes:
        return deflated(render_to_string(template, context()))

    if not shared:
        return inflated(_DRAWN.once(name, draw))
    held = SHARED.get(name, "")
    if held is None:
        held = draw()
        SHARED.put(name, "", held)
    return inflated(held)


@lru_cache(maxsize=1)
def no_notice() -> SafeString:
    """What takes the last notice off a page."""
    return render_to_string("ui/no_notice.html")


def deflated(drawn: str) -> bytes:
    """What was drawn, to be kept."""
    content = drawn.encode()
    window, memory = (13, 6) if len(content) < _SHORT else (15, 8)
    told = zlib.compressobj(1, zlib.DEFLATED, window, memory)
    return told.compress(content) + told.flush()


def inflated(held: bytes) -> SafeString:
    """The same as it was drawn."""
    return mark_safe(zlib.decompress(held).decode())  # noqa: S308 - drawn by a template
