"""The time to delete a kit for good beside a thousand other kits with sixty thousand versions."""

import secrets
import time
from pathlib import Path
from statistics import median

from speed_said import Say

FEW, MANY, VERSIONS, REMOVED = 10, 1000, 60, 5


def removing(folder: Path, kit: str, say: Say) -> None:
    """Call it on a studio folder made by `large_kit.make` that nobody else uses."""
    from studio.kits.versions import current_kit

    value = current_kit(kit)
    value = value.but(pieces=value.pieces[:2])
    _kits(value, FEW)
    before = [_removed() for _ in range(REMOVED)]
    _kits(value, MANY)
    after = [_removed() for _ in range(REMOVED)]
    shares = sorted(a / median(before) for a in after)
    what = f"deleting one of {MANY:,} kits with {MANY * VERSIONS:,} versions / one of {FEW} kits"
    say(what, (shares[0], median(shares), shares[-1]), at_most=5)


def _kits(value, count: int) -> None:
    """Kits of 500 takes by 8 microphones, each with several versions that share their takes, and one recording of its
    own.
    """
    from django.db import transaction

    from studio.kits.models import KitReference, KitVersion
    from studio.kits.versions import create_kit
    from studio.storage.models import StoredFile

    with transaction.atomic():
        for _ in range(count):
            content = secrets.token_hex(20)
            StoredFile.objects.create(sha256=secrets.token_hex(32), suffix=".wav", size=1, content=content)
            piece = value.pieces[0]
            articulation = piece.articulations[0]
            take = articulation.takes[0]
            own = take.but(recordings=(take.recordings[0].but(content=content), *take.recordings[1:]))
            articulation = articulation.but(takes=(own, *articulation.takes[1:]))
            pieces = (piece.but(articulations=(articulation, *piece.articulations[1:])), *value.pieces[1:])
            record = create_kit("Many", value.but(pieces=pieces))
            first = KitVersion.objects.get(kit=record)
            KitVersion.objects.bulk_create(
                KitVersion(kit=record, number=n, parent=n - 1, said="Moved", head=first.head)
                for n in range(2, VERSIONS + 1)
            )
            assert KitReference.objects.filter(kit=record).exists()


def _removed() -> float:
    """The seconds a request takes to delete the newest kit with its recording."""
    from django.test import Client

    from studio.kits.models import KitRecord
    from studio.storage.models import StoredFile

    kit = KitRecord.objects.order_by("-created").values_list("id", flat=True).first()
    files = StoredFile.objects.count()
    client = Client(headers={"host": "127.0.0.1"})
    start = time.perf_counter()
    answer = client.post(
        "/api/library/remove", {"things": [{"kind": "kits", "id": kit}]}, content_type="application/json"
    )
    took = time.perf_counter() - start
    assert answer.status_code == 200 and StoredFile.objects.count() == files - 1, answer.content
    return took
