"""What was tried too often is answered as such, whichever page it was tried on."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from web.common.accounts.throttle import TooOften


class TooOftenIsTold:
    """429, and when it may be tried again."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self._get_response(request)

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        if not isinstance(error, TooOften):
            return None
        response = render(request, "accounts/slowly.html", {"words": error.words, "minutes": error.minutes}, status=429)
        response.headers["Retry-After"] = str(error.seconds)
        return response
