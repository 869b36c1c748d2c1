"""What a test does that writes past the app's own changes."""

import io
import json
import secrets
import zipfile

from django.apps import apps

from web.accounts.models import User


def renewed(owner: User) -> User:
    """Draws the owner's versions anew, as changes do, so that nothing that was read before stands for what is now."""
    owner.version = secrets.randbits(63)
    owner.written = {model._meta.db_table: owner.version for model in apps.get_models(include_auto_created=True)}
    User.objects.filter(pk=owner.pk).update(version=owner.version, written=owner.written)
    return owner


def archive_of(owner):
    """The archive of somebody's, as a file."""
    from web.archive.writing import write_archive

    file = io.BytesIO()
    write_archive(owner, file)
    file.seek(0)
    return file


def table_of(owner):
    """What such an archive tells."""
    return json.loads(zipfile.ZipFile(archive_of(owner)).read("wax-crate.json"))
