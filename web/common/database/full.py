"""Whether a database refused to write because its disk is full."""

from typing import Final

from django.db import DatabaseError

# Error writing a file, no space left, disk full, error on write, an error of the engine's (28: no space), table full.
_FULL: Final = {3, 28, 1021, 1026, 1114}
_OF_THE_ENGINE, _NO_SPACE = 1030, "28"


def is_full(error: BaseException | None) -> bool:
    """Whether it was the disk: MariaDB's codes, https://mariadb.com/kb/en/mariadb-error-code-reference/."""
    if not isinstance(error, DatabaseError) or len(error.args) < 2:
        return False
    code, words = error.args[:2]
    return code in _FULL or (code == _OF_THE_ENGINE and _NO_SPACE in str(words))
