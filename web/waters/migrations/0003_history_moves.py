"""The changes of waters go into the history that all share; those of before it told too little to be taken back safely."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("waters", "0002_changes_of_the_water_itself")]
    operations = [migrations.DeleteModel("WaterChange")]
