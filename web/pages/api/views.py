"""The programs that may ask for somebody, and what they can ask: our own page of it, from the door's own schema."""

from typing import Any

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from web.common.accounts.notices import tell_owner
from web.common.accounts.request import OwnRequest
from web.common.accounts.throttle import right_password
from web.pages.api import services
from web.pages.api import tokens as keys
from web.pages.api.urls import door


def tokens(request: OwnRequest) -> HttpResponse:
    """The programs; posted, a new one, whose key is shown this once."""
    context: dict[str, Any] = {"may": keys.MAY, "told": request.POST}
    if request.method == "POST":
        try:
            _check_password(request)
            context["made"], context["key"] = services.make_token(
                request.user, request.POST.get("name", ""), request.POST.getlist("may")
            )
            tell_owner(request.user, f"A key was made for the program {context['made'].name}.")
        except ValidationError as error:
            context["wrong"] = " ".join(error.messages)
    context["tokens"] = [(token, [keys.MAY[one] for one in token.may]) for token in keys.list_tokens(request.user)]
    return render(request, "api/tokens.html", context, status=422 if context.get("wrong") else 200)


@require_POST
def end(request: OwnRequest, pk: int) -> HttpResponse:
    try:
        _check_password(request)
        name = services.end_token(request.user, pk)
        tell_owner(request.user, f"The key of the program {name} was ended.")
        messages.success(request, f"{name} may not ask any more.")
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
    return redirect("tokens")


def _check_password(request: OwnRequest) -> None:
    """Raises ValidationError where the request does not bring its owner's password, TooOften after many wrong ones."""
    if not right_password(request, request.user, request.POST.get("password", "")):
        raise ValidationError("That is not your password.")


def interface(request: OwnRequest) -> HttpResponse:
    """What can be asked, address by address."""
    schema = door.get_openapi_schema()
    parts = schema.get("components", {}).get("schemas", {})
    asked = [
        {
            "method": method.upper(),
            "address": address,
            "summary": data.get("summary", ""),
            "more": data.get("description", ""),
            "query": [one["name"] for one in data.get("parameters", []) if one["in"] == "query"],
            "body": _fields(data, parts),
        }
        for address, methods in schema["paths"].items()
        for method, data in methods.items()
    ]
    return render(request, "api/interface.html", {"asked": asked, "about": door.description, "may": keys.MAY})


def _fields(data: dict[str, Any], parts: dict[str, Any]) -> list[tuple[str, str]]:
    """The fields of a body and what each is; of a list of things, theirs."""
    content = data.get("requestBody", {}).get("content", {}).get("application/json", {})
    name = content.get("schema", {}).get("$ref", "").rsplit("/", 1)[-1]
    found = []
    for field, what in parts.get(name, {}).get("properties", {}).items():
        inner = what.get("items", {}).get("$ref", "").rsplit("/", 1)[-1]
        within = ", ".join(parts.get(inner, {}).get("properties", {}))
        found.append((field, f"list of {{{within}}}" if inner else what.get("type", "")))
    return found
