"""Bodies of pages, drawn once for one version of all that somebody owns and what is asked."""

from collections.abc import Callable, Sequence
from datetime import date
from typing import Any

from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.safestring import SafeString

from tackle.base.store import STORE
from web.common.accounts.request import OwnRequest
from web.common.ui.drawn import drawn


def render_body(
    request: OwnRequest, template: str, context: Callable[[], dict[str, Any]], at: Sequence[str] = ()
) -> SafeString:
    """The body of a page as its template draws it. It may show only what its owner owns, as of today, and what the
    address asks: no message, no wrong entry, and nothing that is this session's alone.

    `at`: the addresses at which it stands, where the request itself is not one: an answer to a change is the page after
    it.
    """
    owner, (first, *others) = request.user.pk, at or [request.get_full_path()]
    body = drawn(
        "body", (owner, first), lambda: render_to_string(template, context(), request), version=_version(request)
    )
    for other in others:
        drawn("body", (owner, other), lambda: body, version=_version(request))
    return body


def has_body(request: OwnRequest) -> bool:
    """Whether the body of this page is drawn already: nothing needs to be read for it."""
    return STORE.has("body", (request.user.pk, request.get_full_path()), version=_version(request))


def _version(request: OwnRequest) -> tuple[int, date]:
    return request.user.version, timezone.localdate()
