"""Signing up and the account page; the rest is Django's own views."""

from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from web.accounts.forms import AccountForm, SignUpForm


@login_not_required
def sign_up(request: HttpRequest) -> HttpResponse:
    form = SignUpForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        login(request, form.save(), backend="django.contrib.auth.backends.ModelBackend")
        return redirect("home")
    return render(request, "accounts/door.html", {
        "form": form,
        "title": "Make an account",
        "under": "Your waters, plans and crate are yours alone.",
        "button": "Make the account",
    }, status=422 if form.errors else 200)  # fmt: skip


def account(request: HttpRequest) -> HttpResponse:
    form = AccountForm(request.POST or None, instance=request.user)
    if request.method == "POST" and form.is_valid():
        form.save()
        messages.success(request, "Kept.")
        return redirect("account")
    return render(request, "accounts/account.html", {"form": form}, status=422 if form.errors else 200)
