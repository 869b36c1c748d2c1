from django.db import migrations, models

BATCH = 1000
THERE = [("", "ask"), ("add", "add up"), ("leave", "leave out"), ("apart", "keep apart")]
READ_AGAIN = "was read by an earlier version: keep the row as it is, and it is read again"
EMPTY = {
    "category": "", "card": "", "name": "", "count": 1, "size_in": None, "weight_oz": None, "depth_ft": None,
    "sound": "", "price": None, "condition": "", "tray": "", "note": "", "offers": [],
}  # fmt: skip


def row_by_row(apps, schema_editor):
    """What was put right in drafts is kept; each row waits to be read again."""
    row_model = apps.get_model("crate", "ImportRow")
    for draft in apps.get_model("crate", "ImportDraft").objects.all():
        draft.sheets = [{"name": "", "headings": draft.headings, "columns": draft.columns, "wanted": True}]
        draft.save(update_fields=["sheets"])
        first = next((name for name in draft.columns if name), "category")
        told = {**EMPTY, "wrong": {first: READ_AGAIN}}
        rows = [
            row_model(draft=draft, sheet=0, number=number, cells=cells, told=told, amiss=True, like="")
            for number, cells in enumerate(draft.rows, 1)
        ]
        row_model.objects.bulk_create(rows, batch_size=BATCH)


class Migration(migrations.Migration):
    dependencies = [("crate", "0005_ids_letter_by_letter")]

    loses = ""  # the rows of drafts stand in a table of their own
    operations = [
        migrations.AddField("importdraft", "sheets", models.JSONField(default=list)),
        migrations.AddField("importdraft", "mends", models.JSONField(default=list)),
        migrations.AddField("importdraft", "mended", models.JSONField(default=list)),
        migrations.AddField("importdraft", "there", models.CharField(blank=True, choices=THERE, max_length=5)),
        migrations.CreateModel(
            name="ImportRow",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("sheet", models.PositiveSmallIntegerField()),
                ("number", models.PositiveIntegerField()),
                ("cells", models.JSONField(default=list)),
                ("told", models.JSONField(default=dict)),
                ("amiss", models.BooleanField(default=False)),
                ("like", models.CharField(db_collation="utf8mb4_bin", max_length=300)),
                ("there", models.CharField(blank=True, choices=THERE, max_length=5)),
                (
                    "draft",
                    models.ForeignKey(
                        on_delete=models.deletion.CASCADE, related_name="lines", to="crate.importdraft"
                    ),
                ),
            ],
            options={"ordering": ["pk"]},
        ),
        migrations.RunPython(row_by_row, migrations.RunPython.noop),
        migrations.RemoveField("importdraft", "rows"),
        migrations.RemoveField("importdraft", "headings"),
        migrations.RemoveField("importdraft", "columns"),
        migrations.AlterField(
            "importrow",
            "draft",
            models.ForeignKey(on_delete=models.deletion.CASCADE, related_name="rows", to="crate.importdraft"),
        ),
    ]
