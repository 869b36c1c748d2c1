"""How everything an angler owns is changed: one at a time, whole or not at all, tried again where two met."""

import random
import re
import secrets
from collections.abc import Callable
from functools import wraps
from threading import local
from time import monotonic, sleep
from typing import Any, Final, ParamSpec, TypeVar

from django.db import OperationalError, connection, transaction

from web.accounts.models import User
from web.database.met import Met

P = ParamSpec("P")
R = TypeVar("R")

DEADLOCK, LOCK_WAIT = 1213, 1205
TRIES = 7
PAUSE_S: Final = 0.02  # before the second try, at most; twice as long before each that follows
PATIENCE_S: Final = 5.0  # after which nothing is tried again
_WRITTEN: Final = re.compile(r"(?:INTO|UPDATE|DELETE|FROM) `(\w+)`")
_inside = local()


def one_change(work: Callable[P, R]) -> Callable[P, R]:
    """A change of what its first argument owns, in a transaction that holds the owner's row.

    So no two changes of one owner read the same state: what is counted up is counted once. Writing the row's version
    makes a cluster of databases refuse the second of two as well. Where the database gives one of two up, it is tried
    again, after pauses of which no two are alike; Met is raised where that is in vain. Within another change of this
    kind it is simply part of that. Nothing outside may be called within.

    The version is drawn anew, never counted: one that was taken back is never met again, so that what is kept under a
    version can only be what was written with it. It is that of each table that was written as well: see
    web.accounts.as_of. Within a change each write draws others still, so that what is read between two writes is kept
    under none of them.
    """

    @wraps(work)
    def whole(*args: P.args, **options: P.kwargs) -> R:
        owner = args[0]
        if not isinstance(owner, User):
            raise TypeError(f"{work.__name__} changes what a user owns, and comes with that user first")
        if getattr(_inside, "owner", None) == owner.pk:
            return work(*args, **options)
        begun = monotonic()
        for number in range(TRIES):
            try:
                return _held(owner, lambda: work(*args, **options))
            except OperationalError as error:
                if error.args[0] not in (DEADLOCK, LOCK_WAIT):
                    raise
                if number == TRIES - 1 or monotonic() - begun > PATIENCE_S:
                    raise Met(*error.args) from error
            sleep(random.uniform(0, PAUSE_S * 2**number))
        raise AssertionError("unreachable: the last try returns or raises")

    return whole


def _held(owner: User, work: Callable[[], R]) -> R:
    key, before, version = owner.pk, (owner.version, owner.written), secrets.randbits(63)
    row = User.objects.filter(pk=key)
    seen = _Writes(owner)
    try:
        with transaction.atomic():
            owner.written = row.select_for_update().values_list("written", flat=True).first() or {}
            _inside.owner, owner.version = key, secrets.randbits(63)
            with connection.execute_wrapper(seen):
                done = work()
            owner.version = version
            owner.written = {**owner.written, **dict.fromkeys(seen.tables, version)}
            row.update(version=version, written=owner.written)
            return done
    except BaseException:
        owner.version, owner.written = before
        raise
    finally:
        _inside.owner = None


class _Writes:
    """Sees which tables a change writes, for `connection.execute_wrapper`."""

    def __init__(self, owner: User) -> None:
        self._owner = owner
        self.tables: set[str] = set()

    def __call__(self, execute: Callable[..., Any], sql: str, params: Any, many: bool, context: dict[str, Any]) -> Any:
        done = execute(sql, params, many, context)
        if sql.startswith(("INSERT", "UPDATE", "DELETE", "REPLACE")):
            tables = _WRITTEN.findall(sql)
            self.tables.update(tables)
            self._owner.version = halfway = secrets.randbits(63)
            self._owner.written = {**self._owner.written, **dict.fromkeys(tables, halfway)}
        return done
