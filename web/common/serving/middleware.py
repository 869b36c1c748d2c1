"""The bound on bodies once more, for whatever server stands before the app."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.template.loader import render_to_string

from web.common.serving.bounds import most_bytes_at


def bounded(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Refuses a body that is larger than its address takes, before a byte of it is read."""

    def answer(request: HttpRequest) -> HttpResponse:
        length_said = request.META.get("CONTENT_LENGTH") or "0"
        length = int(length_said) if length_said.isdecimal() else 0
        if length and length > (most := most_bytes_at(request.path_info)):
            return _too_large(request, most)
        return get_response(request)

    return answer


def _too_large(request: HttpRequest, most: int) -> HttpResponse:
    allowed = f"at most {most:,} bytes"
    if request.path_info.startswith("/api/"):
        return JsonResponse({"field": "body", "wrong": "is too large", "allowed": allowed}, status=413)
    words = {"title": "That is too large.", "advice": f"Here {allowed} are taken at once. Nothing was changed."}
    return HttpResponse(render_to_string("ui/broken.html", words), status=413)
