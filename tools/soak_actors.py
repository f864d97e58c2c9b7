"""The actors of a soak: they edit, import, render, delete, and send malformed requests."""

import contextlib
import hashlib
import io
import json
import random
import socket
import time
import zipfile
from collections.abc import Callable, Iterator
from urllib.parse import quote

import numpy as np
import soundfile
from soak_studio import Gone, Ledger, Refused, Studio

from tests.studio.hostile import Hostile, spoilt

Actor = Callable[[Studio, Ledger, random.Random, float], None]
RATE = 48000
MOST_KITS = 24


def strike(draw: random.Random, level_db: float) -> bytes:
    """A short strike as a WAV file; no two are equal."""
    rng = np.random.default_rng(draw.getrandbits(32))
    t = np.arange(RATE // 8) / RATE
    sound = rng.standard_normal(len(t)) * np.exp(-t / 0.03) * 0.2 * 10 ** (level_db / 20)
    made = io.BytesIO()
    soundfile.write(made, sound, RATE, subtype="PCM_24", format="WAV")
    return made.getvalue()


def turns(until: float, pause_s: float, draw: random.Random) -> Iterator[int]:
    """Repeats until the end, with pauses; a refused or unanswered request only costs its turn."""
    number = 0
    while time.monotonic() < until:
        yield number
        number += 1
        time.sleep(pause_s * draw.uniform(0.3, 1.7))


def make_kit(studio: Studio, ledger: Ledger, draw: random.Random, name: str, packed: bool = False) -> str:
    """Makes a kit from recordings, sent one by one or as a zip."""
    kit = studio.post("/kits", {"name": name})["id"]
    with ledger.lock:
        ledger.kits.add(kit)
    session = studio.post(f"/kits/{kit}/sessions", {"name": name})["id"]
    sounds = {f"Snare mic/sn_{s}_{r}.wav": strike(draw, 10.0 * (s - 3)) for s in (1, 2, 3) for r in (1, 2)}
    if packed:
        made = io.BytesIO()
        with zipfile.ZipFile(made, "w") as archive:
            for path, data in sounds.items():
                archive.writestr(path, data)
        kept = studio.send(f"/sessions/{session}/files", [("files", "n.zip", made.getvalue())], [("paths", "n.zip")])
    else:
        fields = [("paths", path) for path in sounds]
        kept = studio.send(f"/sessions/{session}/files", [("files", "a.wav", d) for d in sounds.values()], fields)
    refused = {entry["path"] for entry in kept["refused"]}
    acknowledged = {path: data for path, data in sounds.items() if path not in refused and "n.zip" not in refused}
    with ledger.lock:
        ledger.files |= {(session, path): hashlib.sha256(data).hexdigest() for path, data in acknowledged.items()}
    ledger.count("files acknowledged", len(acknowledged))
    if refused:
        raise Refused(507)
    job = ended(studio, ledger, studio.post(f"/sessions/{session}/read"))
    if job["state"] == "done":
        studio.post(f"/sessions/{session}/pieces", {"base_version": studio.get(f"/kits/{kit}")["version"], "kit": kit})
    return str(kit)


def ended(studio: Studio, ledger: Ledger, job: dict, most_s: float = 60.0) -> dict:
    """A job after it has ended, or as it was last seen."""
    with ledger.lock:
        ledger.jobs.add(job["id"])
    until = time.monotonic() + most_s
    while job["state"] in ("waiting", "running") and time.monotonic() < until:
        time.sleep(0.2)
        with contextlib.suppress(Gone, Refused):
            job = studio.get(f"/jobs/{job['id']}")
    ledger.count(f"jobs {job['state']}")
    return job


def editor(studio: Studio, ledger: Ledger, draw: random.Random, until: float) -> None:
    kit, level = None, 0
    for _ in turns(until, 0.05, draw):
        with contextlib.suppress(Gone, Refused):
            if kit is None or kit in ledger.deleted:
                kit = make_kit(studio, ledger, draw, f"Edited {draw.getrandbits(20)}")
                with ledger.lock:
                    ledger.editors.add(kit)
            state = studio.get(f"/kits/{kit}")
            if not state["head"]["channels"] and not state["order"]:
                continue
            level += 1
            wanted = -(level % 600) / 10 - 0.05
            what = draw.random()
            if what < 0.1:
                studio.post(f"/kits/{kit}/undo", {"base_version": state["version"]})
                ledger.count("undone")
                continue
            edit = {"kind": "set_channel", "channel": "snare-channel", "level_db": wanted}
            if what < 0.3:
                edit = {"kind": "trim_takes", "articulation": "snare/centre", "takes": ["t1"], "gain_db": wanted / 10}
            made = studio.post(f"/kits/{kit}/edits", {"base_version": state["version"], "edit": edit})
            ledger.count("edits acknowledged")
            if what >= 0.3:
                with ledger.lock:
                    ledger.edits[kit, made["version"]] = wanted


def importer(studio: Studio, ledger: Ledger, draw: random.Random, until: float) -> None:
    for number in turns(until, 2.0, draw):
        with contextlib.suppress(Gone, Refused):
            make_kit(studio, ledger, draw, f"Night {number}", packed=number % 2 == 0)
            ledger.count("imports")


def renderer(studio: Studio, ledger: Ledger, draw: random.Random, until: float) -> None:
    groove = None
    for number in turns(until, 1.0, draw):
        with contextlib.suppress(Gone, Refused):
            if groove is None:
                groove = _groove(studio)
            kits = sorted(ledger.kits - ledger.deleted)
            if not kits:
                continue
            kit = draw.choice(kits)
            what = ("stems", "kit-file", "line check")[number % 3]
            if what == "stems":
                job = studio.post(f"/kits/{kit}/exports/stems", {"groove": groove})
            elif what == "kit-file":
                job = studio.post(f"/kits/{kit}/exports/kit-file")
            else:
                job = studio.post(f"/kits/{kit}/lines")
            job = ended(studio, ledger, job)
            ledger.count("renders")
            if what == "kit-file" and job["state"] == "done":
                data = studio.ask("GET", job["download"]).body
                opened = ended(studio, ledger, studio.send("/kit-files", [("file", "Opened.zestykit", data)]))
                if opened["state"] == "done":
                    with ledger.lock:
                        ledger.kits.add(opened["kit"])


def _groove(studio: Studio) -> int:
    import tempfile
    from pathlib import Path

    from drumcore.demo.grooves import demo_grooves
    from drumcore.formats.midi import write_midi

    with tempfile.TemporaryDirectory() as folder:
        write_midi(demo_grooves()[2], Path(folder) / "a.mid")
        data = (Path(folder) / "a.mid").read_bytes()
    return int(studio.send("/grooves", [("file", "Tide Turn.mid", data)])[0]["id"])


def deleter(studio: Studio, ledger: Ledger, draw: random.Random, until: float) -> None:
    for number in turns(until, 3.0, draw):
        with contextlib.suppress(Gone, Refused):
            kits = sorted(ledger.kits - ledger.deleted - ledger.editors)
            if len(kits) > MOST_KITS // 2:
                gone = draw.sample(kits, 4)
                sessions = [s["id"] for kit in gone for s in studio.get(f"/kits/{kit}/sessions")]
                with ledger.lock:
                    # Whatever the response is, they may be gone from now on.
                    ledger.deleted |= set(gone)
                    ledger.sessions_deleted |= set(sessions)
                things = [{"kind": "kits", "id": kit} for kit in gone]
                studio.post("/library/remove", {"things": things, "sessions": True})
                ledger.count("kits deleted", len(gone))
            elif kits:
                copy = studio.post(f"/library/kits/{draw.choice(kits)}/duplicate")["id"]
                with ledger.lock:
                    ledger.kits.add(copy)
            if number % 5 == 4:
                studio.post("/library/clear")
                ledger.count("cleared")


def hostile_requests(studio: Studio, ledger: Ledger, draw: random.Random, until: float) -> None:
    """Requests generated from the API document, most of them invalid, to kits of their own."""
    document = None
    for _ in turns(until, 0.02, draw):
        with contextlib.suppress(Gone, Refused):
            if document is None:
                document = studio.get("/openapi.json")
                for path in ("/api/library/clear", "/api/maintenance/backup"):
                    document["paths"].pop(path, None)
                # Once a kit is deleted, every further request to it gets the same response.
                document["paths"]["/api/kits/{kit_id}"].pop("delete", None)
            kit = make_kit(studio, ledger, draw, "Hostile")
            session = studio.get(f"/kits/{kit}/sessions")[0]["id"]
            with ledger.lock:
                # Their effect on it is unknown.
                ledger.deleted.add(kit)
                ledger.sessions_deleted.add(session)
            known = {"kit_id": [kit], "session_id": [str(session)], "articulation": ["snare/centre"], "take": ["t1"]}
            made = Hostile(document, known, draw.getrandbits(30))
            for method, path, body in made.requests(draw.randrange(60, 160)):
                if time.monotonic() > until:
                    return
                if "/library/" in path and method != "get":
                    # These would delete what other actors made.
                    continue
                kind = draw.choice(("application/json",) * 9 + ("text/plain",))
                with contextlib.suppress(Gone):
                    studio.ask(method.upper(), path, raw=body, kind=kind)
                    ledger.count("hostile requests")


def hostile_files(studio: Studio, ledger: Ledger, draw: random.Random, until: float) -> None:
    whole = {"a.wav": strike(draw, -3.0)}
    for name, form in (("a.flac", "FLAC"), ("a.aiff", "AIFF")):
        made = io.BytesIO()
        soundfile.write(made, np.zeros(4800), RATE, format=form)
        whole[name] = made.getvalue()
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("kick_1.wav", whole["a.wav"])
        archive.writestr("../../out.wav", whole["a.wav"])
        archive.writestr("kit.json", json.dumps({"format": 1, "pieces": []}))
    whole |= {
        "a.zip": packed.getvalue(),
        "a.zestykit": packed.getvalue(),
        "a.mid": b"MThd\0\0\0\6\0\1\0\1\1\xe0MTrk\0\0\0\4\0\xff/\0",
    }
    many = io.BytesIO()
    with zipfile.ZipFile(many, "w") as archive:
        for number in range(3000):
            archive.writestr(f"{number}.txt", b"x")
    session = kit = None
    for number in turns(until, 0.15, draw):
        with contextlib.suppress(Gone, Refused):
            if session is None or number % 40 == 0:
                kit = studio.post("/kits", {"name": "Hostile files"})["id"]
                session = studio.post(f"/kits/{kit}/sessions", {"name": "Hostile"})["id"]
            name = draw.choice(list(whole))
            data = spoilt(whole[name], draw) if draw.random() < 0.85 else whole[name]
            shown = draw.choice((name, f"{'🥁' * 60}{name}", f"{'a' * 300}{name}", f"..%2f{name}", quote("\0") + name))
            ledger.count("hostile files")
            if name == "a.zestykit":
                ended(studio, ledger, studio.send("/kit-files", [("file", shown, data)]), 30.0)
            elif name == "a.mid":
                studio.send("/grooves", [("file", shown, data)])
            else:
                studio.send(f"/sessions/{session}/files", [("files", shown, data)], [("paths", shown)])
            if number % 25 == 0:
                studio.send(
                    f"/sessions/{session}/files", [("files", "many.zip", many.getvalue())], [("paths", "many.zip")]
                )
                ended(studio, ledger, studio.post(f"/sessions/{session}/read"), 30.0)


def dropper(studio: Studio, ledger: Ledger, draw: random.Random, until: float) -> None:
    """Connections that send half a request, or nothing, and large bodies that never end."""
    for _ in turns(until, 0.4, draw):
        with contextlib.suppress(OSError):
            line = socket.create_connection(("127.0.0.1", studio.port), 2.0)
            head = b"POST /api/kits HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nContent-Length: "
            line.sendall(
                draw.choice((b"", b"GET / HT", head, head + b"9000000\r\n\r\n" + b"x" * draw.randrange(900_000)))
            )
            ledger.count("connections dropped")
            if draw.random() < 0.8:
                line.close()


ACTORS: tuple[Actor, ...] = (
    editor,
    editor,
    editor,
    importer,
    renderer,
    deleter,
    hostile_requests,
    hostile_files,
    dropper,
)
