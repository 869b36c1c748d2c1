import django.core.serializers.json
import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [("history", "0001_initial")]

    dependencies = [
        ("waters", "0001_squashed_0007_records"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Change',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('area', models.CharField(choices=[('crate', 'Crate'), ('water', 'Water')], default='crate', max_length=5)),
                ('at', models.DateTimeField(auto_now_add=True, db_index=True)),
                ('words', models.CharField(max_length=200)),
                ('steps', models.JSONField(default=list, encoder=django.core.serializers.json.DjangoJSONEncoder)),
                ('undone', models.BooleanField(default=False)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='history', to=settings.AUTH_USER_MODEL)),
                ('water', models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='history', to='waters.water')),
            ],
            options={
                'ordering': ['-pk'],
            },
        ),
    ]
