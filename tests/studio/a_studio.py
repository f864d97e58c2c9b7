"""A data folder as a studio leaves it, made once in a process of its own, and programs run on copies of it."""

import json
import os
import subprocess
from pathlib import Path
from typing import Any

import pytest

from tests.conftest import made_once
from tests.studio.preloaded import Preloaded

PROGRAMS = Preloaded()
SET_UP = """
import json, sys, django
django.setup()
from pathlib import Path
from django.conf import settings
from huey.contrib.djhuey import HUEY
from studio.maintenance.upgrade import bring_up_to_date
from studio.maintenance.startup import fix_records
DATA = Path(settings.DATA)
said = list(fix_records(DATA))
bring_up_to_date(DATA)
HUEY.immediate = True
from django.test import Client
from tests.studio.conftest import Studio
studio = Studio()
studio.client = Client(headers={"host": "127.0.0.1"})
asked = json.loads(sys.argv[1])
"""
MAKE = """
from django.core.files.uploadedfile import SimpleUploadedFile
from drumcore.demo.grooves import demo_grooves
from drumcore.formats.midi import write_midi
write_midi(demo_grooves()[2], DATA / "temporary" / "Tide Turn.mid")
upload = SimpleUploadedFile("Tide Turn.mid", (DATA / "temporary" / "Tide Turn.mid").read_bytes())
groove = studio.send("/grooves", file=upload)[0]["id"]
kit = studio.kit_of(Path(asked["session"]), "Quay")
for level in (-3.0, -4.0):
    kit = studio.edit(kit, {"kind": "set_channel", "channel": "snare-channel", "level_db": level})
studio.post(f"/kits/{kit['id']}/pieces/snare/keep", {"name": "Side snare"})
job = studio.post(f"/kits/{kit['id']}/exports/stems", {"groove": groove})
assert job["state"] == "done", job
content = studio.kit(kit["id"])["play_pieces"][0]["articulations"][0]["takes"][0]["voices"][0]["sound"]["content"]
assert studio.client.get(f"/api/sounds/{content}/48000/mono?cents=30").status_code == 200
# No page of the database stands empty: whatever is damaged there is damaged.
from django.db import connection
connection.cursor().execute("VACUUM")
print(json.dumps({"kit": kit["id"], "groove": groove}))
"""
STEMS = """
import hashlib, soundfile
job = studio.post(f"/kits/{asked['kit']}/exports/stems", {"groove": asked["groove"]})
assert job["state"] == "done", job
print(json.dumps([hashlib.sha256(studio.download(f"/api/jobs/{job['id']}/parts/{n}").read()).hexdigest()
                  for n in range(len(job["parts"]))]))
"""


def run(data: Path, code: str, **asked: object) -> Any:
    """What a program prints, as JSON, that has the studio on a folder at hand as `studio`, jobs done on the spot."""
    environment = {**os.environ, "DJANGO_SETTINGS_MODULE": "studio.settings", "ZESTY_DATA": str(data)}
    found = PROGRAMS.run(environment, code=SET_UP + code, arguments=(json.dumps(asked, default=str),))
    assert found.returncode == 0, found.stderr[-3000:]
    return json.loads(found.stdout.splitlines()[-1])


def zesty(data: Path, *arguments: object) -> subprocess.CompletedProcess[str]:
    """The command, on a data folder."""
    environment = {**os.environ, "ZESTY_DATA": str(data)}
    return PROGRAMS.run(environment, module="drumcore.cli", arguments=tuple(map(str, arguments)))


def kept_studio(factory: pytest.TempPathFactory, session: Path) -> tuple[Path, dict[str, Any]]:
    """A data folder with a kit, its versions, a kept piece, a groove and stems, made once and to be copied; and what it holds:
    the identifiers of its `kit` and its `groove`."""

    def make(folder: Path) -> None:
        made = run(folder, MAKE, session=session)
        (folder / "temporary" / "made.json").write_text(json.dumps(made))

    folder = made_once(factory, "kept-studio", make)
    return folder, json.loads((folder / "temporary" / "made.json").read_text())
