"""What a phone sends of what it kept: a list of entries as JSON, with the time on its clock."""

from collections.abc import Callable
from functools import wraps
from typing import Any, Final

from django.core.exceptions import ValidationError
from django.http import JsonResponse
from django.utils import timezone

from tackle.errors import Refused
from tackle.strict import read_json

MOST_BYTES: Final = 400_000
MOST_MS: Final = 10**14


def sent_list(name: str, body: bytes) -> tuple[list[Any], float]:
    """The entries under a name, and by how many seconds the phone's clock is behind ours (0 where it does not say).

    Raises Refused.
    """
    told = read_json(body, name)
    entries = told.get(name) if isinstance(told, dict) else None
    if not isinstance(entries, list):
        raise Refused(name, "are missing", f"a list of {name}")
    ms = told.get("now")
    known = type(ms) is int and 0 < ms < MOST_MS
    return entries, timezone.now().timestamp() - ms / 1000 if known else 0.0


def takes_json(view: Callable[..., JsonResponse]) -> Callable[..., JsonResponse]:
    """A view that takes JSON of a bounded size, and answers what it refuses in words."""

    @wraps(view)
    def whole(request: Any, *args: Any, **named: Any) -> JsonResponse:
        if request.content_type != "application/json":
            return JsonResponse({"wrong": "This is sent as application/json."}, status=415)
        if len(request.body) > MOST_BYTES:
            return JsonResponse({"wrong": "Too much at once."}, status=413)
        try:
            return view(request, *args, **named)
        except Refused as refused:
            return JsonResponse({"wrong": str(refused)}, status=422)
        except ValidationError as error:
            return JsonResponse({"wrong": " ".join(error.messages)}, status=422)

    return whole
