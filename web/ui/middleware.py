"""What happens to a part of a page when the session has ended."""

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import reverse
from django_htmx.http import HttpResponseClientRedirect


def sign_in_whole_page(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
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
