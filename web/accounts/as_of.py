"""What was read of somebody's, kept for as long as no table is written to that it was read from.

Which tables these are is seen while it is read, and noted with it; what is read within it through another answer that
is kept follows from that one's tables too. `User.written` says which version each table of theirs is of.
"""

import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import wraps
from threading import local
from typing import Any, Concatenate, Final, Generic, ParamSpec, TypeVar

from django.db import connection

from tackle.cache import Cache
from web.accounts.models import User

Asked = ParamSpec("Asked")
Found = TypeVar("Found")

_READ: Final = re.compile(r"(?:FROM|JOIN) `(\w+)`")
_OWN: Final = User._meta.db_table  # what somebody likes is read with them, without a query
_reading = local()


@dataclass(frozen=True, slots=True)
class _Answer(Generic[Found]):
    """What was found, the tables that it was read from, and the versions that they were of."""

    found: Found
    tables: tuple[str, ...]
    versions: tuple[int, ...]


def as_of(
    megabytes: float,
) -> Callable[[Callable[Concatenate[User, Asked], Found]], Callable[Concatenate[User, Asked], Found]]:
    """Keeps what a function reads of a user, by what it is asked beside; of each question the last answer alone.

    It may follow from nothing but what the user owns and what is asked, and nothing in it may be left to be read later.
    """

    def decorate(read: Callable[Concatenate[User, Asked], Found]) -> Callable[Concatenate[User, Asked], Found]:
        held = Cache[_Answer[Found]](megabytes)

        @wraps(read)
        def ask(owner: User, /, *args: Asked.args, **named: Asked.kwargs) -> Found:
            asked = owner.pk, args, tuple(named.items())
            answer = held.get(asked)
            if answer is None or answer.versions != _versions(owner, answer.tables):
                with _noted() as tables:
                    found = read(owner, *args, **named)
                followed = tuple(sorted(tables | {_OWN}))
                answer = _Answer(found, followed, _versions(owner, followed))
                held.put(asked, answer)
            elif (around := _around()) is not None:
                around.update(answer.tables)
            return answer.found

        return ask

    return decorate


def _versions(owner: User, tables: tuple[str, ...]) -> tuple[int, ...]:
    return tuple(owner.written.get(table, 0) for table in tables)


@contextmanager
def _noted() -> Iterator[set[str]]:
    """The tables that are read within; they are noted around it as well."""
    around = _around()
    tables: set[str] = set()
    _reading.tables = tables
    try:
        if around is None:
            with connection.execute_wrapper(_note):
                yield tables
        else:
            yield tables
    finally:
        _reading.tables = around
        if around is not None:
            around |= tables  # of what failed within, too: what is around it may go on without


def _around() -> set[str] | None:
    """The tables of the answer that is being read."""
    return getattr(_reading, "tables", None)


def _note(execute: Callable[..., Any], sql: str, params: Any, many: bool, context: dict[str, Any]) -> Any:
    _reading.tables.update(_READ.findall(sql))
    return execute(sql, params, many, context)
