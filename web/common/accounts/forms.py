"""Forms for signing up and for what a user may set."""

from typing import Any

from django import forms
from django.contrib.auth.forms import AuthenticationForm, PasswordChangeForm, SetPasswordForm, UserCreationForm
from django.http import HttpRequest

from web.common.accounts.credentials import list_credentials
from web.common.accounts.models import User
from web.common.accounts.throttle import count_guess, refuse_guesses, right_password
from web.common.ui.fields import offer


class SignUpForm(UserCreationForm):
    class Meta:
        model = User
        fields = ["username", "email", "units"]
        help_texts = {"email": "To get back in when the password is forgotten; for nothing else."}


class SignInForm(AuthenticationForm):
    """By name or by mail; an address that nobody has is answered as a name that nobody has. Where several gave one
    address, it is that of the earliest: nobody can take another's by signing up with it."""

    def clean(self) -> dict[str, Any]:
        username = str(self.cleaned_data.get("username", ""))
        if "@" in username and not User.objects.filter(username=username).exists():
            known = User.objects.filter(email__iexact=username).order_by("pk").first()
            self.cleaned_data["username"] = username = known.username if known else username
        assert self.request is not None
        refuse_guesses(self.request, username)
        try:
            return super().clean()
        except forms.ValidationError:
            count_guess(self.request, username)
            raise


class KeepsEntrances(forms.Form):
    """Asks which of the other ways into the account stay as they are when its password is another."""

    keep = forms.MultipleChoiceField(
        label="Whatever else lets somebody in ends now, but what you keep",
        required=False,
        widget=forms.CheckboxSelectMultiple,
    )

    def _offer_entrances(self, owner: User, session: str | None) -> None:
        found = list_credentials(owner, session)
        if found:
            offer(self, "keep", [(one.key, one.words) for one in found])
        else:
            del self.fields["keep"]

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        return {"keep": [], **cleaned}


class NewPasswordForm(KeepsEntrances, SetPasswordForm):
    """For whoever came by the mail."""

    def __init__(self, user: User | None, *args: Any, **options: Any) -> None:
        super().__init__(user, *args, **options)
        if user:  # nobody, where the link has run out
            self._offer_entrances(user, None)


class ChangePasswordForm(KeepsEntrances, PasswordChangeForm):
    """For whoever is signed in."""

    def __init__(self, user: User, *args: Any, request: HttpRequest, **options: Any) -> None:
        super().__init__(user, *args, **options)
        self.request = request
        self._offer_entrances(user, request.session.session_key)

    def clean_old_password(self) -> str:
        password = str(self.cleaned_data["old_password"])
        if not right_password(self.request, self.user, password):
            raise forms.ValidationError("That is not your password.")
        return password


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

    def __init__(self, request: HttpRequest, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.request = request

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        known, password = User.objects.get(pk=self.instance.pk), cleaned.get("password", "")
        another = cleaned.get("email", known.email) != known.email
        if another and not (password and right_password(self.request, known, password)):
            self.add_error("password", "To change the address, give your password.")
        return cleaned
