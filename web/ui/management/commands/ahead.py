"""What a new version is about to change of what is stored: nothing where it changes nothing, or nothing is stored."""

from typing import Any

from django.core.management.base import BaseCommand
from django.db import connection

from web.database.tables import migrations_ahead


class Command(BaseCommand):
    help = "Says what a new version changes of the tables there are."

    def handle(self, *args: Any, **options: Any) -> None:
        if not connection.introspection.table_names():
            return
        for migration in migrations_ahead():
            loses = getattr(migration, "loses", "")
            self.stdout.write(f"· {migration.app_label}.{migration.name}" + (f": {loses}" if loses else ""))
