"""Maps, curves and readings, each kept in a table of its own until now, move to one."""

from typing import Any

from django.db import migrations, models


def move(apps: Any, schema_editor: Any) -> None:
    kept = apps.get_model("shelves", "Kept")
    for old in apps.get_model("kits", "SavedMapRecord").objects.order_by("id"):
        kept.objects.create(kind="maps", name=old.name, data=old.data)
    for old in apps.get_model("kits", "SavedCurve").objects.order_by("id"):
        kept.objects.create(kind="curves", name=old.name, data=old.data)
    for old in apps.get_model("library", "SavedReading").objects.order_by("id"):
        kept.objects.create(kind="readings", name=old.name, data={"rulings": old.rulings, "groups": old.groups})


class Migration(migrations.Migration):
    initial = True
    dependencies = [
        ("kits", "0003_what_was_told"),
        ("library", "0002_savedreading_wordrecord_session_adds_to_and_more"),
    ]
    operations = [
        migrations.CreateModel(
            name="Kept",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("kind", models.CharField(max_length=40)),
                ("name", models.CharField(max_length=120)),
                ("data", models.JSONField()),
                ("created", models.DateTimeField(auto_now_add=True)),
                ("changed", models.DateTimeField(auto_now=True)),
            ],
            options={
                "constraints": [models.UniqueConstraint(fields=("kind", "name"), name="one_of_a_kind_a_name")],
            },
        ),
        migrations.RunPython(move, migrations.RunPython.noop),
    ]
