"""Files stored once by content: written to a temporary name, made durable, renamed."""

import hashlib
import os
import shutil
import tempfile
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings

from drumcore.kit.values import Side, Width
from drumcore.playing.sounds import plays_as_it_is, prepare, read_content, write_prepared
from drumcore.refusals import DamagedRecording, Refusal
from studio.library.models import StoredFile

MOST_REMEMBERED = 200_000
FOREVER = "public, max-age=31536000, immutable"
"""How long what is named by its content may be kept by a browser."""
LARGEST_FILE = 512 << 20


def _folder(name: str) -> Path:
    path = Path(settings.DATA) / name
    path.mkdir(parents=True, exist_ok=True)
    return path


def recordings_folder() -> Path:
    return _folder("recordings")


def uploads_folder() -> Path:
    return _folder("uploads")


def copy_durably(source: Path, target: Path) -> None:
    """Copy a file; when this returns the copy survives a crash."""
    with source.open("rb") as read, target.open("wb") as file:
        shutil.copyfileobj(read, file, 1 << 20)
        file.flush()
        os.fsync(file.fileno())
    _make_durable(target.parent)


def place_of(stored: StoredFile) -> Path:
    return _place(stored.sha256, stored.suffix)


def _place(sha256: str, suffix: str) -> Path:
    return _folder("recordings") / sha256[:2] / f"{sha256}{suffix}"


@dataclass(frozen=True)
class Put:
    """A file that lies where it belongs; the database does not know of it yet. `repaired`: what lay there was damaged."""

    sha256: str
    suffix: str
    size: int
    repaired: bool = False


def put_file(source: Path, name: str, *, durable: bool = True) -> Put:
    """Copy a file to where its bytes belong; when this returns they survive a crash. Touches no database, so that nobody
    waits while a large archive is unpacked. Raises Refusal for a file over the limit.

    With `durable` False the caller makes the files durable itself, many at once, before it says they are kept.
    """
    suffix = Path(name).suffix.lower()[:8]
    digest, size = hashlib.sha256(), 0
    handle, temporary = tempfile.mkstemp(dir=_folder("recordings"), suffix=".part")
    try:
        with os.fdopen(handle, "wb") as file, source.open("rb") as read:
            while chunk := read.read(1 << 20):
                size += len(chunk)
                if size > LARGEST_FILE:
                    raise Refusal(f"{name} is over {LARGEST_FILE >> 20} MB; cut it into single strikes.")
                digest.update(chunk)
                file.write(chunk)
            file.flush()
            if durable:
                os.fsync(file.fileno())
        place = _place(digest.hexdigest(), suffix)
        was_there = _came_again(place)
        whole = was_there and place.stat().st_size == size and sha256_of(place) == digest.hexdigest()
        put = Put(digest.hexdigest(), suffix, size, repaired=was_there and not whole)
        if not whole:
            place.parent.mkdir(exist_ok=True)
            Path(temporary).replace(place)
            if durable:
                _make_durable(place.parent)
    finally:
        Path(temporary).unlink(missing_ok=True)
    return put


def _came_again(place: Path) -> bool:
    """Whether a file is there already; it is as young as what comes in now, so that nobody clears it meanwhile."""
    try:
        os.utime(place)
    except FileNotFoundError:
        return False
    return True


def sha256_of(path: Path) -> str:
    """The hash of a file's bytes, in hexadecimal digits. Raises OSError where it cannot be read."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def remember(put: Iterable[Put]) -> dict[str, StoredFile]:
    """Tell the database of files that were put, by their hashes. One that is known under another suffix stays so; one that was
    damaged is not any more, and what was said of it while it was is forgotten."""
    wanted = {each.sha256: each for each in put}
    new = [StoredFile(sha256=p.sha256, suffix=p.suffix, size=p.size) for p in wanted.values()]
    StoredFile.objects.bulk_create(
        new, update_conflicts=True, unique_fields=["sha256"], update_fields=["came", "damaged"]
    )
    repaired = [each.sha256 for each in wanted.values() if each.repaired]
    StoredFile.objects.filter(sha256__in=repaired, measured__has_key="why").update(measured=None)
    known = {stored.sha256: stored for stored in StoredFile.objects.filter(sha256__in=wanted)}
    for sha256, stored in known.items():
        if not place_of(stored).is_file():
            # Known under another suffix, and that file has gone: this one takes its place.
            stored.suffix = wanted[sha256].suffix
            stored.save(update_fields=["suffix"])
    return known


def store_file(path: Path, name: str) -> StoredFile:
    put = put_file(path, name)
    return remember([put])[put.sha256]


def name_content(stored: StoredFile, content: str) -> None:
    """Say which sound a file holds, so that kits find it."""
    if stored.content != content:
        stored.content = content
        stored.save(update_fields=["content"])


def _make_durable(folder: Path) -> None:
    descriptor = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)


def is_there(stored: StoredFile) -> bool:
    """Whether a stored file is there with as many bytes as it came with, and not known to be damaged."""
    try:
        return not stored.damaged and place_of(stored).stat().st_size == stored.size
    except OSError:
        return False


def locate(content: str) -> Path:
    """The file that holds a content. Raises DamagedRecording where the studio has none that is whole."""
    for stored in StoredFile.objects.filter(content=content).defer("measured"):
        if is_there(stored):
            return place_of(stored)
    raise DamagedRecording(content)


_prepared: dict[tuple[str, str, int, Width, float, bool, Side | None], Path] = {}
"""Where sounds were found ready: both originals and prepared files never change under their names."""


def prepared_sound(
    content: str, rate_hz: int, width: Width, cents: float = 0.0, *, centred: bool = False, turned: Side | None = None
) -> Path:
    """A recording ready to play: the original where that will do, else made once and kept beside the originals."""
    asked = (str(settings.DATA), content, rate_hz, width, cents, centred, turned)
    known = _prepared.get(asked)
    if known is not None and known.is_file():
        return known
    if len(_prepared) > MOST_REMEMBERED:
        _prepared.clear()
    _prepared[asked] = place = _prepare(content, rate_hz, width, cents, centred, turned)
    return place


_written: list[Path] = []
CLEARED_EVERY = 100


def clear_prepared(keep: Path | None = None) -> None:
    """Remove sounds that were made ready, those not asked for the longest first, until they take no more than they may.
    All can be made again from their recordings."""
    found = [(path, path.stat()) for path in _folder("prepared").rglob("*.flac")]
    size = sum(stat.st_size for _, stat in found)
    for path, stat in sorted(found, key=lambda each: max(each[1].st_atime, each[1].st_mtime)):
        if size <= settings.ZESTY_PREPARED_BYTES:
            return
        if path != keep:
            path.unlink(missing_ok=True)
            size -= stat.st_size


def _prepare(content: str, rate_hz: int, width: Width, cents: float, centred: bool, turned: Side | None) -> Path:
    original = locate(content)
    if not cents and not centred and not turned and plays_as_it_is(original, rate_hz, width):
        return original
    treated = f"{cents:+.2f}" * bool(cents) + "c" * centred + (f"-{turned.value}" if turned else "")
    place = _folder("prepared") / f"{rate_hz}-{width.value}" / content[:2] / f"{content}{treated}.flac"
    if not place.is_file():
        made = prepare(read_content(original, content), rate_hz, width, cents, centred=centred, turned=turned)
        write_prepared(made, rate_hz, place)
        _written.append(place)
        if len(_written) >= CLEARED_EVERY:
            _written.clear()
            clear_prepared(place)
    return place
