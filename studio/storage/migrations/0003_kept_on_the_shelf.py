from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [
        ("library", "0002_savedreading_wordrecord_session_adds_to_and_more"),
        ("shelves", "0001_one_shelf"),
    ]
    operations = [migrations.DeleteModel(name="SavedReading")]
