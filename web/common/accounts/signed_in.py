"""Where somebody is signed in: which browser, since when."""

import hashlib
from dataclasses import dataclass
from typing import Any, Final

from django.http import HttpRequest
from django.utils import timezone

from web.common.accounts.models import Session, User

# The first that a browser's own words hold; the later ones are in the words of the earlier.
_BROWSERS: Final = (("Edg", "Edge"), ("Firefox", "Firefox"), ("Chrom", "Chrome"), ("Safari", "Safari"))
_SYSTEMS: Final = (
    ("Android", "Android"), ("iPhone", "iPhone"), ("iPad", "iPad"), ("Windows", "Windows"), ("Mac OS", "Mac"),
    ("Linux", "Linux"),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class SignedIn:
    """One place: `mark` names it without giving away its key."""

    mark: str
    browser: str
    begun_at: str
    here: bool


def note_browser(sender: object, request: HttpRequest, user: User, **rest: Any) -> None:
    """Writes into a session that begins what it is, for its owner to tell it from others."""
    words = request.headers.get("User-Agent", "")
    browser = next((name for part, name in _BROWSERS if part in words), "a program")
    system = next((name for part, name in _SYSTEMS if part in words), "")
    request.session["browser"] = f"{browser} on {system}" if system else browser
    request.session["begun_at"] = timezone.now().isoformat(timespec="seconds")


def list_sessions(owner: User, key: str | None) -> list[SignedIn]:
    """Where the owner is signed in, this place first, then the latest."""
    rows = Session.objects.filter(owner=owner, expire_date__gt=timezone.now())
    found = [
        SignedIn(session_digest(row.session_key), row.browser or "a program", (row.begun_at or "")[:16].replace("T",
        " "),
                 row.session_key == key)
        for row in rows
    ]  # fmt: skip
    return sorted(sorted(found, key=lambda one: one.begun_at, reverse=True), key=lambda one: not one.here)


def session_digest(key: str) -> str:
    """What tells a session from others without giving away its key."""
    return hashlib.sha256(key.encode()).hexdigest()[:16]
