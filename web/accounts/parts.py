"""Parts of pages, drawn once for one version of what somebody owns and one question about it."""

from collections.abc import Callable
from typing import Any, Final

from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.safestring import SafeString

from tackle.kept import Held
from web.accounts.request import OwnRequest

_DRAWN: Final = Held[SafeString](megabytes=12)


def part_of(request: OwnRequest, template: str, context: Callable[[], dict[str, Any]]) -> SafeString:
    """A part as its template draws it. It may show only what its owner owns, as of today, and what the address asks:
    no message, no wrong entry, and nothing that is this session's alone."""
    owner = request.user
    asked = (owner.pk, owner.version, template, request.GET.urlencode(), timezone.localdate())
    drawn = _DRAWN.get(asked)
    if drawn is None:
        drawn = render_to_string(template, context(), request)
        _DRAWN.put(asked, drawn)
    return drawn
