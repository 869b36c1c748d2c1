from collections.abc import Callable
from typing import Any

from django.contrib.auth import views as auth
from django.http.response import HttpResponseBase
from django.urls import path, reverse_lazy
from django.views.generic import FormView, TemplateView

from web.common.accounts import passkey_views, views

DOOR = "accounts/door.html"


def door(
    view: "type[FormView[Any]] | type[TemplateView]", title: str, under: str, button: str, **options: object
) -> Callable[..., HttpResponseBase]:
    """One of Django's own account views, on our page."""
    words = {"title": title, "under": under, "button": button}
    return view.as_view(template_name=DOOR, extra_context=words, **options)


urlpatterns = [
    path("", views.account, name="account"),
    path("sign-up/", views.sign_up, name="sign-up"),
    path(
        "sign-in/",
        views.SignIn.as_view(),
        name="sign-in",
    ),
    path("sign-in/code/", views.code, name="sign-in-code"),
    path("codes/", views.codes, name="codes"),
    path("passkeys/", passkey_views.keyring, name="passkeys"),
    path("passkeys/options/", passkey_views.options, name="passkey-options"),
    path("passkeys/add/", passkey_views.add, name="passkey-add"),
    path("sign-in/passkey/options/", passkey_views.sign_in_options, name="sign-in-passkey-options"),
    path("sign-in/passkey/", passkey_views.sign_in, name="sign-in-passkey"),
    path("places/", views.places, name="places"),
    path("sign-out/", auth.LogoutView.as_view(), name="sign-out"),
    path(
        "password/",
        views.ChangePassword.as_view(
            template_name=DOOR,
            success_url=reverse_lazy("account"),
            extra_context={"title": "Change your password", "under": "", "button": "Change it"},
        ),
        name="password-change",
    ),
    path(
        "password/forgotten/",
        door(
            views.Forgotten,
            "Forgotten your password?",
            "We send a link to the address you signed up with. It holds for three days.",
            "Send the link",
            email_template_name="accounts/reset_mail.txt",
            subject_template_name="accounts/reset_subject.txt",
            success_url=reverse_lazy("password-sent"),
        ),
        name="password-forgotten",
    ),
    path(
        "password/sent/",
        door(
            auth.PasswordResetDoneView,
            "Look in your mail",
            "If that address has an account, a link is on its way.",
            "",
        ),
        name="password-sent",
    ),
    path(
        "password/new/<uidb64>/<token>/",
        door(
            views.NewPassword,
            "Choose a new password",
            "",
            "Keep this password",
            success_url=reverse_lazy("sign-in"),
        ),
        name="password_reset_confirm",
    ),
]
