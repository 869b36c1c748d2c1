"""Parts of pages, drawn once for one version of what somebody owns and one question about it."""

from collections.abc import Callable, Hashable
from typing import Any, Final

from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.safestring import SafeString

from tackle.kept import Latest
from web.accounts.request import OwnRequest
from web.ui.drawn import deflated, inflated

_PARTS: Final = Latest[bytes](megabytes=14)


def part_of(request: OwnRequest, template: str, context: Callable[[], dict[str, Any]]) -> SafeString:
    """A part as its template draws it. It may show only what its owner owns, as of today, and what the address asks:
    no message, no wrong entry, and nothing that is this session's alone."""
    drawn = kept_part(request, template)
    if drawn is None:
        asked, version = _asked(request, template)
        drawn = render_to_string(template, context(), request)
        _PARTS.put(asked, version, deflated(drawn))
    return drawn


def kept_part(request: OwnRequest, template: str) -> SafeString | None:
    """The same where it was drawn already: nothing needs to be read for it."""
    held = _PARTS.get(*_asked(request, template))
    return None if held is None else inflated(held)


def _asked(request: OwnRequest, template: str) -> tuple[Hashable, Hashable]:
    owner = request.user
    return (owner.pk, template, request.path, request.GET.urlencode()), (owner.version, timezone.localdate())
