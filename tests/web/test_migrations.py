"""Changes of the tables say what somebody loses by them."""

from pathlib import Path

import pytest
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connection, migrations
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder

from web.common.database.tables import migrations_ahead


def taken_away(migration):
    """What a migration takes out of the database itself."""
    for one in migration.operations:
        if isinstance(one, migrations.SeparateDatabaseAndState):
            yield from (each for each in one.state_operations if isinstance(each, migrations.DeleteModel))
        elif isinstance(one, migrations.DeleteModel | migrations.RemoveField):
            yield one


def test_what_takes_something_away_says_what_is_lost():
    ours = [one for one in MigrationLoader(None).disk_migrations.values() if one.__module__.startswith("web.")]
    assert len(ours) > 12
    silent = [str(one) for one in ours if list(taken_away(one)) and not hasattr(one, "loses")]
    assert not silent


@pytest.mark.django_db
def test_tables_of_a_version_before_the_squashed_ones_are_told_to_go_by_it():
    assert migrations_ahead() == []
    MigrationRecorder(connection).record_unapplied("plans", "0010_nothing_planned_ahead")
    with pytest.raises(CommandError, match="start that one once, and then this one"):
        migrations_ahead()


@pytest.mark.django_db
def test_the_models_are_as_the_migrations_make_them():
    call_command("makemigrations", check=True, dry_run=True, verbosity=0)  # exits where a change has no migration


@pytest.mark.django_db
def test_two_databases_of_one_machine_keep_their_temporary_tables_apart():
    with connection.cursor() as cursor:
        cursor.execute("SELECT @@datadir, @@tmpdir")
        ((folder, temporary),) = cursor.fetchall()
    assert Path(temporary).parent == Path(folder)
