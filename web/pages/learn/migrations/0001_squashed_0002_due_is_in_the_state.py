import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("teach", "0001_initial"),
        ("teach", "0002_due_is_in_the_state"),
    ]

    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Guess',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('stain', models.CharField(max_length=8)),
                ('light', models.CharField(max_length=8)),
                ('true_in', models.FloatField()),
                ('read_in', models.FloatField()),
                ('at', models.DateTimeField(auto_now_add=True)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='depth_guesses', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-pk'],
            },
        ),
        migrations.CreateModel(
            name='Answer',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.CharField(max_length=40)),
                ('cell', models.CharField(max_length=80)),
                ('seed', models.PositiveIntegerField()),
                ('card', models.CharField(db_collation='utf8mb4_bin', max_length=60)),
                ('pick', models.CharField(max_length=5)),
                ('at', models.DateTimeField()),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='drill_answers', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['at', 'pk'],
                'constraints': [models.UniqueConstraint(fields=('owner', 'key'), name='one_answer_a_key')],
            },
        ),
        migrations.CreateModel(
            name='Known',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('cell', models.CharField(max_length=80)),
                ('state', models.JSONField()),
                ('answers', models.PositiveIntegerField(default=0)),
                ('first_on', models.DateField()),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='known_places', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'constraints': [models.UniqueConstraint(fields=('owner', 'cell'), name='one_known_place')],
            },
        ),
    ]
