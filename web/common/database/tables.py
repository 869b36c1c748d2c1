"""What a new version changes of the tables there are."""

from django.core.management.base import CommandError
from django.db import connection
from django.db.migrations import Migration
from django.db.migrations.exceptions import NodeNotFoundError
from django.db.migrations.executor import MigrationExecutor


def migrations_ahead() -> list[Migration]:
    """The changes that this version makes to the tables and that have not been made.

    Raises CommandError where the tables are of a version before those that this one brings up to date.
    """
    try:
        executor = MigrationExecutor(connection)
    except NodeNotFoundError as missing:
        raise CommandError(
            "what is stored is of a version before 30 November 2026: start that one once, and then this one"
        ) from missing
    return [migration for migration, _ in executor.migration_plan(executor.loader.graph.leaf_nodes())]
