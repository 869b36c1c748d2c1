"""One plan an owner: of several, which only a race could make, the first stays."""

from django.db import migrations, models


def keep_the_first(apps, schema_editor):
    plans = apps.get_model("plans", "Plan").objects.order_by("owner_id", "made_at", "pk")
    seen = set()
    for pk, owner in plans.values_list("pk", "owner_id"):
        if owner in seen:
            plans.filter(pk=pk).delete()
        seen.add(owner)


class Migration(migrations.Migration):
    dependencies = [("plans", "0004_checked_kept_plans")]
    operations = [
        migrations.RunPython(keep_the_first, migrations.RunPython.noop),
        migrations.AddConstraint("Plan", models.UniqueConstraint(fields=["owner"], name="one_plan_an_owner")),
    ]
