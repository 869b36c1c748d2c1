"""What a new version changes of the tables there are."""

from django.core.management.base import CommandError
from django.db import connection
from django.db.migrations import Migration
from django.db.migrations.executor import MigrationExecutor
from django.db.migrations.recorder import MigrationRecorder


def migrations_ahead() -> list[Migration]:
    """The changes that this version makes to the tables and that have not been made.

    Raises CommandError where the tables are of a version before those that this one brings up to date: of the
    changes that are squashed into one some were made, and not all.
    """
    executor = MigrationExecutor(connection)
    made = MigrationRecorder(connection).applied_migrations().keys()
    for migration in executor.loader.disk_migrations.values():
        if 0 < len(made & set(migration.replaces)) < len(migration.replaces):
            raise CommandError(
                "what is stored is of a version before 30 November 2026: start that one once, and then this one"
            )
    return [migration for migration, _ in executor.migration_plan(executor.loader.graph.leaf_nodes())]
