"""How everything an angler owns is changed: one at a time, whole or not at all, tried again where two met."""

import re
import secrets
from collections.abc import Callable
from functools import wraps
from threading import local
from typing import Any, Final, ParamSpec, TypeVar

from django.db import OperationalError, connection, transaction

from web.accounts.models import User

P = ParamSpec("P")
R = TypeVar("R")

DEADLOCK, LOCK_WAIT = 1213, 1205
TRIES = 3
# Tables of which the days to expect, the schools, the colours and their prices never read anything.
BESIDE: Final = ("crate_", "history_", "plans_", "day_", "teach_")
SHELF: Final = ("crate_lure", "crate_tray", "crate_place")
_WRITTEN = re.compile(r"(?:INTO|UPDATE|DELETE|FROM) `(\w+)`")
_inside = local()


def one_change(work: Callable[P, R]) -> Callable[P, R]:
    """A change of what its first argument owns, in a transaction that holds the owner's row.

    So no two changes of one owner read the same state: what is counted up is counted once. Writing the row's version
    makes a cluster of databases refuse the second of two as well. Where the database gives one of two up, it is tried
    again; within another change of this kind it is simply part of that. Nothing outside may be called within.

    The version is drawn anew, never counted: one that was taken back is never met again, so that what is kept under a
    version can only be what was written with it. So is the ground's, where any table was written that is not beside it,
    and the shelf's, where one of its own was. Within a change each write draws others still, so that what is read
    between two writes is kept under none of them.
    """

    @wraps(work)
    def whole(*args: P.args, **options: P.kwargs) -> R:
        owner = args[0]
        if not isinstance(owner, User):
            raise TypeError(f"{work.__name__} changes what a user owns, and comes with that user first")
        if getattr(_inside, "owner", None) == owner.pk:
            return work(*args, **options)
        for left in reversed(range(TRIES)):
            try:
                return _held(owner, lambda: work(*args, **options))
            except OperationalError as error:
                if not left or error.args[0] not in (DEADLOCK, LOCK_WAIT):
                    raise
        raise AssertionError("unreachable: the last try returns or raises")

    return whole


def _held(owner: User, work: Callable[[], R]) -> R:
    before, version = (owner.version, owner.ground, owner.shelf), secrets.randbits(63)
    seen = _Writes(owner)
    try:
        with transaction.atomic():
            User.objects.filter(pk=owner.pk).update(version=version)
            _inside.owner, owner.version = owner.pk, secrets.randbits(63)
            with connection.execute_wrapper(seen):
                done = work()
            owner.version = version
            if seen.drawn:
                User.objects.filter(pk=owner.pk).update(**seen.draw())
            return done
    except BaseException:
        owner.version, owner.ground, owner.shelf = before
        raise
    finally:
        _inside.owner = None


class _Writes:
    """Sees what a change writes, for `connection.execute_wrapper`. `drawn`: which versions are to be drawn anew."""

    def __init__(self, owner: User) -> None:
        self._owner = owner
        self.drawn: set[str] = set()

    def draw(self) -> dict[str, int]:
        """Draws them."""
        versions = {name: secrets.randbits(63) for name in self.drawn}
        for name, version in versions.items():
            setattr(self._owner, name, version)
        return versions

    def __call__(self, execute: Callable[..., Any], sql: str, params: Any, many: bool, context: dict[str, Any]) -> Any:
        done = execute(sql, params, many, context)
        if sql.startswith(("INSERT", "UPDATE", "DELETE", "REPLACE")):
            tables = _WRITTEN.findall(sql)
            if not all(table.startswith(BESIDE) for table in tables):
                self.drawn.add("ground")
            if any(table in SHELF for table in tables):
                self.drawn.add("shelf")
            self._owner.version = secrets.randbits(63)
            self.draw()
        return done
