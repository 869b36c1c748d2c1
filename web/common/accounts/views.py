"""Signing in and up, forgotten passwords, and the account page; the rest is Django's own views."""

import base64
import logging
import time
from datetime import timedelta
from typing import Any

from axes.utils import reset as unlock
from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login, views
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.forms import AuthenticationForm, PasswordChangeForm, PasswordResetForm, SetPasswordForm
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.safestring import mark_safe

from web.common.accounts import passkeys, services
from web.common.accounts.codes import asks_code, draw_qr, is_right
from web.common.accounts.forms import AccountForm, ChangePasswordForm, NewPasswordForm, SignInForm, SignUpForm
from web.common.accounts.models import User
from web.common.accounts.notices import CHANGED, CODES_END, tell_owner
from web.common.accounts.request import OwnRequest
from web.common.accounts.signed_in import list_sessions
from web.common.accounts.throttle import RESET, SIGN_IN, SIGN_UP, count, know_browser, refuse_too_many, right_password
from web.common.ui.logs import event

HALF_IN_S = 600

logger = logging.getLogger(__name__)
CAME_ALONG = (
    "All that you made came along: your water is under Waters, its set under Plan, what you own under Tackle box."
)


class SignIn(views.LoginView):
    template_name = "accounts/sign_in.html"
    form_class = SignInForm
    redirect_authenticated_user = True

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        return {**super().get_context_data(**kwargs), "passkeys": passkeys.host()}

    def post(self, request: HttpRequest, *args: object, **options: object) -> HttpResponse:
        refuse_too_many(request, SIGN_IN)
        return super().post(request, *args, **options)

    def form_valid(self, form: AuthenticationForm) -> HttpResponse:
        """Who has a device for codes is only half in by a password."""
        user = form.get_user()
        if not asks_code(user):
            response = super().form_valid(form)
            know_browser(self.request, response, user.username)
            return response
        self.request.session["half_in"] = [user.pk, user.backend, time.time(), self.get_success_url()]
        return redirect("sign-in-code")

    def form_invalid(self, form: AuthenticationForm) -> HttpResponse:
        count(self.request, SIGN_IN)
        logger.warning(event("sign-in-refused"))
        response = super().form_invalid(form)
        response.status_code = 422
        return response


def locked(request: HttpRequest, response: HttpResponse | None, credentials: object) -> HttpResponse:
    """A name that was tried with too many wrong passwords from one address."""
    seconds = int(timedelta(hours=settings.AXES_COOLOFF_TIME).total_seconds())
    data = render(request, "accounts/locked.html", status=429)
    data.headers["Retry-After"] = str(seconds)
    return data


@login_not_required
def code(request: HttpRequest) -> HttpResponse:
    """The second step at the door, within ten minutes of the first."""
    pk, backend, since, to = request.session.get("half_in") or (None, "", 0.0, "")
    user = User.objects.filter(pk=pk or 0, is_active=True).first()
    if user is None or time.time() - since > HALF_IN_S:
        return redirect("sign-in")
    wrong = ""
    if request.method == "POST":
        refuse_too_many(request, SIGN_IN)
        if is_right(user, request.POST.get("code", "")):
            del request.session["half_in"]
            login(request, user, backend=backend)
            services.keep_codes(user)
            response = redirect(to)
            know_browser(request, response, user.username)
            return response
        count(request, SIGN_IN)
        wrong = "That code is not right, or was used already. After some wrong ones it takes a while."
    return render(request, "accounts/code.html", {"wrong": wrong}, status=422 if wrong else 200)


class Forgotten(views.PasswordResetView):
    """The link leads to our own address, whatever the request's headers say it is."""

    def post(self, request: HttpRequest, *args: object, **options: object) -> HttpResponse:
        refuse_too_many(request, RESET)
        count(request, RESET)
        return super().post(request, *args, **options)

    def form_valid(self, form: PasswordResetForm) -> HttpResponse:
        scheme, _, host = settings.OWN_ADDRESS.partition("://")
        form.save(
            domain_override=host, use_https=scheme == "https", token_generator=self.token_generator,
            from_email=self.from_email, email_template_name=self.email_template_name,
            subject_template_name=self.subject_template_name, request=None,
        )  # fmt: skip
        return redirect(str(self.get_success_url()))


class NewPassword(views.PasswordResetConfirmView):
    """Whoever has the mail has the account: wrong passwords of until now do not lock it any longer."""

    form_class = NewPasswordForm

    def form_valid(self, form: "SetPasswordForm[User]") -> HttpResponse:
        unlock(username=form.user.get_username())
        response = super().form_valid(form)
        services.end_entrances(form.user, set(form.cleaned_data["keep"]), None)
        if asks_code(form.user):
            services.end_codes_later(form.user)
            tell_owner(form.user, CODES_END)
        tell_owner(form.user, CHANGED)
        return response


class ChangePassword(views.PasswordChangeView):
    """Whatever else lets somebody in ends with the old password, but for what is to be kept."""

    form_class = ChangePasswordForm

    def get_form_kwargs(self) -> dict[str, Any]:
        return {**super().get_form_kwargs(), "request": self.request}

    def form_valid(self, form: PasswordChangeForm) -> HttpResponse:
        response = super().form_valid(form)
        ended = services.end_entrances(form.user, set(form.cleaned_data["keep"]), self.request.session.session_key)
        tell_owner(form.user, CHANGED)
        said = (
            f" {ended} other devices are signed out."
            if ended > 1
            else " One other device is signed out."
            if ended
            else ""
        )
        messages.success(self.request, f"The password is changed.{said}")
        return response


@login_not_required
def sign_up(request: HttpRequest) -> HttpResponse:
    guest = request.user if request.user.is_authenticated and request.user.guest_until else None
    form = SignUpForm(request.POST or None, instance=guest, initial={"username": "", "email": ""} if guest else None)
    if request.method == "POST":
        refuse_too_many(request, SIGN_UP)
        count(request, SIGN_UP)
        if form.is_valid():
            try:
                login(request, services.sign_up(form), backend="django.contrib.auth.backends.ModelBackend")
                if guest:
                    messages.success(request, CAME_ALONG)
                return redirect("home")
            except ValidationError as error:
                form.add_error(None, error)
    under = "What you have made so far goes with it." if guest else "Your waters, plans and tackle box are yours alone."
    return render(request, "accounts/door.html", {
        "form": form,
        "title": "Make an account",
        "under": under,
        "button": "Make the account",
    }, status=422 if form.errors else 200)  # fmt: skip


def account(request: OwnRequest) -> HttpResponse:
    user, context = request.user, {"passkeys": passkeys.host()}
    if request.method != "POST":
        form = AccountForm(request, None, instance=user)
        return render(request, "accounts/account.html", context | {"form": form})
    before = user.email
    form = AccountForm(request, request.POST, instance=user)
    if form.is_valid():
        services.edit_account(user, **{field: form.cleaned_data[field] for field in form.Meta.fields})
        if user.email != before:
            for to in (before, user.email):
                tell_owner(user, "The mail address was changed.", to)
        messages.success(request, "Kept.")
        return redirect("account")
    return render(request, "accounts/account.html", context | {"form": form}, status=422)


def places(request: OwnRequest) -> HttpResponse:
    """Where one is signed in; posted, one of these places ended, or all others."""
    key = request.session.session_key
    if request.method == "POST":
        ended = services.end_places(request.user, key, request.POST.get("mark", ""))
        messages.success(request, "Ended." if ended == 1 else f"{ended} places ended.")
        return redirect("places")
    return render(request, "accounts/places.html", {"places": list_sessions(request.user, key)})


def codes(request: OwnRequest) -> HttpResponse:
    """A code beside the password: set up, or no longer asked for."""
    user, wrong, do = request.user, "", request.POST.get("do", "")
    if do in ("begin", "end") and not right_password(request, user, request.POST.get("password", "")):
        wrong = "That is not your password."
    elif do == "end":
        services.end_codes(user)
        tell_owner(user, "No code is asked for beside your password any more.")
        messages.success(request, "No codes are asked for any more.")
        return redirect("account")
    if do in ("start", "begin") and not asks_code(user):
        device = services.device_to_be(user)
        if do == "begin" and not wrong:
            try:
                paper = services.begin_codes(user, request.POST.get("code", ""))
                tell_owner(user, "A code is asked for beside your password from now on.")
                return render(request, "accounts/codes.html", {"paper": paper})
            except ValidationError as error:
                wrong = " ".join(error.messages)
        key = base64.b32encode(device.bin_key).decode()
        picture = mark_safe(draw_qr(device))  # noqa: S308 - drawn here, of a key of ours
        data = {"key": " ".join(key[at : at + 4] for at in range(0, len(key), 4)), "picture": picture, "wrong": wrong}
        return render(request, "accounts/codes.html", data, status=422 if wrong else 200)
    return render(request, "accounts/codes.html", {"on": asks_code(user), "wrong": wrong}, status=422 if wrong else 200)
