import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("work", "0001_initial"),
        ("work", "0002_pieces"),
    ]

    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Job',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('kind', models.CharField(max_length=20)),
                ('name', models.CharField(blank=True, max_length=120)),
                ('asked', models.JSONField(default=dict)),
                ('content', models.BinaryField(default=bytes)),
                ('back', models.CharField(max_length=200)),
                ('done', models.PositiveIntegerField(default=0)),
                ('total', models.PositiveIntegerField(default=0)),
                ('doing', models.CharField(blank=True, max_length=80)),
                ('to', models.CharField(blank=True, max_length=200)),
                ('drawn', models.TextField(blank=True)),
                ('wrong', models.CharField(blank=True, max_length=300)),
                ('made_at', models.DateTimeField(auto_now_add=True)),
                ('told_at', models.DateTimeField(auto_now_add=True)),
                ('ended', models.BooleanField(default=False)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='jobs', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-pk'],
            },
        ),
        migrations.CreateModel(
            name='Piece',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('place', models.PositiveIntegerField()),
                ('content', models.BinaryField()),
                ('job', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='pieces', to='work.job')),
            ],
            options={
                'ordering': ['place'],
            },
        ),
        migrations.AddIndex(
            model_name='job',
            index=models.Index(fields=['owner', 'kind', 'ended'], name='work_job_owner_i_00074a_idx'),
        ),
        migrations.AddConstraint(
            model_name='piece',
            constraint=models.UniqueConstraint(fields=('job', 'place'), name='one_piece_a_place'),
        ),
    ]
