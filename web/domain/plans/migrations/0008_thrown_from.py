from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('plans', '0007_plannedahead'),
    ]

    operations = [
        migrations.AddField(
            model_name='choice',
            name='from_f',
            field=models.FloatField(null=True, verbose_name='thrown from this water temperature; 0: all year'),
        ),
    ]
