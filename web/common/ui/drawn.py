"""What is drawn of some content, or of a version of it: kept deflated, by all that it shows."""

import zlib
from collections.abc import Callable
from typing import Any

from django.utils.safestring import SafeString, mark_safe

from tackle.base.store import STORE, Serializer

_AS_IT_IS = Serializer[bytes](bytes, bytes)


def drawn(kind: str, of: Any, draw: Callable[[], str], version: Any = None) -> SafeString:
    """What `draw` gives, which a template has to have drawn. `of` has to tell all that it shows, with its version where
    that changes: see tackle.base.store."""
    held = STORE.once(kind, of, lambda: zlib.compress(draw().encode(), 1), _AS_IT_IS, version)
    return mark_safe(zlib.decompress(held).decode())  # noqa: S308 - drawn by a template
