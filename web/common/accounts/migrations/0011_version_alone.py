import web.common.accounts.models
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('accounts', '0010_an_address_is_not_told'),
    ]

    loses = ""  # versions of tables alone: nobody sees them
    operations = [
        migrations.RemoveField(
            model_name='user',
            name='written',
        ),
        migrations.AlterField(
            model_name='user',
            name='version',
            field=models.PositiveBigIntegerField(default=web.common.accounts.models.drawn_version),
        ),
    ]
