"""What a test does that writes past the app's own changes."""

import io
import json
import zipfile

from web.common.accounts.models import User, drawn_version


def renewed(owner: User) -> User:
    """Draws the owner's version anew, as changes do, so that nothing that was read before stands for what is now."""
    owner.version = drawn_version()
    User.objects.filter(pk=owner.pk).update(version=owner.version)
    return owner


def archive_of(owner):
    """The archive of somebody's, as a file."""
    from web.pages.archive.writing import write_archive

    file = io.BytesIO()
    write_archive(owner, file)
    file.seek(0)
    return file


def table_of(owner):
    """What such an archive tells."""
    return json.loads(zipfile.ZipFile(archive_of(owner)).read("wax-crate.json"))
