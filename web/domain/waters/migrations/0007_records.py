from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import migrations, models


def between(low, high):
    return [MinValueValidator(low), MaxValueValidator(high)]


class Migration(migrations.Migration):
    dependencies = [("waters", "0006_what_was_seen")]

    operations = [
        migrations.AddField("water", "half_life_y", models.FloatField(blank=True, null=True, validators=between(0.5, 100))),
        migrations.AddField("water", "tide", models.JSONField(blank=True, default=None, null=True)),
        migrations.AddField(
            "reading",
            "sky",
            models.CharField(
                blank=True,
                choices=[("bright", "Bright sun"), ("broken", "Broken cloud"), ("overcast", "Overcast")],
                default="",
                max_length=8,
            ),
            preserve_default=False,
        ),
        migrations.AddField(
            "reading",
            "wind",
            models.CharField(
                blank=True,
                choices=[("calm", "Calm"), ("ripple", "Ripple"), ("chop", "Chop")],
                default="",
                max_length=6,
            ),
            preserve_default=False,
        ),
        migrations.AddField("reading", "rain_in", models.FloatField(blank=True, null=True, validators=between(0, 60))),
        migrations.AddField("reading", "off_by", models.FloatField(default=0.0, validators=between(0, 3))),
    ]
