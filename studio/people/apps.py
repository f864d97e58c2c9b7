from typing import Any

from django.apps import AppConfig
from django.db import connections
from django.db.models.signals import post_migrate


def _local_workspace(using: str, **_: Any) -> None:
    from studio.people.models import Workspace
    from studio.people.workspace import LOCAL

    # The database may be migrated to a state before workspaces existed.
    if Workspace._meta.db_table not in connections[using].introspection.table_names():
        return
    Workspace.objects.get_or_create(id=LOCAL, defaults={"name": "Local"})


class PeopleConfig(AppConfig):
    name = "studio.people"
    label = "people"

    def ready(self) -> None:
        """A migrated or newly emptied database gets the local workspace."""
        post_migrate.connect(_local_workspace, sender=self)
