"""The first page, and the pages for what went wrong."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render


def home(request: HttpRequest) -> HttpResponse:
    return redirect("waters")


def _wrong(request: HttpRequest, status: int, title: str, advice: str) -> HttpResponse:
    return render(request, "ui/wrong.html", {"title": title, "advice": advice}, status=status)


def bad_request(request: HttpRequest, exception: Exception) -> HttpResponse:
    return _wrong(request, 400, "That request made no sense here.", "Go back and try again.")


def forbidden(request: HttpRequest, exception: Exception) -> HttpResponse:
    return _wrong(request, 403, "That is not allowed.", "Go back, reload the page and try again.")


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    return _wrong(request, 404, "There is nothing at this address.", "It may have been deleted, or be somebody else's.")


def server_error(request: HttpRequest) -> HttpResponse:
    return _wrong(request, 500, "Something broke here.", "What you had stored is safe. Try again in a minute.")
