"""What a template draws, drawn once for one thing to show; kept deflated."""

import zlib
from collections.abc import Callable, Hashable
from typing import Any, Final

from django.http import HttpRequest
from django.template.loader import render_to_string
from django.utils.safestring import SafeString, mark_safe

from tackle.kept import Held

_DRAWN: Final = Held[bytes](megabytes=26)


def drawn_once(
    template: str, shows: Hashable, context: Callable[[], dict[str, Any]], request: HttpRequest | None = None
) -> SafeString:
    """What a template draws of a context. `shows` has to tell of all that it shows."""
    drawn = drawn_already(template, shows)
    if drawn is None:
        drawn = render_to_string(template, context(), request)
        _DRAWN.put((template, shows), zlib.compress(drawn.encode(), 1))
    return drawn


def drawn_already(template: str, shows: Hashable) -> SafeString | None:
    """The same where it was drawn before."""
    held = _DRAWN.get((template, shows))
    return None if held is None else mark_safe(zlib.decompress(held).decode())  # noqa: S308 - drawn by a template
