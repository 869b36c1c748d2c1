"""How everything an angler owns is changed: one at a time, whole or not at all, tried again where two met."""

import secrets
from collections.abc import Callable
from functools import wraps
from threading import local
from typing import ParamSpec, TypeVar

from django.db import OperationalError, transaction

from web.accounts.models import User

P = ParamSpec("P")
R = TypeVar("R")

DEADLOCK, LOCK_WAIT = 1213, 1205
TRIES = 3
_inside = local()


def one_change(work: Callable[P, R]) -> Callable[P, R]:
    """A change of what its first argument owns, in a transaction that holds the owner's row.

    So no two changes of one owner read the same state: what is counted up is counted once. Writing the row's version
    makes a cluster of databases refuse the second of two as well. Where the database gives one of two up, it is tried
    again; within another change of this kind it is simply part of that. Nothing outside may be called within.

    The version is drawn anew, never counted: one that was taken back is never met again, so that what is kept under a
    version can only be what was written with it.
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
    before, version = owner.version, secrets.randbits(63)
    try:
        with transaction.atomic():
            User.objects.filter(pk=owner.pk).update(version=version)
            _inside.owner, owner.version = owner.pk, version
            return work()
    except BaseException:
        owner.version = before
        raise
    finally:
        _inside.owner = None
