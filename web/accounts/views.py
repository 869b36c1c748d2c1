"""Signing in and up, forgotten passwords, and the account page; the rest is Django's own views."""

import logging

from axes.utils import reset as unlock
from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login, views
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.forms import AuthenticationForm, PasswordResetForm, SetPasswordForm
from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from web.accounts import changes
from web.accounts.forms import AccountForm, SignInForm, SignUpForm
from web.accounts.models import User
from web.accounts.request import OwnRequest
from web.accounts.signed_in import end_places, places_of
from web.accounts.throttle import RESET, SIGN_IN, SIGN_UP, count, too_many
from web.ui.logs import event

logger = logging.getLogger(__name__)


def _slowly(request: HttpRequest) -> HttpResponse:
    return render(request, "accounts/slowly.html", status=429)


class SignIn(views.LoginView):
    template_name = "accounts/sign_in.html"
    form_class = SignInForm
    redirect_authenticated_user = True

    def post(self, request: HttpRequest, *args: object, **options: object) -> HttpResponse:
        return _slowly(request) if too_many(request, SIGN_IN) else super().post(request, *args, **options)

    def form_invalid(self, form: AuthenticationForm) -> HttpResponse:
        count(self.request, SIGN_IN)
        logger.warning(event("sign-in-refused"))
        response = super().form_invalid(form)
        response.status_code = 422
        return response


class Forgotten(views.PasswordResetView):
    """The link leads to our own address, whatever the request's headers say it is."""

    def post(self, request: HttpRequest, *args: object, **options: object) -> HttpResponse:
        if too_many(request, RESET):
            return _slowly(request)
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

    def form_valid(self, form: "SetPasswordForm[User]") -> HttpResponse:
        unlock(username=form.user.get_username())
        return super().form_valid(form)


@login_not_required
def sign_up(request: HttpRequest) -> HttpResponse:
    guest = request.user if request.user.is_authenticated and request.user.guest_until else None
    form = SignUpForm(request.POST or None, instance=guest, initial={"username": "", "email": ""} if guest else None)
    if request.method == "POST":
        if too_many(request, SIGN_UP):
            return _slowly(request)
        count(request, SIGN_UP)
        if form.is_valid():
            try:
                login(request, changes.sign_up(form), backend="django.contrib.auth.backends.ModelBackend")
                return redirect("home")
            except ValidationError as error:
                form.add_error(None, error)
    under = "What you have made so far goes with it." if guest else "Your waters, plans and crate are yours alone."
    return render(request, "accounts/door.html", {
        "form": form,
        "title": "Make an account",
        "under": under,
        "button": "Make the account",
    }, status=422 if form.errors else 200)  # fmt: skip


def account(request: OwnRequest) -> HttpResponse:
    form = AccountForm(request.POST or None, instance=request.user)
    if request.method == "POST" and form.is_valid():
        told = {field: form.cleaned_data[field] for field in form.Meta.fields}
        try:
            changes.edit_account(request.user, **told)
            messages.success(request, "Kept.")
            return redirect("account")
        except ValidationError as error:
            form.add_error("email", error)
    return render(request, "accounts/account.html", {"form": form}, status=422 if form.errors else 200)


def places(request: OwnRequest) -> HttpResponse:
    """Where one is signed in; posted, one of these places ended, or all others."""
    key = request.session.session_key
    if request.method == "POST":
        ended = end_places(request.user, key, request.POST.get("mark", ""))
        messages.success(request, "Ended." if ended == 1 else f"{ended} places ended.")
        return redirect("places")
    return render(request, "accounts/places.html", {"places": places_of(request.user, key)})
