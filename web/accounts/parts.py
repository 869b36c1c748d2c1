"""Parts of pages, drawn once for one version of all that somebody owns and one question about it."""

from collections.abc import Callable
from typing import Any

from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.safestring import SafeString, mark_safe

from web.accounts.request import OwnRequest
from web.ui.shared import SHARED


def part_of(request: OwnRequest, template: str, context: Callable[[], dict[str, Any]]) -> SafeString:
    """A part as its template draws it. It may show only what its owner owns, as of today, and what the address asks:
    no message, no wrong entry, and nothing that is this session's alone."""
    drawn = kept_part(request, template)
    if drawn is None:
        version = _version(request)
        drawn = render_to_string(template, context(), request)
        SHARED.put(_name(request, template), version, drawn.encode())
    return drawn


def kept_part(request: OwnRequest, template: str) -> SafeString | None:
    """The same where it was drawn already: nothing needs to be read for it."""
    held = SHARED.get(_name(request, template), _version(request))
    return None if held is None else mark_safe(held.decode())  # noqa: S308 - drawn by a template


def _name(request: OwnRequest, template: str) -> str:
    return f"{request.user.pk} {template} {request.path} {request.GET.urlencode()}"


def _version(request: OwnRequest) -> str:
    return f"{request.user.version} {timezone.localdate()}"
