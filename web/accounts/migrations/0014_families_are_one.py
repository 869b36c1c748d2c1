from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("accounts", "0013_sent")]

    operations = [migrations.RemoveField("user", "same_within")]
