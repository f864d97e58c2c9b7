"""Workspaces, and the base class of rows that belong to one."""

from typing import ClassVar, Self

from django.db import models

from studio.people.workspace import current_workspace


class Workspace(models.Model):
    """A group of kits, sessions and saved items, separate from those of other workspaces."""

    name = models.CharField(max_length=120, unique=True)


class OwnRows(models.Manager[models.Model]):
    """The rows of the current workspace: every query of owned rows begins here. Raises NoWorkspace if there is none."""

    def get_queryset(self) -> models.QuerySet[models.Model]:
        return super().get_queryset().filter(workspace_id=current_workspace())


class Owned(models.Model):
    """A row that belongs to the workspace it was made in.

    Rows below it (a kit's versions, a session's files) refer to it and are reached through it. `objects` are the rows
    of the current workspace. `everywhere` are all rows, for work on the whole installation (the worker's queue, backup,
    doctor, clearing) and never for a request.
    """

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="+", default=current_workspace)

    objects: ClassVar[models.Manager[Self]] = OwnRows()  # type: ignore[assignment]
    everywhere: ClassVar[models.Manager[Self]] = models.Manager()

    class Meta:
        abstract = True


def owner_of(row: Owned) -> int:
    """The id of the workspace a row belongs to."""
    assert row.workspace_id is not None
    return row.workspace_id
