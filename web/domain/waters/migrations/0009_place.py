"""A longitude that nobody told was kept as 0: it is none."""

from django.db import migrations, models


def without_zero(apps, schema_editor):
    apps.get_model("waters", "Water").objects.filter(longitude=0.0).update(longitude=None)


def with_zero(apps, schema_editor):
    apps.get_model("waters", "Water").objects.filter(longitude=None).update(longitude=0.0)


class Migration(migrations.Migration):
    dependencies = [("waters", "0008_bounds_and_settled")]

    operations = [
        migrations.AlterField(
            model_name="water",
            name="longitude",
            field=models.FloatField(blank=True, default=None, null=True),
        ),
        migrations.RunPython(without_zero, with_zero),
    ]
