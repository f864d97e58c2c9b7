"""Workspaces, and what every row has that belongs to one."""

from typing import ClassVar, Self

from django.db import models

from studio.people.workspace import current_workspace


class Workspace(models.Model):
    """Where somebody's kits, sessions and saved items are, apart from everybody else's."""

    name = models.CharField(max_length=120, unique=True)


class OwnRows(models.Manager[models.Model]):
    """Rows of the workspace that is acted in, and no others: every query of owned rows begins here. Raises NoWorkspace where
    nobody acts."""

    def get_queryset(self) -> models.QuerySet[models.Model]:
        return super().get_queryset().filter(workspace_id=current_workspace())


class Owned(models.Model):
    """A row that belongs to a workspace: the one it is made in. What belongs to an owned row (a kit's versions, a session's
    files) names that row, and is reached through it.

    `objects` are the rows of the workspace that is acted in. `everywhere` are all of them: for what looks after the whole
    installation (the worker's queue, backup, doctor, clearing), and for nothing that answers a request.
    """

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="+", default=current_workspace)

    objects: ClassVar[models.Manager[Self]] = OwnRows()  # type: ignore[assignment]
    everywhere: ClassVar[models.Manager[Self]] = models.Manager()

    class Meta:
        abstract = True


def owner_of(row: Owned) -> int:
    """The identifier of the workspace a row belongs to."""
    assert row.workspace_id is not None
    return row.workspace_id
