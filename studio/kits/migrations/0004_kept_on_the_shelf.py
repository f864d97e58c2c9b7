from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("kits", "0003_what_was_told"), ("shelves", "0001_one_shelf")]
    operations = [migrations.DeleteModel(name="SavedMapRecord"), migrations.DeleteModel(name="SavedCurve")]
