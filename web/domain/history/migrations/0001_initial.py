"""The history of the crate, in a room of its own: the table stays as it is, under another name."""

import django.core.serializers.json
import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True
    dependencies = [
        ("crate", "0004_history_moves"),
        ("waters", "0003_history_moves"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]
    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="Change",
                    fields=[
                        ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                        ("at", models.DateTimeField(auto_now_add=True, db_index=True)),
                        ("words", models.CharField(max_length=200)),
                        ("steps", models.JSONField(default=list)),
                        ("undone", models.BooleanField(default=False)),
                        ("owner", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="history", to=settings.AUTH_USER_MODEL)),
                    ],
                    options={"ordering": ["-pk"]},
                )
            ],
        ),
        migrations.AlterField("Change", "steps", models.JSONField(default=list, encoder=django.core.serializers.json.DjangoJSONEncoder)),
        migrations.AddField("Change", "area", models.CharField(choices=[("crate", "Crate"), ("water", "Water")], default="crate", max_length=5)),
        migrations.AddField(
            "Change", "water",
            models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name="history", to="waters.water"),
        ),
    ]
