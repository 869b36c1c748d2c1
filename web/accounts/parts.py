"""Parts of pages, drawn once for one version of what somebody owns and one question about it; kept deflated."""

import zlib
from collections.abc import Callable
from typing import Any, Final

from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.safestring import SafeString, mark_safe

from tackle.kept import Held
from web.accounts.request import OwnRequest

_DRAWN: Final = Held[bytes](megabytes=12)


def part_of(request: OwnRequest, template: str, context: Callable[[], dict[str, Any]]) -> SafeString:
    """A part as its template draws it. It may show only what its owner owns, as of today, and what the address asks:
    no message, no wrong entry, and nothing that is this session's alone."""
    drawn = kept_part(request, template)
    if drawn is None:
        drawn = render_to_string(template, context(), request)
        _DRAWN.put(_asked(request, template), zlib.compress(drawn.encode(), 1))
    return drawn


def kept_part(request: OwnRequest, template: str) -> SafeString | None:
    """The same where it was drawn already: nothing needs to be read for it."""
    held = _DRAWN.get(_asked(request, template))
    return None if held is None else mark_safe(zlib.decompress(held).decode())  # noqa: S308 - drawn by a template


def _asked(request: OwnRequest, template: str) -> tuple[object, ...]:
    owner = request.user
    return owner.pk, owner.version, template, request.GET.urlencode(), timezone.localdate()
