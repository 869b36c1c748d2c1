"""What was read of somebody's, kept for as long as the version that it was read at is theirs."""

from collections.abc import Callable
from functools import wraps
from typing import Literal, TypeVar

from tackle.kept import Latest
from web.accounts.models import User

Read = TypeVar("Read")


def as_of(
    version: Literal["version", "ground", "shelf"], megabytes: float
) -> Callable[[Callable[[User], Read]], Callable[[User], Read]]:
    """Keeps what a function reads of a user, as of that version of theirs; see web.accounts.writing."""

    def decorate(read: Callable[[User], Read]) -> Callable[[User], Read]:
        held = Latest[Read](megabytes)

        @wraps(read)
        def ask(owner: User) -> Read:
            drawn = getattr(owner, version)
            found = held.get(owner.pk, drawn)
            if found is None:
                found = read(owner)
                held.put(owner.pk, drawn, found)
            return found

        return ask

    return decorate
