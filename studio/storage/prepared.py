"""Prepared sounds: at the kit's rate and the microphone's width, made once, and again after they were cleared."""

from pathlib import Path

from django.conf import settings

from drumcore.kit.values import Side, Width
from drumcore.playing.sounds import plays_as_it_is, prepare, read_content, write_prepared
from studio.storage.files import locate
from studio.storage.recordings import folder

MOST_REMEMBERED = 200_000
CLEARED_EVERY = 100
_prepared: dict[tuple[str, str, int, Width, float, bool, Side | None], Path] = {}
"""Where sounds were found ready: both originals and prepared files never change under their names."""
_written: list[Path] = []


def prepared_sound(
    content: str, rate_hz: int, width: Width, cents: float = 0.0, *, centred: bool = False, flipped: Side | None = None
) -> Path:
    """A recording ready to play: the original if that will do, else a prepared file beside the originals."""
    asked = (str(settings.DATA), content, rate_hz, width, cents, centred, flipped)
    known = _prepared.get(asked)
    if known is not None and known.is_file():
        return known
    if len(_prepared) > MOST_REMEMBERED:
        _prepared.clear()
    _prepared[asked] = place = _prepare(content, rate_hz, width, cents, centred, flipped)
    return place


def clear_prepared(keep: Path | None = None) -> None:
    """Deletes prepared sounds, the least recently used first, until they are within their limit. All can be made again
    from their recordings.
    """
    found = [(path, path.stat()) for path in folder("prepared").rglob("*.flac")]
    size = sum(stat.st_size for _, stat in found)
    for path, stat in sorted(found, key=lambda each: max(each[1].st_atime, each[1].st_mtime)):
        if size <= settings.ZESTY_PREPARED_BYTES:
            return
        if path != keep:
            path.unlink(missing_ok=True)
            size -= stat.st_size


def _prepare(content: str, rate_hz: int, width: Width, cents: float, centred: bool, flipped: Side | None) -> Path:
    original = locate(content)
    if not cents and not centred and not flipped and plays_as_it_is(original, rate_hz, width):
        return original
    treated = f"{cents:+.2f}" * bool(cents) + "c" * centred + (f"-{flipped.value}" if flipped else "")
    place = folder("prepared") / f"{rate_hz}-{width.value}" / content[:2] / f"{content}{treated}.flac"
    if not place.is_file():
        made = prepare(read_content(original, content), rate_hz, width, cents, centred=centred, flipped=flipped)
        write_prepared(made, rate_hz, place)
        _written.append(place)
        if len(_written) >= CLEARED_EVERY:
            _written.clear()
            clear_prepared(place)
    return place
