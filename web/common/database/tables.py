"""What a new version changes of the tables there are."""

from django.db import connection
from django.db.migrations import Migration
from django.db.migrations.executor import MigrationExecutor


def migrations_ahead() -> list[Migration]:
    """The changes that this version makes to the tables and that have not been made."""
    executor = MigrationExecutor(connection)
    return [migration for migration, _ in executor.migration_plan(executor.loader.graph.leaf_nodes())]
