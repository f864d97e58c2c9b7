"""Files stored once by content: written to a temporary name, made durable, renamed."""

import hashlib
import os
import tempfile
from collections.abc import Iterable
from pathlib import Path

from django.conf import settings

from drumcore.kit.values import Width
from drumcore.playing.sounds import plays_as_it_is, prepare, write_prepared
from drumcore.recordings.reading import read_audio
from drumcore.refusals import Refusal
from studio.library.models import StoredFile

MOST_REMEMBERED = 200_000
LARGEST_FILE = 512 << 20


def _folder(name: str) -> Path:
    path = Path(settings.DATA) / name
    path.mkdir(parents=True, exist_ok=True)
    return path


def place_of(stored: StoredFile) -> Path:
    return _folder("recordings") / stored.sha256[:2] / f"{stored.sha256}{stored.suffix}"


def store(chunks: Iterable[bytes], name: str, *, durable: bool = True) -> StoredFile:
    """Keep a file's bytes; when this returns they survive a crash. Raises Refusal for a file over the limit.

    With `durable` False the caller makes the files durable itself, many at once, before it says they are kept.
    """
    suffix = Path(name).suffix.lower()[:8]
    digest, size = hashlib.sha256(), 0
    handle, temporary = tempfile.mkstemp(dir=_folder("recordings"), suffix=".part")
    try:
        with os.fdopen(handle, "wb") as file:
            for chunk in chunks:
                size += len(chunk)
                if size > LARGEST_FILE:
                    raise Refusal(f"{name} is over {LARGEST_FILE >> 20} MB; cut it into single strikes.")
                digest.update(chunk)
                file.write(chunk)
            file.flush()
            if durable:
                os.fsync(file.fileno())
        stored = StoredFile(sha256=digest.hexdigest(), suffix=suffix, size=size)
        known = StoredFile.objects.filter(sha256=stored.sha256).first()
        if known is not None and place_of(known).is_file():
            return known
        place = place_of(stored)
        place.parent.mkdir(exist_ok=True)
        Path(temporary).replace(place)
        if durable:
            _make_durable(place.parent)
    finally:
        Path(temporary).unlink(missing_ok=True)
    return StoredFile.objects.get_or_create(sha256=stored.sha256, defaults={"suffix": suffix, "size": size})[0]


def store_file(path: Path, name: str, *, durable: bool = True) -> StoredFile:
    with path.open("rb") as file:
        return store(iter(lambda: file.read(1 << 20), b""), name, durable=durable)


def _make_durable(folder: Path) -> None:
    descriptor = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)


def locate(content: str) -> Path:
    """The file that holds a content. Raises Refusal where the studio has none."""
    for stored in StoredFile.objects.filter(content=content):
        place = place_of(stored)
        if place.is_file():
            return place
    raise Refusal("A recording of this kit is not in the studio any more; bring its session in again.")


_prepared: dict[tuple[str, str, int, Width, float, bool], Path] = {}
"""Where sounds were found ready: both originals and prepared files never change under their names."""


def prepared_sound(content: str, rate_hz: int, width: Width, cents: float = 0.0, *, centred: bool = False) -> Path:
    """A recording ready to play: the original where that will do, else made once and kept beside the originals."""
    asked = (str(settings.DATA), content, rate_hz, width, cents, centred)
    known = _prepared.get(asked)
    if known is not None and known.is_file():
        return known
    if len(_prepared) > MOST_REMEMBERED:
        _prepared.clear()
    _prepared[asked] = place = _prepare(content, rate_hz, width, cents, centred)
    return place


def _prepare(content: str, rate_hz: int, width: Width, cents: float, centred: bool) -> Path:
    original = locate(content)
    if not cents and not centred and plays_as_it_is(original, rate_hz, width):
        return original
    treated = f"{cents:+.2f}" * bool(cents) + "c" * centred
    place = _folder("prepared") / f"{rate_hz}-{width.value}" / content[:2] / f"{content}{treated}.flac"
    if not place.is_file():
        write_prepared(prepare(read_audio(original), rate_hz, width, cents, centred=centred), rate_hz, place)
    return place
