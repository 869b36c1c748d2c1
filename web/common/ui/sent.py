"""What a phone sends of what it kept: a list of entries as JSON, with the time on its clock."""

from collections.abc import Callable
from functools import wraps
from typing import Any, Final

from django.core.exceptions import ValidationError
from django.http import HttpRequest, JsonResponse
from django.utils import timezone

from tackle.base.errors import InvalidInput
from tackle.base.strict import read_json

MOST_BYTES: Final = 400_000
MOST_MS: Final = 10**14


class NotTaken(Exception):
    """A body that is not even read, with the status that says so."""

    def __init__(self, status: int, words: str) -> None:
        super().__init__(words)
        self.status = status


def sent_list(name: str, request: HttpRequest) -> tuple[list[Any], float]:
    """The entries under a name, and by how many seconds the phone's clock is behind ours (0 where it does not say).

    Raises NotTaken where it is no JSON of a bounded size, and InvalidInput where it holds no such list.
    """
    if request.content_type != "application/json":
        raise NotTaken(415, "This is sent as application/json.")
    if len(request.body) > MOST_BYTES:
        raise NotTaken(413, "Too much at once.")
    data = read_json(request.body, name)
    entries = data.get(name) if isinstance(data, dict) else None
    if not isinstance(entries, list):
        raise InvalidInput(name, "are missing", f"a list of {name}")
    ms = data.get("now")
    known = type(ms) is int and 0 < ms < MOST_MS
    return entries, timezone.now().timestamp() - ms / 1000 if known else 0.0


def answers_json(view: Callable[..., JsonResponse]) -> Callable[..., JsonResponse]:
    """A view that answers what it refuses in words, as JSON."""

    @wraps(view)
    def whole(*args: Any, **named: Any) -> JsonResponse:
        try:
            return view(*args, **named)
        except NotTaken as not_taken:
            return JsonResponse({"wrong": str(not_taken)}, status=not_taken.status)
        except InvalidInput as refused:
            return JsonResponse({"wrong": str(refused)}, status=422)
        except ValidationError as error:
            return JsonResponse({"wrong": " ".join(error.messages)}, status=422)

    return whole
