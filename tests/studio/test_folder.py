"""A data folder that an older or a newer program kept."""

import os
import sqlite3
import subprocess
import sys
import zlib
from pathlib import Path

from tests.studio.a_studio import PROGRAMS

START = (
    "import django; django.setup(); from django.conf import settings; from pathlib import Path;"
    "from studio.maintenance.upgrade import bring_up_to_date; bring_up_to_date(Path(settings.DATA))"
)


def started(data: Path, code: str = START, *arguments: str) -> subprocess.CompletedProcess[str]:
    environment = {**os.environ, "DJANGO_SETTINGS_MODULE": "studio.settings", "ZESTY_DATA": str(data)}
    if arguments:
        return subprocess.run(
            [sys.executable, *arguments], env=environment, capture_output=True, text=True, check=False
        )
    return PROGRAMS.run(environment, code=code)


def rows(database: Path, table: str) -> list[tuple]:
    with sqlite3.connect(database) as opened:
        return opened.execute(f"SELECT * FROM {table}").fetchall()


def test_a_folder_of_a_newer_program_is_refused_in_a_sentence_and_left_as_it_is(tmp_path):
    data = tmp_path / "data"
    assert started(data).returncode == 0
    with sqlite3.connect(data / "studio.sqlite3") as database:
        database.execute(
            "INSERT INTO django_migrations (app, name, applied) VALUES ('kits', '9999_later', '2040-01-01')"
        )
    before = rows(data / "studio.sqlite3", "django_migrations")
    said = started(data, "", "-m", "studio", "--port", "0")
    assert said.returncode == 2 and "was saved by a newer version of Zesty Skin" in said.stderr
    assert "Traceback" not in said.stderr
    assert rows(data / "studio.sqlite3", "django_migrations") == before


def test_before_a_folder_is_brought_up_to_date_its_records_are_copied(tmp_path):
    data = tmp_path / "data"
    old = "from django.core.management import call_command; import django; django.setup();"
    old += "[call_command('migrate', app, name, verbosity=0) for app, name in"
    old += " (('kits', '0010'), ('library', '0005'), ('shelves', '0002'), ('jobs', '0004'), ('catalogue', '0001'))];"
    assert started(data, old).returncode == 0
    head = zlib.compress(b'{"pieces": [], "space": "' + b"a" * 40 + b'"}')
    with sqlite3.connect(data / "studio.sqlite3") as database:
        database.execute(
            "INSERT INTO kits_kitrecord (id, name, current, redo, created, changed, put_away, ships, copied_from, told)"
            " VALUES ('k', 'K', 1, '[]', '2026-01-01', '2026-01-01', 0, 0, '', '[]')"
        )
        database.execute(
            "INSERT INTO kits_kitversion (kit_id, number, said, gesture, mark, head, created)"
            " VALUES ('k', 1, 'New kit', '', '', ?, '2026-01-01')",
            (head,),
        )
        database.execute(
            "INSERT INTO library_session (id, name, created, guidance, adds_to, channels, description, tags, put_away)"
            " VALUES (7, 'S', '2026-01-01', '{}', '', '[]', '', '[]', 0)"
        )
        database.execute("INSERT INTO library_session_kits (session_id, kitrecord_id) VALUES (7, 'k')")
        database.execute(
            "INSERT INTO jobs_job (id, kind, arguments, state, done, total, message, result, cancel_asked, worker, created,"
            " kit_id) VALUES ('aa', 'export', '{}', 'done', 0, 0, '', '{}', 0, '', '2026-01-01', 'k')"
        )
    assert started(data).returncode == 0
    (copy,) = (data / "before-upgrade").iterdir()
    assert len(rows(copy, "kits_kitversion")) == 1 and copy.stat().st_mode & 0o077 == 0
    with sqlite3.connect(data / "studio.sqlite3") as database:
        named = database.execute("SELECT kit_id, name FROM kits_kitreference").fetchall()
        links = "SELECT s.workspace_id, l.kitrecord_id, j.workspace_id, k.workspace_id FROM library_session s"
        links += " JOIN library_session_kits l ON l.session_id = s.id JOIN jobs_job j ON j.kit_id = l.kitrecord_id"
        kept = database.execute(f"{links} JOIN kits_kitrecord k ON k.id = l.kitrecord_id").fetchall()
    assert named == [("k", "a" * 40)], "what old versions name is known from now on"
    assert kept == [(1, "k", 1, 1)], (
        "a kit, its session and its job are the local workspace's, and still belong together"
    )
    assert started(data).returncode == 0 and len(list((data / "before-upgrade").iterdir())) == 1, (
        "nothing was to be done"
    )
