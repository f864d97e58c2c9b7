"""What belongs to somebody is theirs alone: seen, named and worked on in their workspace."""

import json
from contextvars import copy_context

import pytest
from django.db import connection

from studio.http import workspace
from studio.http.openapi import document
from studio.jobs.models import Job
from studio.jobs.runner import again
from studio.kits.models import KitRecord
from studio.people.models import Owned, Workspace
from studio.people.workspace import LOCAL, NoWorkspace, acting_in, current_workspace
from studio.sessions.models import Session
from studio.shelves.models import GrooveRecord, Kept

CURVE = {"nodes": [{"x": 0, "y": 1}, {"x": 127, "y": 100}]}


@pytest.fixture
def theirs(db) -> int:
    return Workspace.objects.create(name="Salt Lantern").id


@pytest.fixture
def as_them(theirs, monkeypatch):
    """From now on requests are theirs."""

    def act() -> None:
        monkeypatch.setattr(workspace, "LOCAL", theirs)

    return act


def test_nothing_of_one_workspace_is_seen_or_changed_from_another(studio, small_session, as_them):
    kit = studio.kit_of(small_session)
    kept = studio.post("/shelves/curves", {"name": "Soft", "value": CURVE})
    session, groove = Session.objects.get(), GrooveRecord.objects.create(name="March", data={})
    studio.post(f"/kits/{kit['id']}/lines")
    before = KitRecord.everywhere.get(id=kit["id"]).current
    as_them()
    assert studio.get("/kits") == [] and studio.get("/grooves") == []
    assert [card for card in studio.get("/shelves/curves") if card["ours"]] == []
    assert all(kind["count"] == 0 for kind in studio.get("/library")["kinds"] if kind["kind"] in ("kits", "sessions"))
    job = Job.everywhere.latest("created")
    for address in (f"/kits/{kit['id']}", f"/kits/{kit['id']}/versions", f"/kits/{kit['id']}/lines"):
        assert studio.client.get(f"/api{address}").status_code == 404, address
    for address in (f"/sessions/{session.id}", f"/grooves/{groove.id}", f"/jobs/{job.id}"):
        assert studio.client.get(f"/api{address}").status_code == 422, address
    edit = {"base_version": kit["version"], "edit": {"kind": "rename_kit", "name": "Stolen"}}
    studio.post(f"/kits/{kit['id']}/edits", edit, status=404)
    removal = {"things": [{"kind": "kits", "id": kit["id"]}, {"kind": "curves", "id": kept["id"]}]}
    studio.post("/library/remove", removal, status=422)
    assert studio.post("/library/freed", removal)["held"] == 0, "nor is it said how large theirs is"
    assert KitRecord.everywhere.get(id=kit["id"]).current == before and Kept.everywhere.filter(name="Soft").exists()


def test_no_address_of_a_kit_or_session_answers_another_workspace(studio, small_session, as_them):
    """Every address that reads something of a kit or a session, with what is really there filled in."""
    kit = studio.kit_of(small_session)
    filled = {
        "kit_id": kit["id"],
        "session_id": Session.objects.get().id,
        "articulation": "snare/centre",
        "take": "t1",
        "form": "csv",
        "map_id": "standard",
    }

    def answers() -> dict[str, int]:
        found = {}
        for path, calls in json.loads(document())["paths"].items():
            if "get" not in calls or not ("{kit_id}" in path or "{session_id}" in path):
                continue
            asked = [
                each for each in calls["get"].get("parameters", []) if each["in"] == "query" and each.get("required")
            ]
            query = {each["name"]: filled.get(each["name"], 1) for each in asked}
            answer = studio.client.get(path.format(**filled), query)
            found[path] = answer.status_code
        return found

    ours = answers()
    assert sum(status == 200 for status in ours.values()) > 15, ours
    as_them()
    assert {path for path, status in answers().items() if status == 200} == set()


def test_names_are_each_workspace_s_own_and_unique_within_it(studio, as_them):
    studio.post("/shelves/curves", {"name": "Soft", "value": CURVE})
    studio.post("/shelves/curves", {"name": "Soft", "value": CURVE}, status=422)
    as_them()
    assert studio.post("/shelves/curves", {"name": "Soft", "value": CURVE})["name"] == "Soft"


def test_a_job_works_in_the_workspace_it_was_asked_in(studio, small_session, theirs, as_them):
    as_them()
    kit = studio.kit_of(small_session)
    assert {job.workspace_id for job in Job.everywhere.all()} == {theirs}
    assert KitRecord.everywhere.get(id=kit["id"]).workspace_id == theirs
    # Run again by the worker, which acts for nobody.
    job = again(Job.everywhere.filter(kind="read_session").latest("created"))
    job.refresh_from_db()
    assert job.state == "done" and job.workspace_id == theirs


def test_whoever_says_no_workspace_reaches_nothing(db):
    def nobody() -> None:
        with acting_in(None):  # type: ignore[arg-type]
            for model in Owned.__subclasses__():
                with pytest.raises(NoWorkspace):
                    model.objects.count()

    copy_context().run(nobody)
    assert current_workspace() == LOCAL


def test_every_table_that_belongs_to_nobody_is_known(db):
    """A new table names its workspace, or what it belongs to; what belongs to all is listed here with its reason."""
    owned = {model._meta.db_table for model in Owned.__subclasses__()}
    shared = {
        "people_workspace",
        "library_storedfile",  # bytes by their hash, the same for everybody
        "kits_part",  # takes by their hash
        "kits_recordinginset",  # names of recordings by the hash of all of them
        "kits_measuredfigure",  # figures by the hash of all they depend on
        "catalogue_previewmade",  # previews, reached through what they are of
        "maintenance_maintenancerun",  # of the whole installation
        "django_migrations",
    }
    with connection.cursor() as cursor:
        for table in connection.introspection.table_names(cursor):
            if table in owned | shared:
                continue
            above = {to for _, to in connection.introspection.get_relations(cursor, table).values()}
            assert above & owned, f"{table} belongs to nobody"
    assert GrooveRecord._meta.db_table in owned
