from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('plans', '0009_trailers_where_owned'),
    ]

    loses = ""  # plans that are found again
    operations = [
        migrations.DeleteModel(
            name='PlannedAhead',
        ),
    ]
