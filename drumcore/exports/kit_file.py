"""The kit with all its recordings in one file that opens on any machine."""

from pathlib import Path

from drumcore.exports.export import Export, Made, Progress, Source, file_name
from drumcore.formats.kit_file import write_kit_file
from drumcore.formats.suffix import SUFFIX
from drumcore.value import Value


class KitFileAsked(Value):
    """No options: the file always holds the whole kit."""


def _write(asked: KitFileAsked, source: Source, folder: Path, progress: Progress) -> Made:
    path = folder / file_name(source.kit.name, SUFFIX)
    write_kit_file(source.kit, source.locate, path, progress)
    return Made(download=path.name)


KIT_FILE = Export(name="kit-file", asked=KitFileAsked, title=lambda asked, source: "Saving the kit file", write=_write)
