import hashlib
import re
import zlib

from django.db import migrations, models
from django.db.models import deletion

HASH = re.compile(rb'"([0-9a-f]{40}(?:[0-9a-f]{24})?)"')
AT_ONCE = 500


def named_in(packed):
    """What a compressed text names; a text that is damaged names nothing that could be told."""
    try:
        return {found.decode() for found in HASH.findall(zlib.decompress(bytes(packed)))}
    except zlib.error:
        return set()


def note_references(apps, schema_editor):
    """Every stored version is opened once, so that it need not be opened again to learn what it names."""
    Part, RecordingInSet, KitVersion, KitReference = (
        apps.get_model("kits", name) for name in ("Part", "RecordingInSet", "KitVersion", "KitReference")
    )
    sets = set()
    for part in Part.objects.iterator(100):
        names = sorted(named_in(part.data))
        if not names:
            continue
        key = hashlib.sha256(" ".join(names).encode()).hexdigest()
        Part.objects.filter(hash=part.hash).update(recordings=key)
        if key not in sets:
            sets.add(key)
            RecordingInSet.objects.bulk_create([RecordingInSet(key=key, name=name) for name in names], AT_ONCE)
    for kit in KitVersion.objects.values_list("kit_id", flat=True).distinct().order_by():
        names = set()
        for head in KitVersion.objects.filter(kit_id=kit).values_list("head", flat=True).iterator(100):
            names |= named_in(head)
        KitReference.objects.bulk_create([KitReference(kit_id=kit, name=name) for name in sorted(names)], AT_ONCE)


class Migration(migrations.Migration):
    dependencies = [("kits", "0010_put_away_and_shipped")]

    operations = [
        migrations.AddField(
            model_name="part",
            name="recordings",
            field=models.CharField(blank=True, db_index=True, default="", max_length=64),
            preserve_default=False,
        ),
        migrations.CreateModel(
            name="RecordingInSet",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=64)),
                ("name", models.CharField(db_index=True, max_length=64)),
            ],
        ),
        migrations.AddConstraint(
            model_name="recordinginset",
            constraint=models.UniqueConstraint(fields=("key", "name"), name="one_recording_a_set"),
        ),
        migrations.CreateModel(
            name="KitReference",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                (
                    "kit",
                    models.ForeignKey(on_delete=deletion.CASCADE, related_name="references", to="kits.kitrecord"),
                ),
                ("name", models.CharField(db_index=True, max_length=64)),
            ],
        ),
        migrations.AddConstraint(
            model_name="kitreference",
            constraint=models.UniqueConstraint(fields=("kit", "name"), name="one_reference_a_kit"),
        ),
        migrations.RunPython(note_references, migrations.RunPython.noop),
    ]
