"""What a test does that writes past the app's own changes."""

import secrets

from web.accounts.models import User


def renewed(owner: User) -> User:
    """Draws the owner's version anew, as a change does, so that nothing that was read before stands for what is now."""
    owner.version = secrets.randbits(63)
    User.objects.filter(pk=owner.pk).update(version=owner.version)
    return owner
