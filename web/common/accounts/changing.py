"""Whether something owned is being changed just now, in this thread."""

from threading import local

from web.common.accounts.models import User

inside = local()


def is_changing(owner: User) -> bool:
    """Whether this is within a change of what somebody owns: it may be half done, and it may be taken back."""
    return getattr(inside, "owner", None) == owner.pk
