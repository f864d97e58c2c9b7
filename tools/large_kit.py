"""Makes a full-size kit, 5,000 takes under 8 microphones, in a data folder of its own, for timing.

`python tools/large_kit.py FOLDER` makes it; `ZESTY_DATA=FOLDER python -m studio` then shows it. Two hundred short
sounds stand for its 40,000 recordings, each cut at a different place, so that a player cannot share them.
"""

import os
import sys
import zlib
from pathlib import Path

import numpy as np
import soundfile

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

PIECES = 20
ARTICULATIONS = 5
LAYERS = 10
TAKES = 5
SOUNDS = 200
RATE = 48000


def make(folder: Path) -> tuple[str, int]:
    """Makes the kit in a data folder; returns its id and its session's."""
    os.environ["ZESTY_DATA"] = str(folder)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
    import django

    django.setup()
    from django.core.management import call_command

    call_command("migrate", verbosity=0)
    from drumcore.edits.apply import apply
    from drumcore.edits.pieces import BuildPieces
    from drumcore.kit.values import Kit
    from drumcore.recordings.files import measure_file
    from drumcore.recordings.session import SessionReading
    from studio.kits.versions import create_kit
    from studio.people.workspace import LOCAL, acting_in
    from studio.sessions.models import Session
    from studio.storage.files import place_of, store_file

    rng = np.random.default_rng(7)
    contents = []
    for number in range(SOUNDS):
        t = np.arange(int(0.6 * RATE)) / RATE
        sound = 0.3 * rng.standard_normal(len(t)) * np.exp(-t / (0.03 + 0.001 * number))
        path = folder / f"made {number}.wav"
        soundfile.write(path, sound, RATE, subtype="PCM_24")
        stored = store_file(path, path.name)
        measured = measure_file(place_of(stored), path.name)
        stored.content = measured.content
        stored.save()
        contents.append(measured)
        path.unlink()
    mics, pieces = _mics(), _pieces(contents)
    kit = apply(Kit(id="large", name="Large"), BuildPieces(mics=mics, pieces=pieces))
    reading = SessionReading(
        mics=mics, pieces=pieces, unread=(), reasons=(), files=PIECES * ARTICULATIONS * LAYERS * TAKES * 8
    )
    packed = zlib.compress(reading.model_dump_json().encode(), 6)
    with acting_in(LOCAL):
        record = create_kit("Large", kit, "Made up")
        session = Session.objects.create(name="Large session", reading=packed)
        record.sessions.add(session)
    return record.id, session.id


def _mics():
    from drumcore.kit.values import Mic, MicKind, Width

    kinds = [MicKind.CLOSE] * 5 + [MicKind.OVERHEAD, MicKind.ROOM, MicKind.OTHER]
    return tuple(Mic(id=f"mic-{n}", name=f"Mic {n + 1}", kind=kind, width=Width.MONO) for n, kind in enumerate(kinds))


def _pieces(contents):
    from drumcore.kit.values import Articulation, Family, Layer, Piece, Recording, Take, Width
    from drumcore.layers.splits import even_split

    counted = 0
    pieces = []
    for piece in range(PIECES):
        articulations = []
        for articulation in range(ARTICULATIONS):
            takes, layers = [], []
            for number, (low, high) in enumerate(even_split(LAYERS)):
                own = []
                for repeat in range(TAKES):
                    level = -45.0 + 4.0 * number + 0.3 * repeat
                    recordings = []
                    for mic in range(8):
                        m = contents[(counted * 8 + mic) % SOUNDS]
                        recordings.append(
                            Recording(
                                mic=f"mic-{mic}",
                                path=f"Mic {mic + 1}/Piece {piece + 1}/s{articulation}_{number + 1:02d}_{repeat + 1}.wav",
                                content=m.content,
                                rate_hz=RATE,
                                frames=m.frames,
                                width=Width.MONO,
                                level_db=level - mic,
                                peak_dbfs=level + 8 - mic,
                                start_ms=2.0,
                                length_ms=400.0,
                                centroid_hz=900.0 + 100 * number,
                                outline=m.measurements.outline,
                            )
                        )
                    take = Take(
                        id=f"t{len(takes) + 1}",
                        label=f"{number + 1}-{repeat + 1}",
                        level_db=level,
                        start_ms=1.0 + 0.022 * (counted % 2000),
                        recordings=tuple(recordings),
                    )
                    counted += 1
                    takes.append(take)
                    own.append(take.id)
                layers.append(Layer(low=low, high=high, takes=tuple(own)))
            articulations.append(
                Articulation(
                    id=f"piece-{piece + 1}/articulation-{articulation + 1}",
                    name=f"articulation {articulation + 1}",
                    takes=tuple(takes),
                    layers=tuple(layers),
                )
            )
        family = list(Family)[piece % len(Family)]
        pieces.append(
            Piece(
                id=f"piece-{piece + 1}",
                name=f"Piece {piece + 1}",
                family=family,
                articulations=tuple(articulations),
                own_mics=(f"mic-{piece % 5}",),
            )
        )
    return tuple(pieces)


if __name__ == "__main__":
    target = Path(sys.argv[1])
    target.mkdir(parents=True, exist_ok=True)
    made, session = make(target)
    print(f"kit {made}, session {session}")
