"""The disk space of a thousand edits of a full-size kit, and the search time in a library of a thousand kits."""

import time
from pathlib import Path
from statistics import median

from speed_removing import removing
from speed_said import Say

EDITS = 1000
KITS = 1000
WANTED_S = 0.1


def library(folder: Path, kit: str, say: Say) -> None:
    """Call it on a studio folder made by `large_kit.make` that nobody else uses."""
    from studio.people.workspace import LOCAL, acting_in

    with acting_in(LOCAL):
        edits_on_disk(folder, kit, say)
        among_a_thousand(say)
        removing(folder, kit, say)


def edits_on_disk(folder: Path, kit: str, say: Say) -> None:
    from django.db import connection

    from drumcore.edits.channels import SetChannel
    from drumcore.edits.layers import MoveBoundary
    from drumcore.edits.takes import TrimTakes
    from studio.kits.versions import current_kit, kit_record, make_edit

    def size() -> int:
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        return (folder / "studio.sqlite3").stat().st_size

    value = current_kit(kit)
    channels = [channel.id for channel in value.routing.channels]
    articulations = [articulation for piece in value.pieces for articulation in piece.articulations]
    before, version = size(), kit_record(kit).current
    for number in range(EDITS):
        articulation = articulations[number % len(articulations)]
        edit = (
            SetChannel(channel=channels[number % len(channels)], level_db=-(number % 60) / 10 - 0.1),
            MoveBoundary(articulation=articulation.id, layer=4, velocity=58 + number % 7),
            TrimTakes(
                articulation=articulation.id, takes=(articulation.takes[0].id,), gain_db=-(number % 40) / 10 - 0.1
            ),
        )[number % 3]
        version = make_edit(kit, version, edit)[2].current
    added = size() - before
    said = f"{EDITS:,} edits of 5,000 takes × 8 on disk, {added / 1e6:.0f} MB / the kit itself, {before / 1e6:.0f} MB"
    say(said, (added / before,) * 3, at_most=10)


def among_a_thousand(say: Say) -> None:
    from django.test import Client

    from studio.kits.versions import create_kit

    for number in range(KITS):
        create_kit(f"Kit {number:04d}")
    client, shares = Client(headers={"host": "127.0.0.1"}), []
    for asked in ("", "kit 04", "", "large room", "0999", "nothing"):
        start = time.perf_counter()
        answer = client.get(f"/api/library/kits?asked={asked}&count=60")
        shares.append((time.perf_counter() - start) / WANTED_S)
        assert answer.status_code == 200
    say("finding among a thousand kits / 100 ms", (min(shares), median(shares), max(shares)), at_most=1)
