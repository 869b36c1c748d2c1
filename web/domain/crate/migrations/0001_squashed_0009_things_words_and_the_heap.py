import django.core.validators
import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True
    replaces = [
        ("crate", "0001_initial"),
        ("crate", "0002_places_forms_history"),
        ("crate", "0003_stock"),
        ("crate", "0004_history_moves"),
        ("crate", "0005_ids_letter_by_letter"),
        ("crate", "0006_drafts_row_by_row"),
        ("crate", "0007_corners"),
        ("crate", "0008_kinds_are_asked_for"),
        ("crate", "0009_things_words_and_the_heap"),
    ]

    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Heap',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('rows', models.JSONField(default=list)),
                ('waiting', models.TextField(blank=True)),
                ('tray', models.CharField(blank=True, max_length=12)),
                ('owner', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name='heap', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='ImportDraft',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('made_at', models.DateTimeField(auto_now_add=True)),
                ('name', models.CharField(max_length=120)),
                ('sheets', models.JSONField(default=list)),
                ('mends', models.JSONField(default=list)),
                ('mended', models.JSONField(default=list)),
                ('there', models.CharField(blank=True, choices=[('', 'ask'), ('add', 'add up'), ('leave', 'leave out'), ('apart', 'keep apart')], max_length=5)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='import_drafts', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-pk'],
            },
        ),
        migrations.CreateModel(
            name='ImportRow',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('sheet', models.PositiveSmallIntegerField()),
                ('number', models.PositiveIntegerField()),
                ('cells', models.JSONField(default=list)),
                ('told', models.JSONField(default=dict)),
                ('amiss', models.BooleanField(default=False)),
                ('like', models.CharField(db_collation='utf8mb4_bin', max_length=300)),
                ('there', models.CharField(blank=True, choices=[('', 'ask'), ('add', 'add up'), ('leave', 'leave out'), ('apart', 'keep apart')], max_length=5)),
                ('draft', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='rows', to='crate.importdraft')),
            ],
            options={
                'ordering': ['pk'],
            },
        ),
        migrations.CreateModel(
            name='Picture',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('made_at', models.DateTimeField(auto_now_add=True)),
                ('jpeg', models.BinaryField()),
                ('width', models.PositiveIntegerField()),
                ('height', models.PositiveIntegerField()),
                ('corners', models.JSONField(null=True)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='pictures', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-pk'],
            },
        ),
        migrations.CreateModel(
            name='Place',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=60)),
                ('kind', models.CharField(choices=[('boat', 'on the boat'), ('home', 'at home'), ('bank', 'in the bank bag')], default='boat', max_length=4)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='places', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['kind', 'name'],
            },
        ),
        migrations.CreateModel(
            name='Printed',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('category', models.CharField(blank=True, max_length=20)),
                ('text', models.CharField(max_length=80)),
                ('card', models.CharField(max_length=60)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='printed_names', to=settings.AUTH_USER_MODEL)),
            ],
        ),
        migrations.CreateModel(
            name='Score',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('day', models.DateField()),
                ('answered', models.FloatField()),
                ('expected', models.FloatField()),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='scores', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-day'],
            },
        ),
        migrations.CreateModel(
            name='Tray',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('letter', models.CharField(max_length=3)),
                ('name', models.CharField(max_length=60)),
                ('label', models.CharField(choices=[('teal', 'Teal'), ('plum', 'Plum'), ('rust', 'Rust'), ('moss', 'Moss'), ('slate', 'Slate'), ('navy', 'Navy')], default='teal', max_length=6, verbose_name='label colour')),
                ('rows', models.PositiveSmallIntegerField(default=4, validators=[django.core.validators.MinValueValidator(1), django.core.validators.MaxValueValidator(20)])),
                ('columns', models.PositiveSmallIntegerField(default=3, validators=[django.core.validators.MinValueValidator(1), django.core.validators.MaxValueValidator(20)])),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='trays', to=settings.AUTH_USER_MODEL)),
                ('place', models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='trays', to='crate.place')),
            ],
            options={
                'ordering': ['letter'],
            },
        ),
        migrations.CreateModel(
            name='Thing',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=80, verbose_name='what it is')),
                ('count', models.PositiveSmallIntegerField(default=1, validators=[django.core.validators.MaxValueValidator(999)])),
                ('weight_oz', models.FloatField(blank=True, null=True, verbose_name='weight of one')),
                ('size_in', models.FloatField(blank=True, null=True)),
                ('par', models.PositiveSmallIntegerField(default=0, validators=[django.core.validators.MaxValueValidator(999)], verbose_name='never fewer than')),
                ('tray', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='things', to='crate.tray')),
            ],
            options={
                'ordering': ['tray__letter', 'name', 'pk'],
            },
        ),
        migrations.CreateModel(
            name='Lure',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('category', models.CharField(choices=[('shallow-crankbait', 'Shallow crankbait'), ('deep-crankbait', 'Deep crankbait'), ('lipless-crankbait', 'Lipless crankbait'), ('jerkbait', 'Jerkbait'), ('walking-topwater', 'Walking topwater'), ('popper', 'Popper'), ('frog', 'Frog'), ('casting-jig', 'Casting jig'), ('structure-jig', 'Structure jig'), ('finesse-jig', 'Finesse jig'), ('swim-jig', 'Swim jig'), ('bladed-jig', 'Bladed jig'), ('jig-trailer', 'Jig trailer'), ('creature', 'Creature'), ('worm', 'Worm'), ('finesse-worm', 'Finesse worm'), ('finesse-stick', 'Finesse stick'), ('swimbait', 'Swimbait'), ('spinnerbait', 'Spinnerbait'), ('inline-spinner', 'Inline spinner'), ('spoon', 'Spoon'), ('inshore-paddletail', 'Inshore paddletail'), ('inshore-jerkshad', 'Inshore jerkshad'), ('inshore-shrimp', 'Inshore shrimp')], db_index=True, max_length=20)),
                ('card', models.CharField(db_collation='utf8mb4_bin', db_index=True, max_length=60, verbose_name='colour')),
                ('name', models.CharField(blank=True, max_length=80, verbose_name='name as printed')),
                ('count', models.PositiveSmallIntegerField(default=1, validators=[django.core.validators.MinValueValidator(1), django.core.validators.MaxValueValidator(999)])),
                ('size_in', models.FloatField(blank=True, null=True)),
                ('weight_oz', models.FloatField(blank=True, null=True)),
                ('depth_ft', models.FloatField(blank=True, null=True, verbose_name='running depth')),
                ('sound', models.CharField(blank=True, choices=[('silent', 'silent'), ('rattle', 'rattle'), ('knock', 'knock'), ('blade', 'blade'), ('prop', 'prop')], max_length=8)),
                ('price', models.DecimalField(blank=True, decimal_places=2, max_digits=8, null=True)),
                ('condition', models.CharField(blank=True, choices=[('new', 'new'), ('good', 'good'), ('worn', 'worn'), ('mend', 'mend'), ('torn', 'torn'), ('rusty', 'rusty'), ('melted', 'melted'), ('chewed', 'chewed'), ('broken', 'broken')], max_length=8)),
                ('note', models.CharField(blank=True, max_length=300)),
                ('position', models.PositiveSmallIntegerField(default=0)),
                ('picture', models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='lures', to='crate.picture')),
                ('tray', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='lures', to='crate.tray')),
            ],
            options={
                'ordering': ['tray__letter', 'position', 'pk'],
            },
        ),
        migrations.AddField(
            model_name='importdraft',
            name='tray',
            field=models.ForeignKey(blank=True, null=True, on_delete=django.db.models.deletion.SET_NULL, to='crate.tray'),
        ),
        migrations.CreateModel(
            name='KindWord',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('text', models.CharField(max_length=80)),
                ('category', models.CharField(max_length=20)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='kind_words', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['text'],
                'constraints': [models.UniqueConstraint(fields=('owner', 'text'), name='one_kind_a_word')],
            },
        ),
        migrations.CreateModel(
            name='Mark',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('finding', models.CharField(db_collation='utf8mb4_bin', max_length=120)),
                ('words', models.CharField(max_length=200)),
                ('state', models.CharField(choices=[('done', 'Done'), ('later', 'put off'), ('no', 'dismissed')], max_length=5)),
                ('reason', models.CharField(blank=True, max_length=200)),
                ('at', models.DateField(auto_now=True)),
                ('owner', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='marks', to=settings.AUTH_USER_MODEL)),
            ],
            options={
                'ordering': ['-at', '-pk'],
                'constraints': [models.UniqueConstraint(fields=('owner', 'finding'), name='one_mark_a_finding')],
            },
        ),
        migrations.AddConstraint(
            model_name='place',
            constraint=models.UniqueConstraint(fields=('owner', 'name'), name='one_place_a_name'),
        ),
        migrations.AddConstraint(
            model_name='printed',
            constraint=models.UniqueConstraint(fields=('owner', 'category', 'text'), name='one_card_a_printed_name'),
        ),
        migrations.AddConstraint(
            model_name='score',
            constraint=models.UniqueConstraint(fields=('owner', 'day'), name='one_score_a_day'),
        ),
        migrations.AddConstraint(
            model_name='tray',
            constraint=models.UniqueConstraint(fields=('owner', 'letter'), name='one_tray_a_letter'),
        ),
    ]
