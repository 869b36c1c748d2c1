import web.domain.crate.models
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('crate', '0007_corners'),
    ]

    operations = [
        migrations.AlterField(
            model_name='lure',
            name='category',
            field=models.CharField(choices=web.domain.crate.models.category_choices, db_index=True, max_length=20),
        ),
    ]
