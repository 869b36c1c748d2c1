"""What happens to every request: its number and its log line, the address it came from, text that is no text, and
what becomes of a part of a page when the session has ended."""

import logging
import re
import secrets
import time
from collections.abc import Callable, Iterable

from django.conf import settings
from django.core.exceptions import BadRequest
from django.http import HttpRequest, HttpResponse
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.safestring import mark_safe
from django_htmx.http import HttpResponseClientRedirect

from tackle.base.strict import is_plain
from web.common.ui.logs import event, request_number

Answer = Callable[[HttpRequest], HttpResponse]
logger = logging.getLogger("web.requests")
SLOW_S = 2.0
_FORWARDED = ("HTTP_X_FORWARDED_FOR", "HTTP_X_FORWARDED_PROTO", "HTTP_FORWARDED", "HTTP_VIA", "HTTP_X_REAL_IP")
_NUMBER = re.compile(r"[A-Za-z0-9-]{8,40}")


def numbered(get_response: Answer) -> Answer:
    """Gives a request its number, and writes a line of what was refused, broke, or took long."""

    def answer(request: HttpRequest) -> HttpResponse:
        given = request.headers.get("X-Request-ID", "")
        number = given if _NUMBER.fullmatch(given) else secrets.token_hex(8)
        token = request_number.set(number)
        begun = time.perf_counter()
        try:
            response = get_response(request)
            took, match = time.perf_counter() - begun, request.resolver_match
            if response.status_code >= 400 or took > SLOW_S:
                level = logging.ERROR if response.status_code >= 500 else logging.WARNING
                route = match.route if match else "-"
                data = {"method": request.method, "route": route, "status": response.status_code}
                logger.log(level, event("answered", **data, ms=int(took * 1000)))
            response.headers["X-Request-ID"] = number
            return response
        finally:
            request_number.reset(token)

    return answer


def from_the_proxy(get_response: Answer) -> Answer:
    """Takes the visitor's address from the proxy that is named in the settings, and from nobody else."""
    warned = False

    def answer(request: HttpRequest) -> HttpResponse:
        nonlocal warned
        if settings.PROXY and request.META.get("REMOTE_ADDR") == settings.PROXY:
            last = request.headers.get("X-Forwarded-For", "").rpartition(",")[2].strip()
            if re.fullmatch(r"[0-9A-Fa-f.:]{2,45}", last):
                request.META["REMOTE_ADDR"] = last
        elif any(name in request.META for name in _FORWARDED):
            # Through some server before this one, which nobody has named: it is not this machine that asks.
            request.META["wax.forwarded"] = True
            if not warned:  # once: all visitors count as one address until that server is named
                logger.warning(event("server-before-not-named", set="WAX_PROXY"))
            warned = True
        request.META.pop("HTTP_X_FORWARDED_FOR", None)
        return get_response(request)

    return answer


def plain_text_only(get_response: Answer) -> Answer:
    """Refuses fields with control characters or halves of surrogate pairs: nothing could store or show them."""

    def answer(request: HttpRequest) -> HttpResponse:
        if not all(map(is_plain, _texts(request))):
            raise BadRequest("a field holds a character that is no text")
        return get_response(request)

    return answer


def _texts(request: HttpRequest) -> Iterable[str]:
    yield request.path
    for fields in (request.GET, request.POST):
        for name, values in fields.lists():
            yield name
            yield from map(str, values)
    for _, files in request.FILES.lists() if request.method == "POST" else ():
        yield from (file.name or "" for file in files)


def kept_private(get_response: Answer) -> Answer:
    """What somebody who is signed in sees is not to be kept by anything on the way, nor by the browser after them."""

    def answer(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        if "Cache-Control" not in response.headers and request.resolver_match:
            response.headers["Cache-Control"] = "no-store"
        return response

    return answer


def sign_in_whole_page(get_response: Answer) -> Answer:
    """Sends the whole page to the sign-in, where htmx would have put the sign-in page inside a panel."""

    def answer(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        if (
            request.headers.get("HX-Request")
            and response.status_code == 302
            and response.headers["Location"].startswith(reverse(settings.LOGIN_URL))
        ):
            return HttpResponseClientRedirect(response.headers["Location"])
        return response

    return answer


def parts_in_their_frame(get_response: Answer) -> Answer:
    """A part of a page that is opened by its own address gets the page around it."""

    def answer(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        if (
            request.headers.get("Sec-Fetch-Dest") == "document"
            and not response.streaming
            and response.headers.get("Content-Type", "").startswith("text/html")
            and response.content
            and response.content.lstrip()[:9].lower() != b"<!doctype"
        ):
            part = mark_safe(response.content.decode())  # noqa: S308 - drawn by a template of ours
            response.content = render_to_string("ui/part.html", {"part": part}, request).encode()
            if "Content-Length" in response.headers:
                response.headers["Content-Length"] = str(len(response.content))
        return response

    return answer
