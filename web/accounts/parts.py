"""Parts of pages, drawn once for one version of what somebody owns and one question about it."""

from collections.abc import Callable, Hashable
from typing import Any, Final

from django.utils import timezone
from django.utils.safestring import SafeString

from web.accounts.request import OwnRequest
from web.ui.drawn import Drawn

# By themselves: each change leaves some behind that nobody asks for again.
_PARTS: Final = Drawn(megabytes=10)


def part_of(request: OwnRequest, template: str, context: Callable[[], dict[str, Any]]) -> SafeString:
    """A part as its template draws it. It may show only what its owner owns, as of today, and what the address asks:
    no message, no wrong entry, and nothing that is this session's alone."""
    return _PARTS.once(template, _shows(request), context, request)


def kept_part(request: OwnRequest, template: str) -> SafeString | None:
    """The same where it was drawn already: nothing needs to be read for it."""
    return _PARTS.already(template, _shows(request))


def _shows(request: OwnRequest) -> Hashable:
    owner = request.user
    return owner.pk, owner.version, request.path, request.GET.urlencode(), timezone.localdate()
