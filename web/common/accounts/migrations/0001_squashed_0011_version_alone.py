import django.contrib.auth.models
import django.contrib.auth.validators
import django.db.models.deletion
import django.utils.timezone
import web.common.accounts.models
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("accounts", "0001_initial"),
        ("accounts", "0002_any_form"),
        ("accounts", "0003_versions_and_tries"),
        ("accounts", "0004_guests"),
        ("accounts", "0005_yardstick"),
        ("accounts", "0006_session"),
        ("accounts", "0007_passkey"),
        ("accounts", "0008_ground"),
        ("accounts", "0009_written"),
        ("accounts", "0010_an_address_is_not_told"),
        ("accounts", "0011_version_alone"),
    ]

    dependencies = [
        ('auth', '0012_alter_user_first_name_max_length'),
    ]

    operations = [
        migrations.CreateModel(
            name='User',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('password', models.CharField(max_length=128, verbose_name='password')),
                ('last_login', models.DateTimeField(blank=True, null=True, verbose_name='last login')),
                ('is_superuser', models.BooleanField(default=False, help_text='Designates that this user has all permissions without explicitly assigning them.', verbose_name='superuser status')),
                ('username', models.CharField(error_messages={'unique': 'A user with that username already exists.'}, help_text='Required. 150 characters or fewer. Letters, digits and @/./+/-/_ only.', max_length=150, unique=True, validators=[django.contrib.auth.validators.UnicodeUsernameValidator()], verbose_name='username')),
                ('first_name', models.CharField(blank=True, max_length=150, verbose_name='first name')),
                ('last_name', models.CharField(blank=True, max_length=150, verbose_name='last name')),
                ('is_staff', models.BooleanField(default=False, help_text='Designates whether the user can log into this admin site.', verbose_name='staff status')),
                ('is_active', models.BooleanField(default=True, help_text='Designates whether this user should be treated as active. Unselect this instead of deleting accounts.', verbose_name='active')),
                ('date_joined', models.DateTimeField(default=django.utils.timezone.now, verbose_name='date joined')),
                ('email', models.EmailField(db_index=True, max_length=254, verbose_name='email address')),
                ('units', models.CharField(choices=[('imperial', 'inches and feet'), ('metric', 'centimetres and metres')], default='imperial', max_length=8)),
                ('same_within', models.FloatField(default=6.0)),
                ('any_form', models.BooleanField(default=False)),
                ('alike_first', models.CharField(db_collation='utf8mb4_bin', default='white-flat', max_length=60)),
                ('alike_second', models.CharField(db_collation='utf8mb4_bin', default='bone', max_length=60)),
                ('alike_depth_ft', models.FloatField(default=3.0)),
                ('rare_days', models.FloatField(default=0.25)),
                ('version', models.PositiveBigIntegerField(default=web.common.accounts.models.drawn_version)),
                ('guest_until', models.DateTimeField(blank=True, db_index=True, null=True)),
                ('groups', models.ManyToManyField(blank=True, help_text='The groups this user belongs to. A user will get all permissions granted to each of their groups.', related_name='user_set', related_query_name='user', to='auth.group', verbose_name='groups')),
                ('user_permissions', models.ManyToManyField(blank=True, help_text='Specific permissions for this user.', related_name='user_set', related_query_name='user', to='auth.permission', verbose_name='user permissions')),
            ],
            options={
                'verbose_name': 'user',
                'verbose_name_plural': 'users',
                'abstract': False,
            },
            managers=[
                ('objects', django.contrib.auth.models.UserManager()),
            ],
        ),
        migrations.CreateModel(
            name='Passkey',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=40)),
                ('mark', models.CharField(max_length=64, unique=True)),
                ('credential', models.BinaryField()),
                ('public_key', models.BinaryField()),
                ('count', models.PositiveBigIntegerField(default=0)),
                ('made_on', models.DateField(auto_now_add=True)),
                ('used_on', models.DateField(null=True)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='passkeys', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['pk'],
            },
        ),
        migrations.CreateModel(
            name='Session',
            fields=[
                ('session_key', models.CharField(max_length=40, primary_key=True, serialize=False, verbose_name='session key')),
                ('session_data', models.TextField(verbose_name='session data')),
                ('expire_date', models.DateTimeField(db_index=True, verbose_name='expire date')),
                ('browser', models.CharField(blank=True, max_length=60)),
                ('begun_at', models.CharField(blank=True, max_length=25)),
                ('owner', models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name='sessions', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'verbose_name': 'session',
                'verbose_name_plural': 'sessions',
                'abstract': False,
            },
        ),
        migrations.CreateModel(
            name='Try',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('what', models.CharField(max_length=10)),
                ('mark', models.CharField(max_length=32)),
                ('at', models.DateTimeField(auto_now_add=True)),
            ],
            options={
                'indexes': [models.Index(fields=['what', 'mark', 'at'], name='tries_of_an_address')],
            },
        ),
    ]
