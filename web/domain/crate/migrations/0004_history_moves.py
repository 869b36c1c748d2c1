from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("crate", "0003_stock")]
    loses = ""  # the table stays, under another name
    operations = [
        migrations.SeparateDatabaseAndState(
            database_operations=[migrations.AlterModelTable("Change", "history_change")],
            state_operations=[migrations.DeleteModel("Change")],
        )
    ]
