"""Bodies of pages, drawn once for one version of all that somebody owns and what is asked."""

import zlib
from collections.abc import Callable
from typing import Any

from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.safestring import SafeString, mark_safe

from tackle.store import STORE, Packing
from web.accounts.request import OwnRequest

_AS_IT_IS = Packing[bytes](bytes, bytes)


def body_of(request: OwnRequest, template: str, context: Callable[[], dict[str, Any]]) -> SafeString:
    """The body of a page as its template draws it. It may show only what its owner owns, as of today, and what the
    address asks: no message, no wrong entry, and nothing that is this session's alone."""

    def draw() -> bytes:
        return zlib.compress(render_to_string(template, context(), request).encode(), 1)

    drawn = STORE.once("body", _asked(request), draw, _AS_IT_IS)
    return mark_safe(zlib.decompress(drawn).decode())  # noqa: S308 - drawn by a template


def has_body(request: OwnRequest) -> bool:
    """Whether the body of this page is drawn already: nothing needs to be read for it."""
    return STORE.has("body", _asked(request))


def _asked(request: OwnRequest) -> tuple[Any, ...]:
    owner = request.user
    return owner.pk, owner.version, timezone.localdate(), request.path, request.GET.urlencode()
