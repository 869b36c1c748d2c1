"""Everything between a new version and a server that answers, in one process: tables, static files, demo data."""

import hashlib
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.staticfiles.finders import get_finders
from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.db import connection
from django.db.migrations.executor import MigrationExecutor


class Command(BaseCommand):
    help = "Brings tables and static files up to date, and loads the demo data where it is the demo."

    def handle(self, *args: Any, **options: Any) -> None:
        executor = MigrationExecutor(connection)
        if executor.migration_plan(executor.loader.graph.leaf_nodes()):
            self.stdout.write("· Bringing the tables up to date")
            call_command("migrate", verbosity=0)
        stamp, mark = Path(settings.STATIC_ROOT).with_suffix(".stamp"), _mark_of_static_files()
        if not stamp.exists() or stamp.read_text() != mark:
            self.stdout.write("· Preparing the static files")
            call_command("collectstatic", interactive=False, clear=True, verbosity=0)
            stamp.write_text(mark)
        if settings.DEMO:
            call_command("load_demo")


def _mark_of_static_files() -> str:
    """Changes with any static file: their paths, sizes and times."""
    mark = hashlib.sha256()
    for finder in get_finders():
        for path, storage in sorted(finder.list([]), key=lambda found: found[0]):
            stored = Path(storage.path(path)).stat()
            mark.update(f"{path} {stored.st_size} {stored.st_mtime_ns}\n".encode())
    return mark.hexdigest()
