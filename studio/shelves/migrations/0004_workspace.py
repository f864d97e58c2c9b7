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
    dependencies = [("shelves", "0003_references"), ("people", "0001_workspaces")]

    operations = [
        migrations.RemoveConstraint("kept", "one_of_a_kind_a_name"),
        owned_by("kept"),
        migrations.AddConstraint(
            "kept", models.UniqueConstraint(fields=["workspace", "kind", "name"], name="one_of_a_kind_a_name")
        ),
    ]
