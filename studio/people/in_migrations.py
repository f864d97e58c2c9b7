"""Shared by the migrations of owned tables."""

from django.db import migrations, models
from django.db.migrations.operations.base import Operation
from django.db.models import deletion

from studio.people.workspace import LOCAL, current_workspace


def owned_by(model: str) -> Operation:
    """Adds the workspace a row belongs to; older rows belong to the local one."""

    def field(default: object) -> models.Field:  # type: ignore[type-arg]
        return models.ForeignKey(on_delete=deletion.CASCADE, related_name="+", to="people.workspace", default=default)

    return migrations.SeparateDatabaseAndState(
        [migrations.AddField(model, "workspace", field(LOCAL))],
        [migrations.AddField(model, "workspace", field(current_workspace))],
    )
