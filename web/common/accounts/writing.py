"""How everything an angler owns is changed: one at a time, whole or not at all, tried again where two met."""

import random
from collections.abc import Callable
from functools import wraps
from time import monotonic, sleep
from typing import Final, ParamSpec, TypeVar

from django.db import OperationalError, transaction

from web.common.accounts.changing import inside, is_changing
from web.common.accounts.models import User, drawn_version
from web.common.database.conflict import ConcurrentUpdateError

P = ParamSpec("P")
R = TypeVar("R")

DEADLOCK, LOCK_WAIT = 1213, 1205
TRIES = 7
PAUSE_S: Final = 0.02  # before the second try, at most; twice as long before each that follows
PATIENCE_S: Final = 5.0  # after which nothing is tried again


def one_change(work: Callable[P, R]) -> Callable[P, R]:
    """A change of what its first argument owns, in a transaction that holds the owner's row.

    So no two changes of one owner read the same state: what is counted up is counted once. Writing the row's version
    makes a cluster of databases refuse the second of two as well. Where the database gives one of two up, it is tried
    again, after pauses of which no two are alike; ConcurrentUpdateError is raised where that is in vain. Within
    another change of this kind it is simply part of that. Nothing outside may be called within.

    The version is drawn anew, never counted: one that was taken back is never met again, so that what is kept under a
    version can only be what was written with it. What is read within a change is kept under none: see
    web.common.accounts.changing.
    """

    @wraps(work)
    def whole(*args: P.args, **options: P.kwargs) -> R:
        owner = args[0]
        if not isinstance(owner, User):
            raise TypeError(f"{work.__name__} changes what a user owns, and comes with that user first")
        if is_changing(owner):
            return work(*args, **options)
        begun = monotonic()
        for number in range(TRIES):
            try:
                return _held(owner, lambda: work(*args, **options))
            except OperationalError as error:
                if error.args[0] not in (DEADLOCK, LOCK_WAIT):
                    raise
                if number == TRIES - 1 or monotonic() - begun > PATIENCE_S:
                    raise ConcurrentUpdateError(*error.args) from error
            sleep(random.uniform(0, PAUSE_S * 2**number))
        raise AssertionError("unreachable: the last try returns or raises")

    return whole


def _held(owner: User, work: Callable[[], R]) -> R:
    row, version = User.objects.filter(pk=owner.pk), drawn_version()
    try:
        with transaction.atomic():
            row.select_for_update().values_list("version").first()
            inside.owner = owner.pk
            done = work()
            row.update(version=version)
    finally:
        inside.owner = None
    owner.version = version
    return done
