"""How often one address may try a thing that costs something or may be abused."""

import hashlib
import math
import secrets
from dataclasses import dataclass
from datetime import timedelta
from ipaddress import IPv6Address, IPv6Network, ip_address
from typing import Final

from axes.models import AccessAttempt, AccessLog
from django.conf import settings
from django.core import signing
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from web.common.accounts.models import Try, User


@dataclass(frozen=True, slots=True)
class Limit:
    """At most `times` of `what` within `span`, of one address."""

    what: str
    times: int
    span: timedelta


SIGN_IN: Final = Limit("sign-in", 40, timedelta(minutes=15))  # wrong passwords, over all names
SIGN_UP: Final = Limit("sign-up", 20, timedelta(hours=1))
GUEST: Final = Limit("guest", 6, timedelta(hours=1))
# Wrong passwords for one name, over all addresses: past it, only browsers that were let in before may try at once, so
# that guesses are slow and nobody is locked out.
NAME: Final = Limit("name", 40, timedelta(hours=1))
ACCOUNT: Final = Limit("password", 10, timedelta(minutes=15))  # wrong passwords of one account, once signed in
PASSKEY: Final = Limit("passkey", 60, timedelta(minutes=15))  # asked for, whether shown or not
KEPT: Final = timedelta(days=30)  # what tells of an address
_KNOWN: Final = "known-browser"
RESET: Final = Limit("reset", 10, timedelta(hours=1))


def too_many(request: HttpRequest, limit: Limit) -> bool:
    """Whether an address has tried too often already."""
    return too_many_by(_mark(request), limit)


def count(request: HttpRequest, limit: Limit) -> None:
    """Writes a try of an address down."""
    count_by(_mark(request), limit)


class TooOften(Exception):
    """A thing that was tried too often: told as 429, and when it may be tried again."""

    def __init__(self, words: str, seconds: int) -> None:
        super().__init__(words)
        self.words, self.seconds = words, seconds

    @property
    def minutes(self) -> int:
        """The wait in whole minutes, for people."""
        return -(-self.seconds // 60)


def refuse_too_many(request: HttpRequest, limit: Limit) -> None:
    """Raises TooOften where an address has tried too often already."""
    if too_many(request, limit):
        raise TooOften("Too many tries from your address.", wait_s(_mark(request), limit))


def right_password(request: HttpRequest, owner: User, password: str) -> bool:
    """Whether this is the password of somebody who is signed in; wrong ones are counted, by account and by address.
    Raises TooOften."""
    refuse_too_many(request, SIGN_IN)
    mine = f"account {owner.pk}"
    if too_many_by(mine, ACCOUNT):
        raise TooOften("Too many wrong passwords for this account.", wait_s(mine, ACCOUNT))
    if owner.check_password(password):
        return True
    count(request, SIGN_IN)
    count_by(mine, ACCOUNT)
    return False


def too_many_by(mark: str, limit: Limit) -> bool:
    """Whether somebody or something of this mark has tried too often already."""
    return Try.objects.filter(what=limit.what, mark=mark, at__gte=timezone.now() - limit.span).count() >= limit.times


def wait_s(mark: str, limit: Limit) -> int:
    """After how many whole seconds one more try is allowed again, where there were too many."""
    tries = Try.objects.filter(what=limit.what, mark=mark, at__gte=timezone.now() - limit.span).order_by("-at")
    frees = tries.values_list("at", flat=True)[limit.times - 1 : limit.times].first()
    return max(1, math.ceil((frees + limit.span - timezone.now()).total_seconds())) if frees else 1


def count_by(mark: str, limit: Limit) -> None:
    """Writes a try down; those that are past their time go."""
    with transaction.atomic():
        Try.objects.filter(what=limit.what, mark=mark, at__lt=timezone.now() - limit.span).delete()
        Try.objects.create(what=limit.what, mark=mark)


def address(request: HttpRequest) -> str:
    """Where a request comes from, as it is counted: of IPv6 the network of 64 bits that one household or server has."""
    address = str(request.META.get("REMOTE_ADDR", ""))
    try:
        there = ip_address(address)
    except ValueError:
        return address
    if isinstance(there, IPv6Address):
        return str(there.ipv4_mapped or IPv6Network((there, 64), strict=False).network_address)
    return str(there)


def forget_old_tries() -> None:
    """What tells of an address goes after a month."""
    before = timezone.now() - KEPT
    Try.objects.filter(at__lt=before).delete()
    AccessAttempt.objects.filter(attempt_time__lt=before).delete()
    AccessLog.objects.filter(attempt_time__lt=before).delete()


def refuse_guesses(request: HttpRequest, name: str) -> None:
    """Raises TooOften where a name was tried with too many wrong passwords, wherever from; a browser that was let in
    under it before has a count of its own."""
    mark, limit = _guesser(request, name)
    if too_many_by(mark, limit):
        raise TooOften(
            "Too many wrong passwords for this name just now. From a browser that you have used before you get in all "
            "the same, and with the link that “Forgotten your password?” sends you, at once.",
            wait_s(mark, limit),
        )


def count_guess(request: HttpRequest, name: str) -> None:
    """Writes down a wrong password for a name."""
    count_by(*_guesser(request, name))


def know_browser(request: HttpRequest, response: HttpResponse, name: str) -> None:
    """Lets a browser that was let in under a name be known by that: guesses from elsewhere do not slow it."""
    known = signing.dumps([_hashed(name.casefold()), secrets.token_hex(8)], salt=_KNOWN)
    response.set_cookie(
        _KNOWN, known, max_age=timedelta(days=365), httponly=True, samesite="Lax", secure=settings.HTTPS
    )


def _guesser(request: HttpRequest, name: str) -> tuple[str, Limit]:
    mark = _hashed(name.casefold())
    try:
        whose, browser = signing.loads(request.COOKIES.get(_KNOWN, ""), salt=_KNOWN)
    except (signing.BadSignature, ValueError, TypeError):
        return mark, NAME
    return (_hashed(browser), ACCOUNT) if whose == mark else (mark, NAME)


def _mark(request: HttpRequest) -> str:
    """Tells addresses apart without keeping them."""
    return _hashed(address(request))


def _hashed(text: str) -> str:
    return hashlib.sha256(f"{settings.SECRET_KEY}{text}".encode()).hexdigest()[:32]
