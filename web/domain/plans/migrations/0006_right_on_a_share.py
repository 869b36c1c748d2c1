"""What counts is a share of right days: plans of go-to colours alone are right on all days, the others on nine in ten."""

from decimal import Decimal

from django.db import migrations, models


def from_accept(apps, schema_editor):
    apps.get_model("plans", "Plan").objects.filter(accept="go-to").update(right=Decimal("1.00"))


class Migration(migrations.Migration):
    dependencies = [("plans", "0005_one_plan_an_owner")]
    loses = ""  # it is told as a share now
    operations = [
        migrations.AddField(
            "Plan", "right", models.DecimalField(decimal_places=2, default=Decimal("0.90"), max_digits=3)
        ),
        migrations.AddField(
            "Choice",
            "right",
            models.DecimalField(
                decimal_places=4, max_digits=5, null=True, verbose_name="another share of right days here"
            ),
        ),
        migrations.RunPython(from_accept, migrations.RunPython.noop),
        migrations.RemoveField("Plan", "accept"),
    ]
