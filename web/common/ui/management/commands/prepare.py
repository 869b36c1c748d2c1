"""Everything between a new version and a server that answers, in one process: tables, static files, demo data."""

import hashlib
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, Final

from django.conf import settings
from django.contrib.staticfiles.finders import get_finders
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection
from django.db.migrations import Migration

from web.common.database.tables import migrations_ahead

LONGEST_S: Final = 1800
KEEP_FIRST: Final = 3  # the exit status where tables are to be changed, and nobody has said that what is stored is kept


class Command(BaseCommand):
    help = "Brings tables and static files up to date, and loads the demo data where it is the demo."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument(
            "--kept", action="store_true", help="what is stored has been kept: its tables may be changed"
        )

    def handle(self, *args: Any, **options: Any) -> None:
        if migrations_ahead():
            with _alone():
                self._migrate(kept=options["kept"])
        stamp, mark = Path(settings.STATIC_ROOT).with_suffix(".stamp"), _mark_of_static_files()
        if not stamp.exists() or stamp.read_text() != mark:
            self.stdout.write("· Preparing the static files")
            call_command("collectstatic", interactive=False, clear=True, verbosity=0)
            stamp.write_text(mark)
        if settings.DEMO:
            call_command("load_demo")

    def _migrate(self, kept: bool) -> None:
        ahead = migrations_ahead()  # another machine may have done it while this one waited
        if ahead and not kept and connection.introspection.table_names():
            self.stdout.write("· A new version, which changes the tables: " + "; ".join(map(_said, ahead)))
            sys.exit(KEEP_FIRST)
        if ahead:
            self.stdout.write("· Bringing the tables up to date")
            call_command("migrate", verbosity=0)


def _said(migration: Migration) -> str:
    """A change of the tables by its name, and what is lost by it of what somebody could see."""
    loses = getattr(migration, "loses", "")
    return f"{migration.app_label} {migration.name}" + (f" ({loses})" if loses else "")


@contextmanager
def _alone() -> Iterator[None]:
    """Of several machines that start on one database at once, one changes its tables and the others wait."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT GET_LOCK('wax-crate-tables', %s)", [LONGEST_S])
        if cursor.fetchone()[0] != 1:
            raise CommandError("another machine has been changing the tables for half an hour: look there first")
        try:
            yield
        finally:
            cursor.execute("SELECT RELEASE_LOCK('wax-crate-tables')")


def _mark_of_static_files() -> str:
    """Changes with any static file: their paths, sizes and times."""
    mark = hashlib.sha256()
    for finder in get_finders():
        for path, storage in sorted(finder.list([]), key=lambda found: found[0]):
            stored = Path(storage.path(path)).stat()
            mark.update(f"{path} {stored.st_size} {stored.st_mtime_ns}\n".encode())
    return mark.hexdigest()
