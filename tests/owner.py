"""What a test does that writes past the app's own changes."""

import secrets

from django.apps import apps

from web.accounts.models import User


def renewed(owner: User) -> User:
    """Draws the owner's versions anew, as changes do, so that nothing that was read before stands for what is now."""
    owner.version = secrets.randbits(63)
    owner.written = {model._meta.db_table: owner.version for model in apps.get_models(include_auto_created=True)}
    User.objects.filter(pk=owner.pk).update(version=owner.version, written=owner.written)
    return owner
