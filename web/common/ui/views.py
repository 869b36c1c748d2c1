"""The first page, and the pages for what went wrong."""

import sys

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string

from web.common.database.away import is_away
from web.common.database.conflict import ConcurrentUpdateError
from web.common.database.full import is_full


def _wrong(request: HttpRequest, status: int, title: str, advice: str) -> HttpResponse:
    return render(request, "ui/wrong.html", {"title": title, "advice": advice}, status=status)


def bad_request(request: HttpRequest, exception: Exception) -> HttpResponse:
    return _alone(400, "That request made no sense here.", "Go back and try again.")


def forbidden(request: HttpRequest, exception: Exception) -> HttpResponse:
    return _wrong(request, 403, "That is not allowed.", "Go back, reload the page and try again.")


def stale_form(request: HttpRequest, reason: str = "") -> HttpResponse:
    """A form without its token: the page was old, or came from elsewhere."""
    return _wrong(request, 403, "This page is too old to send.", "Go back, reload the page and send it again.")


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    return _wrong(request, 404, "There is nothing at this address.", "It may have been deleted, or be somebody else's.")


def server_error(request: HttpRequest) -> HttpResponse:
    error = sys.exc_info()[1]
    if is_full(error):
        return _alone(
            507,
            "The disk here is full.",
            "Nothing was written, and what you had stored is safe. Tell whoever runs this.",
        )
    if isinstance(error, ConcurrentUpdateError):
        return _later(1, "Two changes of yours met.", "This one was not made, and nothing of it is left: do it again.")
    if is_away(error):
        return _later(60, "The database does not answer.", "What you had stored is safe. Try again in a minute.")
    return _alone(500, "Something broke here.", "What you had stored is safe. Try again in a minute.")


def _later(seconds: int, title: str, advice: str) -> HttpResponse:
    response = _alone(503, title, advice)
    response.headers["Retry-After"] = str(seconds)
    return response


def _alone(status: int, title: str, advice: str) -> HttpResponse:
    """A page that asks nothing of the request or the database, either of which may be what is broken."""
    return HttpResponse(render_to_string("ui/broken.html", {"title": title, "advice": advice}), status=status)
