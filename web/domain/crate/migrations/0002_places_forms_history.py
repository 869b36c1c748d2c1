"""Places, the form of a lure, pictures, marks, scores, printed names, import drafts; a change has steps."""

import django.core.validators
import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


def into_steps(apps, schema_editor):
    change = apps.get_model("crate", "Change")
    for one in change.objects.all().iterator():
        one.steps = [{"lure": one.lure_pk, "before": one.before, "after": one.after}]
        one.save(update_fields=["steps"])


class Migration(migrations.Migration):
    dependencies = [("crate", "0001_initial"), migrations.swappable_dependency(settings.AUTH_USER_MODEL)]
    loses = ""  # they are steps now
    operations = [
        migrations.AddField("change", "steps", models.JSONField(default=list)),
        migrations.RunPython(into_steps, migrations.RunPython.noop),
        migrations.RemoveField("change", "lure_pk"),
        migrations.RemoveField("change", "before"),
        migrations.RemoveField("change", "after"),
    ]
