import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("schools", "0001_initial"),
        ("schools", "0002_ids_letter_by_letter"),
    ]

    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='OwnSchool',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('school', models.SlugField(db_collation='utf8mb4_bin', max_length=40)),
                ('name', models.CharField(max_length=60)),
                ('question', models.CharField(max_length=200)),
                ('short', models.CharField(max_length=300)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='schools', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['pk'],
                'constraints': [models.UniqueConstraint(fields=('owner', 'school'), name='one_school_an_id')],
            },
        ),
        migrations.CreateModel(
            name='Rule',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('school', models.SlugField(db_collation='utf8mb4_bin', max_length=40)),
                ('call', models.CharField(db_collation='utf8mb4_bin', max_length=80)),
                ('entry', models.JSONField()),
                ('source', models.CharField(blank=True, max_length=80)),
                ('on', models.BooleanField(default=True)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='rules', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['school', 'pk'],
                'constraints': [models.UniqueConstraint(fields=('owner', 'school', 'call'), name='one_rule_an_id')],
            },
        ),
    ]
