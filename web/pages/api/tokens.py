"""Keys for programs: what each may do, and found by what a request shows."""

import hashlib
from typing import Final

from django.db.models import QuerySet

from web.common.accounts.models import User
from web.pages.api.models import Token

MAY: Final = {
    "waters": "read waters and readings",
    "readings": "add readings to a water",
    "crate": "read the tackle box",
    "lures": "add lures to the tackle box",
    "plan": "read the plan and what to buy",
    "day": "read trips and their sheets",
    "log": "read the log",
    "ask": "ask the commands",
}


def list_tokens(owner: User) -> QuerySet[Token]:
    return Token.objects.filter(owner=owner)


def find_token(key: str) -> Token | None:
    """The token of a key."""
    return Token.objects.select_related("owner").filter(digest=key_digest(key)).first()


def key_digest(key: str) -> str:
    """What is kept of a key, by which it is found."""
    return hashlib.sha256(key.encode()).hexdigest()
