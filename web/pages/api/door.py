"""The JSON door for programs: who may come in, how often, and how a refusal is told. What it answers is in
`answers`."""

import logging
from collections.abc import Callable
from datetime import timedelta
from functools import wraps
from typing import Any, Final

from django.core.exceptions import PermissionDenied, ValidationError
from django.db import DatabaseError
from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import HttpError
from ninja.errors import ValidationError as Malformed
from ninja.parser import Parser
from ninja.security import HttpBearer

from tackle.base.errors import InvalidInput
from tackle.base.strict import read_json
from web.common.accounts.throttle import Limit, TooOften, count_by, too_many_by, wait_s
from web.common.database.conflict import ConcurrentUpdateError
from web.common.database.full import is_full
from web.common.ui.logs import event
from web.pages.api.models import Token
from web.pages.api.services import used_today
from web.pages.api.tokens import MAY, find_token

logger = logging.getLogger(__name__)
A_MINUTE: Final = Limit("api", 120, timedelta(minutes=1))


class Key(HttpBearer):
    """The key in the header: `Authorization: Bearer wax_…`."""

    def authenticate(self, request: HttpRequest, token: str) -> Token | None:
        found = find_token(token)
        if found:
            mark = found.digest[:32]
            if too_many_by(mark, A_MINUTE):
                raise TooOften("asks too often", wait_s(mark, A_MINUTE))
            count_by(mark, A_MINUTE)
            request.user = found.owner
            used_today(found)
        return found


class StrictParser(Parser):
    """Bodies are read as everything else that comes in: no text that is none, no number that nothing can hold."""

    def parse_body(self, request: HttpRequest) -> Any:
        return read_json(request.body, "body")


door = NinjaAPI(
    title="Wax Crate", version="1", auth=Key(), docs_url=None, openapi_url="schema.json", parser=StrictParser(),
    description="Lengths are inches and feet, temperatures degrees Fahrenheit, days shares of a day.",
)  # fmt: skip


def may(what: str) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Lets a view be asked only by a program that may do this."""
    assert what in MAY

    def decorate(view: Callable[..., Any]) -> Callable[..., Any]:
        @wraps(view)
        def asked(request: Any, *args: Any, **named: Any) -> Any:
            if what not in request.auth.may:
                raise PermissionDenied(what)
            return view(request, *args, **named)

        return asked

    return decorate


def refusal(request: HttpRequest, status: int, field: str, wrong: str, allowed: str) -> HttpResponse:
    """Every refusal has one form."""
    return door.create_response(request, {"field": field, "wrong": wrong, "allowed": allowed}, status=status)


@door.exception_handler(InvalidInput)
def _refused(request: HttpRequest, error: InvalidInput) -> HttpResponse:
    return refusal(request, 422, error.field, error.wrong, error.allowed)


@door.exception_handler(HttpError)
def _unread(request: HttpRequest, error: HttpError) -> HttpResponse:
    """A body that could not be read, and why, as far as its reader says."""
    if isinstance(error.__cause__, InvalidInput):
        return _refused(request, error.__cause__)
    return refusal(request, error.status_code, "body", str(error), "see schema.json")


@door.exception_handler(ValidationError)
def _invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
    field, words = next(iter(error.message_dict.items())) if hasattr(error, "error_dict") else ("", error.messages)
    return refusal(request, 422, field, " ".join(words), "")


@door.exception_handler(Malformed)
def _malformed(request: HttpRequest, error: Malformed) -> HttpResponse:
    first = error.errors[0]
    field = ".".join(str(part) for part in first["loc"][1:] if part not in ("body", "payload"))
    return refusal(request, 422, field, str(first["msg"])[:200], "see schema.json")


@door.exception_handler(Http404)
def _not_there(request: HttpRequest, error: Http404) -> HttpResponse:
    return refusal(request, 404, "address", "is not there, or not yours", "see schema.json")


@door.exception_handler(PermissionDenied)
def _may_not(request: HttpRequest, error: PermissionDenied) -> HttpResponse:
    return refusal(request, 403, "key", f"may not {MAY[str(error)]}", "a key that may")


@door.exception_handler(TooOften)
def _too_often(request: HttpRequest, error: TooOften) -> HttpResponse:
    data = refusal(request, 429, "key", error.words, f"at most {A_MINUTE.times} requests a minute")
    data.headers["Retry-After"] = str(error.seconds)
    return data


@door.exception_handler(DatabaseError)
def _not_stored(request: HttpRequest, error: DatabaseError) -> HttpResponse:
    if is_full(error):
        return refusal(request, 507, "disk", "is full: nothing was written", "what does not write")
    if isinstance(error, ConcurrentUpdateError):
        return refusal(request, 503, "change", "met another of the same owner and was not made", "the same again")
    logger.error(event("database", said=str(error)[:200]))
    return refusal(request, 503, "database", "does not answer", "the same again in a minute")
