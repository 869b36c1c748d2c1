"""What a test does that writes past the app's own changes."""

import secrets

from web.accounts.models import User


def renewed(owner: User) -> User:
    """Draws the owner's versions anew, as changes do, so that nothing that was read before stands for what is now."""
    drawn = {name: secrets.randbits(63) for name in ("version", "ground", "shelf")}
    for name, version in drawn.items():
        setattr(owner, name, version)
    User.objects.filter(pk=owner.pk).update(**drawn)
    return owner
