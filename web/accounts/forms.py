"""Forms for signing up and for what a user may set."""

from typing import Any

from django import forms
from django.contrib.auth.forms import AuthenticationForm, UserCreationForm

from web.accounts.models import User


class SignUpForm(UserCreationForm):
    class Meta:
        model = User
        fields = ["username", "email", "units"]


class SignInForm(AuthenticationForm):
    """By name or by mail; an address that nobody has is answered as a name that nobody has."""

    def clean(self) -> dict[str, Any]:
        told = str(self.cleaned_data.get("username", ""))
        if "@" in told and not User.objects.filter(username=told).exists():
            known = User.objects.filter(email__iexact=told).first()
            self.cleaned_data["username"] = known.username if known else told
        return super().clean()


class AccountForm(forms.ModelForm):
    """A new address takes the password: it is where a forgotten one is sent to."""

    password = forms.CharField(
        required=False, widget=forms.PasswordInput({"autocomplete": "current-password"}),
        help_text="Only for a new address.",
    )  # fmt: skip

    class Meta:
        model = User
        fields = ["email", "units"]
        widgets = {"email": forms.EmailInput({"autocomplete": "email"})}

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        known = User.objects.get(pk=self.instance.pk)
        if cleaned.get("email", known.email) != known.email and not known.check_password(cleaned.get("password", "")):
            self.add_error("password", "To change the address, give your password.")
        return cleaned
