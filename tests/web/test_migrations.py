"""Changes of the tables say what somebody loses by them."""

from django.db import migrations
from django.db.migrations.loader import MigrationLoader


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
