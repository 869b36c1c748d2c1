import datetime
import django.core.validators
import django.db.models.deletion
import web.domain.trips.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("day", "0001_trips"),
        ("day", "0002_log"),
        ("day", "0003_days_are_bounded"),
        ("day", "0004_spans_and_what_was_packed"),
        ("day", "0005_which_rods_and_a_partner"),
    ]

    dependencies = [
        ("waters", "0001_squashed_0007_records"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Trip',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.CharField(db_collation='utf8mb4_bin', default=web.domain.trips.models.new_key, max_length=32)),
                ('date', models.DateField(validators=[django.core.validators.MinValueValidator(datetime.date(1900, 1, 1)), django.core.validators.MaxValueValidator(datetime.date(2199, 12, 31))])),
                ('first_hour', models.PositiveSmallIntegerField(default=6, validators=[django.core.validators.MaxValueValidator(23)])),
                ('last_hour', models.PositiveSmallIntegerField(default=14, validators=[django.core.validators.MaxValueValidator(144)])),
                ('afoot', models.BooleanField(default=False, verbose_name='from the bank, or wading')),
                ('rods', models.PositiveSmallIntegerField(default=4, validators=[django.core.validators.MinValueValidator(1), django.core.validators.MaxValueValidator(16)])),
                ('sleeved', models.PositiveSmallIntegerField(default=0, validators=[django.core.validators.MaxValueValidator(30)], verbose_name='more rods in the boat')),
                ('own_rods', models.TextField(blank=True, default='', max_length=4000, verbose_name='which rods')),
                ('partner', models.BooleanField(default=False, verbose_name='somebody fishes with you')),
                ('room', models.PositiveSmallIntegerField(default=12, validators=[django.core.validators.MinValueValidator(1), django.core.validators.MaxValueValidator(60)])),
                ('categories', models.JSONField(blank=True, default=list)),
                ('visibility_in', models.FloatField(blank=True, null=True)),
                ('stain', models.CharField(blank=True, choices=[('none', 'None'), ('silt', 'Silt'), ('algae', 'Algae'), ('tannic', 'Tannic')], max_length=8)),
                ('skies', models.JSONField(blank=True, default=list)),
                ('turn_minutes', models.PositiveSmallIntegerField(default=8, validators=[django.core.validators.MinValueValidator(5), django.core.validators.MaxValueValidator(10)])),
                ('rain_in', models.FloatField(blank=True, null=True, verbose_name='rain in the two days before')),
                ('forecast_at', models.DateTimeField(blank=True, null=True)),
                ('packed', models.JSONField(blank=True, null=True)),
                ('by_hand', models.JSONField(blank=True, default=dict)),
                ('counted', models.JSONField(blank=True, default=list)),
                ('made_at', models.DateTimeField(auto_now_add=True)),
                ('deleted_at', models.DateTimeField(blank=True, null=True)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='trips', to=settings.AUTH_USER_MODEL)),
                ('water', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='trips', to='waters.water')),
            ],
            options={
                'ordering': ['date', 'pk'],
            },
        ),
        migrations.CreateModel(
            name='Tap',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.CharField(db_collation='utf8mb4_bin', max_length=40)),
                ('device', models.CharField(db_collation='utf8mb4_bin', max_length=40)),
                ('place', models.PositiveIntegerField()),
                ('angler', models.PositiveSmallIntegerField(default=0)),
                ('kind', models.CharField(max_length=8)),
                ('at', models.FloatField()),
                ('time', models.FloatField(null=True)),
                ('data', models.JSONField(default=dict)),
                ('taken_at', models.DateTimeField(auto_now_add=True)),
                ('trip', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='taps', to='day.trip')),
            ],
            options={
                'ordering': ['device', 'place', 'pk'],
            },
        ),
        migrations.CreateModel(
            name='Turn',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('key', models.CharField(db_collation='utf8mb4_bin', max_length=44)),
                ('device', models.CharField(db_collation='utf8mb4_bin', max_length=40)),
                ('angler', models.PositiveSmallIntegerField(default=0)),
                ('category', models.CharField(db_index=True, max_length=20)),
                ('card', models.CharField(db_collation='utf8mb4_bin', max_length=60)),
                ('at', models.FloatField(null=True)),
                ('minutes', models.FloatField(null=True)),
                ('whole', models.PositiveSmallIntegerField(default=0)),
                ('lost', models.PositiveSmallIntegerField(default=0)),
                ('outside', models.PositiveSmallIntegerField(default=0)),
                ('missed', models.PositiveSmallIntegerField(default=0)),
                ('gone_lost', models.PositiveSmallIntegerField(default=0)),
                ('gone_torn', models.PositiveSmallIntegerField(default=0)),
                ('sizes', models.JSONField(default=list)),
                ('visibility_in', models.FloatField(null=True)),
                ('light', models.CharField(blank=True, max_length=10)),
                ('wind', models.CharField(blank=True, max_length=10)),
                ('stain', models.CharField(blank=True, max_length=10)),
                ('food', models.CharField(blank=True, max_length=16)),
                ('spot', models.CharField(blank=True, max_length=60)),
                ('trailer', models.CharField(blank=True, db_collation='utf8mb4_bin', max_length=60)),
                ('depth_ft', models.FloatField(null=True)),
                ('cover', models.CharField(blank=True, max_length=10)),
                ('density', models.CharField(blank=True, max_length=10)),
                ('pace', models.CharField(blank=True, max_length=10)),
                ('mood', models.CharField(blank=True, max_length=10)),
                ('current', models.CharField(blank=True, max_length=10)),
                ('trip', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='turns', to='day.trip')),
            ],
            options={
                'ordering': ['pk'],
            },
        ),
        migrations.AddIndex(
            model_name='trip',
            index=models.Index(fields=['owner', 'date'], name='trips_by_day'),
        ),
        migrations.AddConstraint(
            model_name='trip',
            constraint=models.UniqueConstraint(fields=('owner', 'key'), name='one_trip_a_key'),
        ),
        migrations.AddConstraint(
            model_name='tap',
            constraint=models.UniqueConstraint(fields=('trip', 'key'), name='one_tap_a_key'),
        ),
    ]
