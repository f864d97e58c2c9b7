import re

from django.db import migrations, models
from django.db.models import deletion

HASH = re.compile(r"[0-9a-f]{40}(?:[0-9a-f]{24})?")


def named_within(value):
    if isinstance(value, str):
        return {value} if HASH.fullmatch(value) else set()
    held = value.values() if isinstance(value, dict) else value if isinstance(value, list) else ()
    return set().union(*map(named_within, held))


def note_references(apps, schema_editor):
    Kept, KeptReference = apps.get_model("shelves", "Kept"), apps.get_model("shelves", "KeptReference")
    for kept in Kept.objects.iterator(100):
        names = sorted(named_within(kept.data))
        KeptReference.objects.bulk_create([KeptReference(kept=kept, name=name) for name in names], 500)


class Migration(migrations.Migration):
    dependencies = [("shelves", "0002_described")]

    operations = [
        migrations.CreateModel(
            name="KeptReference",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("kept", models.ForeignKey(on_delete=deletion.CASCADE, related_name="references", to="shelves.kept")),
                ("name", models.CharField(db_index=True, max_length=64)),
            ],
        ),
        migrations.AddConstraint(
            model_name="keptreference",
            constraint=models.UniqueConstraint(fields=("kept", "name"), name="one_reference_a_kept_value"),
        ),
        migrations.RunPython(note_references, migrations.RunPython.noop),
    ]
