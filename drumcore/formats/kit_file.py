"""The kit file (.zestykit): a self-contained zip of `kit.json`, the kit's recordings and the impulse responses of its
reverbs.

Recordings are FLAC, identical to the decoded samples to the bit; only sound that FLAC cannot hold (floats, 32-bit
integers) stays WAV.
"""

import os
import re
import tempfile
import zipfile
from collections.abc import Callable, Iterator, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from types import MappingProxyType

import soundfile

from drumcore.formats.archives import check_archive, copy_entry, open_archive, read_entry
from drumcore.formats.suffix import SUFFIX
from drumcore.kit.json_form import LARGEST_JSON, read_json, to_json
from drumcore.kit.lookup import pieces_of, with_channels
from drumcore.kit.repairs import fixed
from drumcore.kit.values import Articulation, Channel, Kit, Recording
from drumcore.recordings.audio_files import read_audio
from drumcore.recordings.files import Progress
from drumcore.recordings.responses import read_response
from drumcore.refusals import Refusal
from drumcore.spaces.imported import Response

_ENTRY = re.compile(r"(recordings|responses)/([0-9a-f]{40})\.(flac|wav)")
_FLAC_SUBTYPES = {"PCM_S8": "PCM_S8", "PCM_U8": "PCM_S8", "PCM_16": "PCM_16", "PCM_24": "PCM_24"}


def contents_of(kit: Kit) -> dict[str, Recording]:
    """Every recording of a kit by hash, with the first recording that refers to it."""
    found: dict[str, Recording] = {}
    for piece in pieces_of(kit):
        for articulation in piece.articulations:
            for take in articulation.takes:
                for recording in take.recordings:
                    found.setdefault(recording.content, recording)
    return found


def responses_of(kit: Kit) -> dict[str, str]:
    """Every impulse response the kit's reverbs need, by hash, with its name."""
    spaces = [bus.space for bus in kit.routing.buses if isinstance(bus.space, Response)]
    return {space.content: space.name for space in spaces}


def write_kit_file(
    kit: Kit,
    locate: Callable[[str], Path],
    path: Path,
    progress: Progress | None = None,
    beside: Mapping[str, str] = MappingProxyType({}),
) -> None:
    """Writes a kit and its recordings. `locate` gives the file for a hash; `beside` holds extra text files by name. The
    file appears complete or not at all.
    """
    wanted = dict.fromkeys(contents_of(kit), "recordings")
    wanted |= {content: "responses" for content in responses_of(kit) if content not in wanted}
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, temporary = tempfile.mkstemp(dir=path.parent, suffix=".part")
    try:
        with os.fdopen(handle, "wb") as raw, zipfile.ZipFile(raw, "w") as archive:
            archive.writestr(zipfile.ZipInfo("kit.json"), to_json(kit), zipfile.ZIP_DEFLATED)
            for name, text in beside.items():
                archive.writestr(zipfile.ZipInfo(name), text, zipfile.ZIP_DEFLATED)
            for done, (content, suffix, data) in enumerate(_encoded(list(wanted), locate), start=1):
                archive.writestr(zipfile.ZipInfo(f"{wanted[content]}/{content}.{suffix}"), data, zipfile.ZIP_STORED)
                if progress:
                    progress(done, len(wanted))
        with Path(temporary).open("rb") as written:
            os.fsync(written.fileno())
        Path(temporary).chmod(0o644)
        Path(temporary).replace(path)
    finally:
        Path(temporary).unlink(missing_ok=True)


def _encoded(contents: list[str], locate: Callable[[str], Path]) -> Iterator[tuple[str, str, bytes]]:
    """Each recording with its suffix and bytes, encoded a few ahead at a time so that memory use stays constant."""
    ahead = (os.cpu_count() or 2) * 4
    with ThreadPoolExecutor(os.cpu_count() or 2) as pool:
        for first in range(0, len(contents), ahead):
            yield from pool.map(lambda content: (content, *_encode(locate(content))), contents[first : first + ahead])


def _encode(path: Path) -> tuple[str, bytes]:
    with soundfile.SoundFile(path) as file:
        subtype, container, rate = file.subtype, file.format, file.samplerate
        if container == "FLAC":
            return "flac", path.read_bytes()
        kept = _FLAC_SUBTYPES.get(subtype)
        sound = file.read(dtype="int32" if kept or subtype == "PCM_32" else "float32", always_2d=True)
    # Given as a file name, because writing through a Python file object would serialise the encoding threads.
    with tempfile.TemporaryDirectory() as folder:
        made = Path(folder) / "made"
        if kept:
            soundfile.write(made, sound, rate, format="FLAC", subtype=kept)
        else:
            soundfile.write(made, sound, rate, format="WAV", subtype="PCM_32" if subtype == "PCM_32" else "FLOAT")
        return ("flac" if kept else "wav"), made.read_bytes()


@dataclass(frozen=True)
class OpenedKit:
    """A kit read from a file: where its recordings and impulse responses are now, what was missing, and other warnings."""

    kit: Kit
    recordings: dict[str, Path]
    responses: dict[str, Path]
    problems: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()


def read_kit_file(path: Path, folder: Path, progress: Progress | None = None, name: str = "") -> OpenedKit:
    """Reads a kit file and unpacks its recordings into `folder` under safe names; `name` is the user's name for the
    file.

    Missing or damaged recordings are dropped from their takes, and takes without recordings from the kit; the problems
    say so. Progress counts unpacking as the first half and reading the sounds as the second. Raises Refusal if no kit
    can be read at all, and whatever `progress` raises to cancel.
    """
    name = name or path.name
    with open_archive(path, name) as archive:
        check_archive(archive, name)
        names = {info.filename: info for info in archive.infolist()}
        if "kit.json" not in names:
            raise Refusal(f"{name} is a zip without a kit.json; choose a {SUFFIX} file saved by this program.")
        if names["kit.json"].file_size > LARGEST_JSON:
            raise Refusal(f"{name} describes a kit that is too large to open.")
        kit, notes = read_json(read_entry(archive, "kit.json"), f"kit.json in {name}")
        wanted, answering = contents_of(kit), responses_of(kit)
        found: dict[str, Path] = {}
        damaged: set[str] = set()
        folder.mkdir(parents=True, exist_ok=True)
        entries = [(m, each) for each in names if (m := _ENTRY.fullmatch(each)) and m.group(2) in {*wanted, *answering}]
        places = {m.group(2): folder / f"{m.group(2)}.{m.group(3)}" for m, _ in entries}
        for done, (match, entry) in enumerate(entries):
            if progress:
                progress(done, 2 * len(entries))
            with places[match.group(2)].open("wb") as target:
                copy_entry(archive, archive.getinfo(entry), target)
    responses = {c: place for c, place in places.items() if c in answering and _response_of(place) == c}
    places = {content: place for content, place in places.items() if content in wanted}
    with ThreadPoolExecutor(os.cpu_count() or 2) as pool:
        for done, (content, sound) in enumerate(zip(places, pool.map(_content_of, places.values()), strict=True), 1):
            if sound == content:
                found[content] = places[content]
            else:
                damaged.add(content)
            if progress:
                progress(len(places) + done, 2 * len(places))
    if wanted and not found:
        raise Refusal(f"{name} holds none of its {len(wanted)} recordings; save the kit file again.")
    problems = []
    lost = {content: recording for content, recording in wanted.items() if content not in found}
    if lost:
        example = ", ".join(sorted(r.path for r in lost.values())[:3])
        kinds = "damaged" if len(damaged) == len(lost) else "missing or damaged" if damaged else "missing"
        verb = "is" if len(lost) == 1 else "are"
        problems.append(
            f"{len(lost)} of {len(wanted)} recordings {verb} {kinds} in {name} ({example}"
            f"{', …' if len(lost) > 3 else ''}); the kit was opened without them, so save it again from its source."
        )
        kit = without_recordings(kit, set(lost))
    if unheard := {content: name for content, name in answering.items() if content not in responses}:
        problems.append(
            f"The impulse response {' and '.join(sorted(unheard.values()))} is missing or damaged in {name}; the buses that use it were opened without reverb, so add it again."
        )
        kit = _without_spaces(kit, set(unheard))
    return OpenedKit(kit, found, responses, tuple(problems), notes)


def _response_of(path: Path) -> str:
    try:
        return read_response(path, path.name).content
    except Refusal:
        return ""


def _without_spaces(kit: Kit, contents: set[str]) -> Kit:
    def answers(bus: Channel) -> bool:
        return not isinstance(bus.space, Response) or bus.space.content not in contents

    return with_channels(
        kit, {bus.id for bus in kit.routing.buses if not answers(bus)}, lambda bus: bus.but(space=None)
    )


def _content_of(path: Path) -> str:
    try:
        return read_audio(path).content
    except Refusal:
        return ""


def without_recordings(kit: Kit, contents: set[str]) -> Kit:
    """The kit without some recordings; takes, layers, articulations and pieces that become empty are removed as well."""
    pieces = []
    for piece in pieces_of(kit):
        articulations = [_without(articulation, contents) for articulation in piece.articulations]
        left = tuple(
            now for was, now in zip(piece.articulations, articulations, strict=True) if now.takes or not was.takes
        )
        if left or not piece.articulations:
            pieces.append(piece.but(articulations=left))
    # Notes, chokes and feeds that name a removed item go too.
    return fixed(kit.but(pieces=tuple(pieces)))[0]


def _without(articulation: Articulation, contents: set[str]) -> Articulation:
    takes = tuple(
        take.but(recordings=left)
        for take in articulation.takes
        if (left := tuple(r for r in take.recordings if r.content not in contents))
    )
    if takes == articulation.takes:
        return articulation
    kept = {take.id for take in takes}
    layers = [layer.but(takes=tuple(i for i in layer.takes if i in kept)) for layer in articulation.layers]
    still = tuple(now for was, now in zip(articulation.layers, layers, strict=True) if now.takes or not was.takes)
    return articulation.but(takes=takes, layers=still)
