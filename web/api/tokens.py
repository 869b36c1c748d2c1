"""Keys for programs: made, found by what a request shows, and ended."""

import hashlib
import secrets
from typing import Final

from django.core.exceptions import ValidationError
from django.db.models import QuerySet
from django.utils import timezone

from web.accounts.models import User
from web.accounts.writing import one_change
from web.api.models import Token

MAY: Final = {
    "waters": "read waters and readings",
    "readings": "add readings to a water",
    "crate": "read the crate",
    "lures": "add lures to the crate",
    "plan": "read the plan and what to buy",
    "day": "read trips and their sheets",
    "log": "read the log",
    "ask": "ask the commands",
}
MOST_TOKENS: Final = 20
_PREFIX: Final = "wax_"


@one_change
def make_token(owner: User, name: str, may: list[str]) -> tuple[Token, str]:
    """A new token, and the key that is told this once. Raises ValidationError."""
    if not name.strip():
        raise ValidationError("Give the program a name.")
    if not may or not set(may) <= set(MAY):
        raise ValidationError("Say what the program may do.")
    if owner.tokens.count() >= MOST_TOKENS:
        raise ValidationError(f"There are {MOST_TOKENS} programs already: end one first.")
    key = _PREFIX + secrets.token_urlsafe(32)
    token = Token.objects.create(owner=owner, name=name.strip()[:60], digest=_digest(key), may=sorted(set(may)))
    return token, key


@one_change
def end_token(owner: User, pk: int) -> str:
    """Ends a token; returns its name."""
    token = tokens_of(owner).filter(pk=pk).first()
    if token is None:
        raise ValidationError("That program is gone already.")
    token.delete()
    return token.name


def tokens_of(owner: User) -> QuerySet[Token]:
    return Token.objects.filter(owner=owner)


def token_of(key: str) -> Token | None:
    """The token of a key, its last day of use written down once a day."""
    token = Token.objects.select_related("owner").filter(digest=_digest(key)).first()
    if token and token.used_on != (today := timezone.localdate()):
        Token.objects.filter(pk=token.pk).update(used_on=today)
    return token


def _digest(key: str) -> str:
    return hashlib.sha256(key.encode()).hexdigest()
