import django.db.models.deletion
from decimal import Decimal
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("plans", "0001_initial"),
        ("plans", "0002_kept_plans"),
        ("plans", "0003_crossover_travel_trailers"),
        ("plans", "0004_checked_kept_plans"),
        ("plans", "0005_one_plan_an_owner"),
        ("plans", "0006_right_on_a_share"),
        ("plans", "0007_plannedahead"),
        ("plans", "0008_thrown_from"),
        ("plans", "0009_trailers_where_owned"),
        ("plans", "0010_nothing_planned_ahead"),
    ]

    dependencies = [
        ("waters", "0001_squashed_0007_records"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='KeptPlan',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=80)),
                ('made_at', models.DateTimeField(auto_now_add=True)),
                ('content', models.JSONField()),
                ('checked', models.BooleanField(default=False, verbose_name='the tackle box is checked against it too')),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='kept_plans', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-made_at', '-pk'],
            },
        ),
        migrations.CreateModel(
            name='Plan',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(default='My plan', max_length=80)),
                ('schools', models.JSONField(default=list)),
                ('categories', models.JSONField(default=list)),
                ('agree', models.CharField(choices=[('any', 'one rulebook is enough'), ('all', 'all must agree')], default='any', max_length=3)),
                ('first_month', models.PositiveSmallIntegerField(default=1)),
                ('last_month', models.PositiveSmallIntegerField(default=12)),
                ('right', models.DecimalField(decimal_places=2, default=Decimal('0.90'), max_digits=3)),
                ('crossover', models.BooleanField(default=False, verbose_name='prefer what goes between fresh water and salt')),
                ('travel_most', models.PositiveSmallIntegerField(default=8, verbose_name='lures in the travel box')),
                ('made_at', models.DateTimeField(auto_now_add=True)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='plans', to=settings.AUTH_USER_MODEL)),
                ('waters', models.ManyToManyField(blank=True, related_name='plans', to='waters.water')),
            ],
            options={
                'ordering': ['made_at', 'pk'],
            },
        ),
        migrations.CreateModel(
            name='Choice',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('category', models.CharField(max_length=20)),
                ('lock', models.JSONField(default=list)),
                ('ban', models.JSONField(default=list)),
                ('at_most', models.PositiveSmallIntegerField(null=True)),
                ('right', models.DecimalField(decimal_places=4, max_digits=5, null=True, verbose_name='another goal here')),
                ('from_f', models.FloatField(null=True, verbose_name='thrown from this water temperature; 0: all year')),
                ('trailers', models.BooleanField(null=True, verbose_name='planned together with trailers')),
                ('plan', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='choices', to='plans.plan')),
            ],
        ),
        migrations.AddConstraint(
            model_name='plan',
            constraint=models.UniqueConstraint(fields=('owner',), name='one_plan_an_owner'),
        ),
        migrations.AddConstraint(
            model_name='choice',
            constraint=models.UniqueConstraint(fields=('plan', 'category'), name='one_choice_a_category'),
        ),
    ]
