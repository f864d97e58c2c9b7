"""Stems: a groove played by the kit, one WAV file per output."""

import zipfile
from pathlib import Path
from typing import Literal

from drumcore.exports.export import Export, Made, MadeFile, Progress, Source, file_name
from drumcore.kit.rates import USUAL_RATE, Rate
from drumcore.kit.values import Kit
from drumcore.playing.compiler import compile_kit
from drumcore.playing.sounds import FileSounds
from drumcore.playing.stems import write_stems
from drumcore.value import Value

WITHIN = "stems"


class StemsAsked(Value):
    """`groove` is the number of a saved groove."""

    groove: int
    rate_hz: Rate = USUAL_RATE
    bits: Literal[16, 24, 32] = 24


def _title(asked: StemsAsked, source: Source) -> str:
    return f"Rendering {source.groove(asked.groove).name}"


def _write(asked: StemsAsked, source: Source, folder: Path, progress: Progress) -> Made:
    return stems_of(source.kit, asked, source, folder, progress)


def stems_of(kit: Kit, asked: StemsAsked, source: Source, folder: Path, progress: Progress) -> Made:
    """Renders one file per output, and a zip of all of them."""
    groove = source.groove(asked.groove)
    total = round(groove.length_s * 10)
    outlines: dict[int, list[float]] = {}
    listed = write_stems(
        compile_kit(kit.but(rate_hz=asked.rate_hz)),
        groove.events,
        FileSounds(source.locate),
        folder / WITHIN,
        bits=asked.bits,
        progress=lambda seconds: progress(min(round(seconds * 10), total), total),
        outlines=outlines,
    )
    name = file_name(f"{kit.name} - {groove.name}", ".zip")
    with zipfile.ZipFile(folder / name, "w", zipfile.ZIP_STORED) as archive:
        for path in sorted((folder / WITHIN).iterdir()):
            archive.write(path, path.name)
    parts = tuple(
        MadeFile(
            file=stem["file"],
            output=stem["output"],
            width=stem["width"],
            peak_dbfs=stem["peak_dbfs"],
            clipped_samples=stem["clipped_samples"],
            outline=tuple(outlines[stem["output"]]),
        )
        for stem in listed["stems"]
    )
    return Made(download=name, parts=parts, within=WITHIN)


STEMS = Export(name="stems", asked=StemsAsked, title=_title, write=_write)
