"""Checks whether a soak's studio still has everything it confirmed, and reports what was tried."""

import json
import os
import signal
import subprocess
import sys
import time
from datetime import date

from soak_studio import ROOT, Gone, Ledger, Refused, Studio

SETTLES_S = 240.0
LOOK = """
import json, sys, django
django.setup()
from studio.kits.versions import kit_at, KitVersion
from studio.sessions.models import SessionFile, SessionArchive
from studio.storage.files import place_of
from studio.storage.recordings import sha256_of
from studio.kits.models import KitRecord
asked = json.load(sys.stdin)
there = {(v.kit_id, v.number) for v in KitVersion.objects.only("kit_id", "number")}
lost = []
for kit, number, level in asked["edits"]:
    if (kit, number) not in there:
        lost.append(f"version {number} of {kit}")
        continue
    channels = {c.id: c.level_db for c in kit_at(kit, number).routing.channels}
    if abs(channels.get("snare-channel", 99.0) - level) > 1e-6:
        lost.append(f"the level that version {number} of {kit} set")
rows = {(f.session_id, f.path): f.stored for f in SessionFile.objects.select_related("stored")}
waiting = set(SessionArchive.objects.values_list("session_id", flat=True))
for session, path, sha256 in asked["files"]:
    stored = rows.get((session, path))
    if stored is None and session in waiting:
        continue
    if stored is None or sha256_of(place_of(stored)) != sha256:
        lost.append(f"{path} of session {session}")
kits = set(KitRecord.everywhere.values_list("id", flat=True))
lost += [f"kit {kit}" for kit in asked["kits"] if kit not in kits]
print(json.dumps(lost))
"""


def verdict(studio: Studio, ledger: Ledger, minutes: float) -> int:
    studio.place.clock.write_text("0")
    if not studio.wait():
        ledger.is_wrong("the studio does not answer at the end")
    unsettled = _settle(studio, ledger)
    if studio.process is not None:
        studio.process.send_signal(signal.SIGINT)
        studio.process.wait(60)
    environment = {**os.environ, "ZESTY_DATA": str(studio.place.data), "DJANGO_SETTINGS_MODULE": "studio.settings"}
    asked = {
        "edits": [(*key, level) for key, level in ledger.edits.items() if key[0] not in ledger.deleted],
        "files": [(*key, sha) for key, sha in ledger.files.items() if key[0] not in ledger.sessions_deleted],
        "kits": sorted(ledger.kits - ledger.deleted),
    }
    command = [sys.executable, "-c", LOOK]
    found = subprocess.run(
        command, cwd=ROOT, env=environment, input=json.dumps(asked), capture_output=True, text=True, check=False
    )
    lost = json.loads(found.stdout.splitlines()[-1]) if found.returncode == 0 else [found.stderr[-600:]]
    doctor = subprocess.run(
        [sys.executable, "-m", "drumcore.cli", "doctor"],
        cwd=ROOT,
        env=environment,
        capture_output=True,
        text=True,
        check=False,
    )
    return _say(studio, ledger, minutes, asked, lost, unsettled, doctor)


def _settle(studio: Studio, ledger: Ledger) -> list[str]:
    """Waits until every job has ended; returns those that have not."""
    waiting, until = set(ledger.jobs), time.monotonic() + SETTLES_S
    while waiting and time.monotonic() < until:
        for job in sorted(waiting):
            try:
                ended = studio.get(f"/jobs/{job}")["state"] not in ("waiting", "running")
            except Refused:
                ended = True  # its kit was deleted, or it was cleared as one of the oldest
            except Gone:
                ended = False
            if ended:
                waiting.discard(job)
        time.sleep(0.5)
    return sorted(waiting)


def _say(studio, ledger, minutes, asked, lost, unsettled, doctor) -> int:  # type: ignore[no-untyped-def]
    kills = sum(number for what, number in ledger.counts.items() if what.startswith("kills"))
    hostile = ledger.counts["hostile requests"] + ledger.counts["hostile files"] + ledger.counts["connections dropped"]
    print(f"\nSoak of {minutes:g} minutes, {date.today()}, {os.cpu_count()} cores:")
    for what, number in sorted(ledger.counts.items()):
        print(f"  {what:32} {number:8,}")
    print(f"  {'kills in all':32} {kills:8,}\n  {'hostile inputs in all':32} {hostile:8,}")
    print("  answers " + ", ".join(f"{status}: {number:,}" for status, number in sorted(ledger.statuses.items())))
    print(
        f"  slowest answer {ledger.slowest_s:.1f} s; most memory "
        + ", ".join(f"{name} {held:.0f} MB" for name, held in sorted(ledger.memory_mb.items()))
    )
    print(
        f"  looked for: {len(asked['edits']):,} edits, {len(asked['files']):,} files, {len(asked['kits']):,} kits; lost: {len(lost)}"
    )
    print(
        f"  jobs that never ended: {len(unsettled)}; doctor: {doctor.stdout.splitlines()[-1] if doctor.stdout else doctor.stderr[-300:]}"
    )
    for line in (*lost[:20], *unsettled[:5], *ledger.wrong[:40]):
        print(f"  ! {line}")
    if doctor.returncode:
        print(doctor.stdout[-3000:], doctor.stderr[-1500:])
    log = studio.log.read_text(errors="replace")
    faults = [line for line in log.splitlines() if line.startswith(("Traceback", "  File")) or "Error" in line]
    print(f"  lines of faults in the studio's log: {len(faults)}")
    for line in dict.fromkeys(faults[-4000:]):
        if "Error" in line:
            print(f"    {line[:200]}")
    return int(bool(lost or unsettled or ledger.wrong or doctor.returncode))
