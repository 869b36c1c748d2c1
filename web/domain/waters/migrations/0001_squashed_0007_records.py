import datetime
import django.core.validators
import django.db.models.deletion
import web.domain.waters.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("waters", "0001_initial"),
        ("waters", "0002_changes_of_the_water_itself"),
        ("waters", "0003_history_moves"),
        ("waters", "0004_days_are_bounded"),
        ("waters", "0005_time_zone_and_taps"),
        ("waters", "0006_what_was_seen"),
        ("waters", "0007_records"),
    ]

    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Water',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=80)),
                ('kind', models.CharField(choices=[('pond', 'Pond'), ('creek', 'Creek'), ('river', 'River'), ('natural-lake', 'Natural lake'), ('lowland-reservoir', 'Lowland reservoir'), ('upland-reservoir', 'Upland reservoir'), ('tidal-creek', 'Tidal creek'), ('marsh', 'Marsh'), ('bay-flats', 'Bay flats'), ('surf', 'Surf')], max_length=20)),
                ('salinity', models.CharField(choices=[('fresh', 'Fresh'), ('brackish', 'Brackish'), ('salt', 'Salt')], max_length=8)),
                ('latitude', models.FloatField(default=38.0)),
                ('longitude', models.FloatField(default=0.0)),
                ('time_zone', models.CharField(blank=True, default='', max_length=40, validators=[web.domain.waters.models.is_zone])),
                ('dryness', models.FloatField(default=0.5)),
                ('norm_in', models.FloatField(blank=True, null=True)),
                ('relative', models.BooleanField(default=False)),
                ('depth_ft', models.FloatField(blank=True, null=True)),
                ('cover', models.JSONField(blank=True, default=dict)),
                ('bottom', models.JSONField(blank=True, default=dict)),
                ('target', models.CharField(blank=True, max_length=80)),
                ('observations', models.JSONField(blank=True, default=dict)),
                ('half_life_y', models.FloatField(blank=True, null=True, validators=[django.core.validators.MinValueValidator(0.5), django.core.validators.MaxValueValidator(100)])),
                ('tide', models.JSONField(blank=True, default=None, null=True)),
                ('forbids_categories', models.JSONField(blank=True, default=list)),
                ('forbids_trebles', models.BooleanField(default=False)),
                ('forbids_barbs', models.BooleanField(default=False)),
                ('forbids_lead', models.BooleanField(default=False)),
                ('forbids_night', models.BooleanField(default=False)),
                ('closed_months', models.JSONField(blank=True, default=list)),
                ('rules_note', models.CharField(blank=True, max_length=300)),
                ('rules_checked', models.DateField(blank=True, null=True, validators=[django.core.validators.MinValueValidator(datetime.date(1900, 1, 1)), django.core.validators.MaxValueValidator(datetime.date(2199, 12, 31))])),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='waters', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['name'],
            },
        ),
        migrations.CreateModel(
            name='Sighting',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('date', models.DateField(validators=[django.core.validators.MinValueValidator(datetime.date(1900, 1, 1)), django.core.validators.MaxValueValidator(datetime.date(2199, 12, 31))])),
                ('food', models.CharField(choices=[('shad', 'Shad'), ('herring', 'Herring'), ('shiner', 'Shiner'), ('minnow', 'Minnow'), ('sunfish', 'Sunfish'), ('perch', 'Perch'), ('crappie', 'Crappie'), ('young-bass', 'Young bass'), ('crawfish', 'Crawfish'), ('goby', 'Goby'), ('leech', 'Leech'), ('insect', 'Insect'), ('frog', 'Frog'), ('mullet', 'Mullet'), ('menhaden', 'Menhaden'), ('pilchard', 'Pilchard'), ('killifish', 'Killifish'), ('pinfish', 'Pinfish'), ('shrimp', 'Shrimp'), ('crab', 'Crab'), ('unknown', 'Not known')], max_length=16)),
                ('spot', models.CharField(blank=True, max_length=60)),
                ('tap', models.CharField(blank=True, db_collation='utf8mb4_bin', db_index=True, max_length=40)),
                ('water', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='sightings', to='waters.water')),
            ],
            options={
                'ordering': ['-date', '-pk'],
            },
        ),
        migrations.CreateModel(
            name='Reading',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('date', models.DateField(validators=[django.core.validators.MinValueValidator(datetime.date(1900, 1, 1)), django.core.validators.MaxValueValidator(datetime.date(2199, 12, 31))])),
                ('visibility_in', models.FloatField()),
                ('stain', models.CharField(blank=True, choices=[('none', 'None'), ('silt', 'Silt'), ('algae', 'Algae'), ('tannic', 'Tannic')], max_length=6)),
                ('spot', models.CharField(blank=True, max_length=60)),
                ('note', models.CharField(blank=True, max_length=200)),
                ('tap', models.CharField(blank=True, db_collation='utf8mb4_bin', db_index=True, max_length=40)),
                ('source', models.CharField(choices=[('typed', 'Typed'), ('file', 'File'), ('meter', 'Meter')], default='typed', max_length=5)),
                ('sky', models.CharField(blank=True, choices=[('bright', 'Sunny'), ('broken', 'Partly cloudy'), ('overcast', 'Overcast')], max_length=8)),
                ('wind', models.CharField(blank=True, choices=[('calm', 'Calm'), ('ripple', 'Ripple'), ('chop', 'Chop')], max_length=6)),
                ('rain_in', models.FloatField(blank=True, null=True, validators=[django.core.validators.MinValueValidator(0), django.core.validators.MaxValueValidator(60)])),
                ('off_by', models.FloatField(default=0.0, validators=[django.core.validators.MinValueValidator(0), django.core.validators.MaxValueValidator(3)])),
                ('water', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='readings', to='waters.water')),
            ],
            options={
                'ordering': ['-date', '-pk'],
            },
        ),
        migrations.CreateModel(
            name='WaterMonth',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('month', models.PositiveSmallIntegerField()),
                ('low_in', models.FloatField()),
                ('usual_in', models.FloatField()),
                ('high_in', models.FloatField()),
                ('stain', models.CharField(choices=[('none', 'None'), ('silt', 'Silt'), ('algae', 'Algae'), ('tannic', 'Tannic')], max_length=6)),
                ('temp_f', models.FloatField()),
                ('food', models.JSONField(blank=True, default=dict)),
                ('days', models.FloatField()),
                ('hours', models.JSONField(blank=True, default=list)),
                ('sky', models.JSONField(blank=True, null=True)),
                ('guess', models.BooleanField(default=True)),
                ('water', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='year', to='waters.water')),
            ],
            options={
                'ordering': ['month'],
            },
        ),
        migrations.AddConstraint(
            model_name='water',
            constraint=models.UniqueConstraint(fields=('owner', 'name'), name='one_water_a_name'),
        ),
        migrations.AddConstraint(
            model_name='watermonth',
            constraint=models.UniqueConstraint(fields=('water', 'month'), name='one_row_a_month'),
        ),
    ]
