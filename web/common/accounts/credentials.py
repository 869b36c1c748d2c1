"""What lets into an account beside its password: keys for programs, passkeys, links, and places where one is signed
in."""

from dataclasses import dataclass
from typing import Final

from django.db.models import Model
from django.utils import timezone

from web.common.accounts.models import Session, User
from web.common.accounts.signed_in import session_digest

# The related names of the tables: those of the rooms above this one are known by their names alone.
_TABLES: Final[dict[str, tuple[str, tuple[str, ...]]]] = {
    "tokens": ("the program", ()),
    "passkeys": ("the passkey", ()),
    "shares": ("the link to", ("plan", "water", "trip")),
}


@dataclass(frozen=True, slots=True)
class Entrance:
    """One way in: `key` names it in a form without giving anything away."""

    key: str
    words: str
    row: Model


def list_credentials(owner: User, session: str | None) -> list[Entrance]:
    """All ways into an account but the password, and the session that asks."""
    found = [
        Entrance(f"{table}:{row.pk}", f"{words} {row}", row)
        for table, (words, beside) in _TABLES.items()
        for row in getattr(owner, table).select_related(*beside)
    ]
    places = Session.objects.filter(owner=owner, expire_date__gt=timezone.now()).exclude(session_key=session)
    return found + [
        Entrance(
            f"place:{session_digest(row.session_key)}",
            f"the place {row.browser or 'of a program'}, {row.begun_at[:16].replace('T', ' ')}",
            row,
        )
        for row in places
    ]
