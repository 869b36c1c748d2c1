"""The changes of waters go into the history that all share; those of before it told too little to be taken back safely."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("waters", "0002_changes_of_the_water_itself")]
    loses = "what was changed on waters until now can be read and taken back no more; the waters stay as they are"
    operations = [migrations.DeleteModel("WaterChange")]
