"""The pages and answers around passkeys: made, used to sign in, ended."""

from functools import wraps
from typing import Any

from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.core.exceptions import ValidationError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from tackle.base.errors import InvalidInput
from tackle.base.strict import read_json
from web.common.accounts import passkeys, services
from web.common.accounts.notices import tell_owner
from web.common.accounts.request import OwnRequest
from web.common.accounts.throttle import PASSKEY, SIGN_IN, TooOften, count, refuse_too_many, right_password


def _named_only(view: Any) -> Any:
    """Passkeys are bound to a name; elsewhere there are none."""

    @wraps(view)
    def whole(request: HttpRequest, *args: Any, **options: Any) -> HttpResponse:
        if not passkeys.host():
            raise Http404
        try:
            answer: HttpResponse = view(request, *args, **options)
        except TooOften as often:
            answer = _wrong(f"{often.words} Wait {often.minutes} min.", 429)
            answer.headers["Retry-After"] = str(often.seconds)
        return answer

    return whole


@_named_only
def keyring(request: OwnRequest) -> HttpResponse:
    """The passkeys one has; posted, one of them is removed."""
    if request.method == "POST":
        try:
            name = services.end_passkey(request.user, request.POST.get("mark", ""))
            tell_owner(request.user, f"The passkey {name} was ended.")
            messages.success(request, f"{name} is removed.")
        except ValidationError as error:
            messages.error(request, " ".join(error.messages))
        return redirect("passkeys")
    return render(request, "accounts/passkeys.html", {"passkeys": request.user.passkeys.all()})


@_named_only
@require_POST
def options(request: OwnRequest) -> HttpResponse:
    """What a new passkey is made with: to who knows the password."""
    if not right_password(request, request.user, request.POST.get("password", "")):
        return _wrong("That is not your password.")
    return _json(passkeys.options_to_make(request.user, request.session))


@_named_only
@require_POST
def add(request: OwnRequest) -> HttpResponse:
    """Keeps a passkey that the browser has made."""
    try:
        data = passkeys.made(_answer(request), request.session)
        kept = services.keep_passkey(request.user, request.POST.get("name", ""), *data)
        tell_owner(request.user, f"A passkey was added: {kept.name}.")
    except ValidationError as error:
        return _wrong(" ".join(error.messages))
    messages.success(request, "The passkey is kept: it lets you in without your password.")
    return JsonResponse({"to": reverse("passkeys")})


@login_not_required
@_named_only
@require_POST
def sign_in_options(request: HttpRequest) -> HttpResponse:
    """What a browser is asked to sign in with."""
    refuse_too_many(request, PASSKEY)
    count(request, PASSKEY)
    return _json(passkeys.options_to_sign_in(request.session))


@login_not_required
@_named_only
@require_POST
def sign_in(request: HttpRequest) -> HttpResponse:
    """Signs in whoever shows a passkey; it stands for password and code, since the device asked who one is."""
    refuse_too_many(request, SIGN_IN)
    try:
        passkey, now = passkeys.shown(_answer(request), request.session)
    except ValidationError as error:
        count(request, SIGN_IN)
        return _wrong(" ".join(error.messages))
    services.used_passkey(passkey, now)
    login(request, passkey.owner, backend="django.contrib.auth.backends.ModelBackend")
    return JsonResponse({"to": reverse("home")})


def _answer(request: HttpRequest) -> dict[str, Any]:
    """What a browser says of a passkey: an object, whose parts the package checks. Raises ValidationError."""
    try:
        data = read_json(request.POST.get("answer", "").encode())
    except InvalidInput as refused:
        raise ValidationError(passkeys.NOT_RIGHT) from refused
    if not isinstance(data, dict):
        raise ValidationError(passkeys.NOT_RIGHT)
    return data


def _json(text: str) -> HttpResponse:
    return HttpResponse(text, content_type="application/json")


def _wrong(words: str, status: int = 422) -> HttpResponse:
    return JsonResponse({"wrong": words}, status=status)
