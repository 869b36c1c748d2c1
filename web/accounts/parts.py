"""Parts of pages, drawn once for one version of all that somebody owns and one question about it; kept deflated."""

from collections.abc import Callable, Hashable
from datetime import date
from typing import Any, Final

from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.safestring import SafeString

from tackle.kept import Held
from web.accounts.request import OwnRequest
from web.ui.drawn import deflated, inflated

# Of each part the last version alone.
_PARTS: Final = Held[tuple[tuple[int, date], bytes]](megabytes=14)


def part_of(request: OwnRequest, template: str, context: Callable[[], dict[str, Any]]) -> SafeString:
    """A part as its template draws it. It may show only what its owner owns, as of today, and what the address asks:
    no message, no wrong entry, and nothing that is this session's alone."""
    drawn = kept_part(request, template)
    if drawn is None:
        now = _now(request)
        drawn = render_to_string(template, context(), request)
        _PARTS.put(_asked(request, template), (now, deflated(drawn)))
    return drawn


def kept_part(request: OwnRequest, template: str) -> SafeString | None:
    """The same where it was drawn already: nothing needs to be read for it."""
    held = _PARTS.get(_asked(request, template))
    return inflated(held[1]) if held and held[0] == _now(request) else None


def _asked(request: OwnRequest, template: str) -> Hashable:
    return request.user.pk, template, request.path, request.GET.urlencode()


def _now(request: OwnRequest) -> tuple[int, date]:
    return request.user.version, timezone.localdate()
