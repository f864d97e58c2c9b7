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
    dependencies = [("kits", "0011_references"), ("people", "0001_workspaces"), ("library", "0007_workspace")]

    operations = [
        owned_by("kitrecord"),
        # Sessions named their kits before (library 0007); the table between them is the same.
        migrations.SeparateDatabaseAndState(
            [],
            [
                migrations.AddField(
                    "kitrecord",
                    "sessions",
                    models.ManyToManyField(related_name="kits", to="library.session", db_table="library_session_kits"),
                )
            ],
        ),
    ]
