from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("accounts", "0013_sent")]

    loses = "how far two colours may look apart and count as one: families tell it now"

    operations = [migrations.RemoveField("user", "same_within")]
