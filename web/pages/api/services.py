"""Every change to the keys of programs: checked, and written in one transaction."""

import secrets
from typing import Final

from django.core.exceptions import ValidationError
from django.utils import timezone

from web.common.accounts.models import User
from web.common.accounts.writing import one_change
from web.pages.api.models import Token
from web.pages.api.tokens import MAY, key_digest, list_tokens

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
    token = Token.objects.create(owner=owner, name=name.strip()[:60], digest=key_digest(key), may=sorted(set(may)))
    return token, key


@one_change
def end_token(owner: User, pk: int) -> str:
    """Ends a token; returns its name."""
    token = list_tokens(owner).filter(pk=pk).first()
    if token is None:
        raise ValidationError("That program is gone already.")
    token.delete()
    return token.name


def used_today(token: Token) -> None:
    """Writes down the last day on which a key was used, once a day."""
    if token.used_on != (today := timezone.localdate()):
        Token.objects.filter(pk=token.pk).update(used_on=today)
