"""What a template draws, drawn once for one thing to show; kept deflated."""

import zlib
from collections.abc import Callable, Hashable
from typing import Any, Final

from django.http import HttpRequest
from django.template.loader import render_to_string
from django.utils.safestring import SafeString, mark_safe

from tackle.kept import Held


class Drawn:
    """What was drawn, by the template and what it shows, the longest unasked going first."""

    def __init__(self, megabytes: float) -> None:
        self._held = Held[bytes](megabytes)

    def already(self, template: str, shows: Hashable) -> SafeString | None:
        """What a template drew before, where it did."""
        held = self._held.get((template, shows))
        return None if held is None else mark_safe(zlib.decompress(held).decode())  # noqa: S308 - drawn by a template

    def once(
        self, template: str, shows: Hashable, context: Callable[[], dict[str, Any]], request: HttpRequest | None = None
    ) -> SafeString:
        """What a template draws of a context. `shows` has to tell of all that it shows."""
        drawn = self.already(template, shows)
        if drawn is None:
            drawn = render_to_string(template, context(), request)
            self._held.put((template, shows), zlib.compress(drawn.encode(), 1))
        return drawn


drawn_once: Final = Drawn(megabytes=16).once
