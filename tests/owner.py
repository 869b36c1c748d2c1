"""What a test does that writes past the app's own changes."""

import secrets

from web.accounts.models import User


def renewed(owner: User) -> User:
    """Draws the owner's versions anew, as changes do, so that nothing that was read before stands for what is now."""
    owner.version, owner.ground = secrets.randbits(63), secrets.randbits(63)
    User.objects.filter(pk=owner.pk).update(version=owner.version, ground=owner.ground)
    return owner
