"""Times each request, and tells its slow queries."""

from collections.abc import Callable
from time import perf_counter

from django.db import connection
from django.http import HttpRequest, HttpResponse

from web.common.watching.queries import tell_slow
from web.common.watching.timing import REQUESTS

Answer = Callable[[HttpRequest], HttpResponse]


def watched(get_response: Answer) -> Answer:
    """Counts requests by the step they belong to, never by what was asked for."""

    def answer(request: HttpRequest) -> HttpResponse:
        begun = perf_counter()
        with connection.execute_wrapper(tell_slow):
            response = get_response(request)
        match = request.resolver_match
        part = match.route.split("/")[0] if match else "-"
        REQUESTS.labels(part or "home", f"{response.status_code // 100}xx").observe(perf_counter() - begun)
        return response

    return answer
