"""How large a request may be: a megabyte, and what the view that takes it says where that is more."""

from collections.abc import Callable
from typing import Any, Final, TypeVar

from django.http import Http404
from django.urls import resolve

View = TypeVar("View", bound=Callable[..., Any])
MOST_BYTES: Final = 1_000_000
AROUND_A_FILE: Final = 50_000  # the other fields of its form


def takes(most_bytes: int) -> Callable[[View], View]:
    """Marks a view that takes files of up to so many bytes."""

    def marked(view: View) -> View:
        view.most_bytes = max(most_bytes + AROUND_A_FILE, MOST_BYTES)  # type: ignore[attr-defined]
        return view

    return marked


def most_bytes_at(path: str) -> int:
    """The most bytes that the body of a request to an address may have."""
    try:
        return int(getattr(resolve(path).func, "most_bytes", MOST_BYTES))
    except Http404:
        return MOST_BYTES
