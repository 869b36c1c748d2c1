"""Whether a database was not there to answer, or asked something that it does not have."""

from typing import Final

from django.db import OperationalError
from django.db.utils import InterfaceError

# The client's own errors begin at 2000; too many connections, not yet part of its cluster, shutting down, waited in
# vain, gave one of two up.
_CLIENT_FROM: Final = 2000
_AWAY: Final = {1040, 1047, 1053, 1205, 1213}


def is_away(error: BaseException | None) -> bool:
    """Whether it did not answer: MariaDB's codes, https://mariadb.com/kb/en/mariadb-error-code-reference/."""
    if isinstance(error, InterfaceError):
        return True
    if not isinstance(error, OperationalError):
        return False
    code = error.args[0] if error.args else None
    return not isinstance(code, int) or code >= _CLIENT_FROM or code in _AWAY
