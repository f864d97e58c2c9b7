from django.db import migrations, models
from django.db.models import deletion

from studio.people.workspace import LOCAL, current_workspace


def owned_by(model):
    """Name the workspace that a row belongs to; what was kept before there were any is the local one's."""

    def field(default):
        return models.ForeignKey(
            on_delete=deletion.CASCADE, related_name="+", to="people.workspace", default=default
        )

    return migrations.SeparateDatabaseAndState(
        [migrations.AddField(model, "workspace", field(LOCAL))],
        [migrations.AddField(model, "workspace", field(current_workspace))],
    )


class Migration(migrations.Migration):
    dependencies = [
        ("library", "0006_damaged_and_archives"),
        ("people", "0001_workspaces"),
        ("kits", "0011_references"),
    ]

    operations = [
        owned_by("grooverecord"),
        owned_by("session"),
        owned_by("wordrecord"),
        migrations.AlterField("wordrecord", "word", models.CharField(max_length=60)),
        migrations.AddConstraint(
            "wordrecord", models.UniqueConstraint(fields=["workspace", "word"], name="one_meaning_a_word")
        ),
        # Kits name their sessions now (kits 0012); the table between them stays.
        migrations.SeparateDatabaseAndState([], [migrations.RemoveField("session", "kits")]),
    ]
