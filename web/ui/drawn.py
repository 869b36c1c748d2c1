"""What a template draws, drawn once for one thing to show; kept deflated."""

import zlib
from collections.abc import Callable, Hashable
from typing import Any, Final

from django.template.loader import render_to_string
from django.utils.safestring import SafeString, mark_safe

from tackle.kept import Held

_DRAWN: Final = Held[bytes](megabytes=20)


def drawn_once(template: str, shows: Hashable, context: Callable[[], dict[str, Any]]) -> SafeString:
    """What a template draws of a context. `shows` has to tell of all that it shows."""
    return inflated(_DRAWN.once((template, shows), lambda: deflated(render_to_string(template, context()))))


def deflated(drawn: str) -> bytes:
    """What was drawn, to be kept."""
    return zlib.compress(drawn.encode(), 1)


def inflated(held: bytes) -> SafeString:
    """The same as it was drawn."""
    return mark_safe(zlib.decompress(held).decode())  # noqa: S308 - drawn by a template
