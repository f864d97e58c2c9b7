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
    dependencies = [("jobs", "0004_no_beat"), ("people", "0001_workspaces"), ("kits", "0011_references")]

    operations = [
        owned_by("job"),
        # A job knows the kit it is of by its identifier: what jobs are of is no business of theirs.
        migrations.AlterField(
            "job", "kit", models.CharField(max_length=80, null=True, db_index=True, db_column="kit_id")
        ),
    ]
