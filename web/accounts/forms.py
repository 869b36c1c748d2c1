"""Forms for signing up and for what a user may set."""

from django import forms
from django.contrib.auth.forms import UserCreationForm

from web.accounts.models import User


class SignUpForm(UserCreationForm):
    class Meta:
        model = User
        fields = ["username", "email", "units"]


class AccountForm(forms.ModelForm):
    class Meta:
        model = User
        fields = ["email", "units"]
