"""Assembles takes across microphones, and articulations and pieces from them."""

from collections import Counter, defaultdict
from dataclasses import dataclass, field
from pathlib import PurePosixPath

from drumcore.kit.values import Articulation, Family, Mic, Piece, Recording, Take, Width, slug
from drumcore.layers.breaks import natural_breaks
from drumcore.layers.from_takes import layers_from_groups
from drumcore.natural_order import natural_key
from drumcore.recordings.files import Measured, Unread
from drumcore.recordings.k_weighting import FLOOR_DB
from drumcore.recordings.name_groups import grouped, misfit
from drumcore.recordings.name_parts import NamedPiece
from drumcore.recordings.names import NameReading
from drumcore.recordings.own_mics import heard_as
from drumcore.recordings.trade_words import DEFAULT_ARTICULATION

BOTH_SIDES_DB = 3.0103
"""What the energy of two equal sides is over that of one."""


@dataclass
class _Take:
    """A take being assembled: its files by microphone, and the notes in their names."""

    reading: NameReading
    files: dict[str, Measured] = field(default_factory=dict)
    notes: dict[str, int | None] = field(default_factory=dict)


def assemble_piece(
    named: NamedPiece,
    readings: list[NameReading],
    by_path: dict[str, Measured],
    mics: dict[str, Mic],
    own: tuple[str, ...],
    left_out: list[Unread],
) -> Piece:
    identifier = slug(named.title)
    articulations = []
    for name, group in grouped(readings, lambda r: r.articulation).items():
        takes = _assemble(group, by_path, left_out)
        if takes:
            articulations.append(_articulation(f"{identifier}/{slug(str(name))}", str(name), takes, mics, own))
    articulations.sort(key=lambda a: _articulation_place(named.family, a.name))
    return Piece(
        id=identifier,
        name=named.title,
        family=named.family,
        articulations=tuple(articulations),
        own_mics=tuple(mics[key].id for key in own),
    )


def _articulation_place(family: Family, name: str) -> tuple[int, tuple[tuple[int, int, str], ...]]:
    """Where an articulation is listed in its piece: usual articulations first."""
    hats = ["tight", "closed", "half open", "open", "pedal"]
    usual = hats if family is Family.HATS else [DEFAULT_ARTICULATION[family]]
    return (usual.index(name) if name in usual else len(usual), natural_key(name))


def _assemble(group: list[NameReading], by_path: dict[str, Measured], left_out: list[Unread]) -> list[_Take]:
    takes: dict[tuple[object, ...], _Take] = {}
    for reading in sorted(group, key=lambda r: (r.by_hand, r.path)):
        key: tuple[object, ...] = (
            reading.strength,
            reading.repeat,
            reading.hand,
            *(n.value for n in reading.numbers),
        )
        mic = reading.mic.lower()
        if key in takes and mic in takes[key].files:
            key = (*key, *reading.unknown)
        if key in takes and mic in takes[key].files:
            other = takes[key].files[mic].path
            reading.why_not = f"it reads as the same take and microphone as {PurePosixPath(other).name}"
            left_out.append(misfit(reading, {reading.path: by_path[reading.path].content}))
            continue
        take = takes.setdefault(key, _Take(reading))
        take.files[mic], take.notes[mic] = by_path[reading.path], reading.note
    return list(takes.values())


def _articulation(
    identifier: str, name: str, takes: list[_Take], mics: dict[str, Mic], own: tuple[str, ...]
) -> Articulation:
    def place(take: _Take) -> tuple[float, int, str, str]:
        r = take.reading
        return (r.strength if r.strength is not None else 0.0, r.repeat or 0, r.hand or "", r.path)

    ordered = sorted(takes, key=place)
    strengths = sorted({t.reading.strength for t in ordered if t.reading.strength is not None})
    by_strength: dict[float | None, list[Take]] = defaultdict(list)
    made: list[Take] = []
    for number, take in enumerate(ordered, start=1):
        strength = take.reading.strength
        repeat = len(by_strength[strength]) + 1
        label = f"{strengths.index(strength) + 1}-{repeat}" if strength is not None else str(number)
        made.append(_take(f"t{number}", label, take, mics, own))
        by_strength[strength].append(made[-1])
    if strengths and None not in by_strength:
        groups = [by_strength[s] for s in strengths]
    else:
        groups = [[made[i] for i in sorted(found)] for found in natural_breaks([t.level_db for t in made])]
    notes = Counter(t.reading.note for t in ordered if t.reading.note is not None)
    return Articulation(
        id=identifier,
        name=name,
        takes=tuple(made),
        layers=layers_from_groups(groups),
        label_note=notes.most_common(1)[0][0] if notes else None,
    )


def _take(identifier: str, label: str, take: _Take, mics: dict[str, Mic], own: tuple[str, ...]) -> Take:
    """A take with its level (energy sum of its own close microphones, or else of all) and common start."""
    recordings = tuple(
        _recording(mic, take.files[key], take.notes[key]) for key, mic in mics.items() if key in take.files
    )
    level_db, start_ms = heard_as(recordings, [mics[key].id for key in own])
    return Take(
        id=identifier,
        label=label,
        level_db=level_db,
        start_ms=start_ms,
        hand=take.reading.hand,
        recordings=recordings,
    )


def _recording(mic: Mic, file: Measured, note: int | None) -> Recording:
    """A file as a microphone's recording. Two sides of a mono microphone play as their mean."""
    m = file.measurements
    halved_db = BOTH_SIDES_DB if file.width == 2 and mic.width is Width.MONO else 0.0
    return Recording(
        mic=mic.id,
        path=file.path,
        content=file.content,
        rate_hz=file.rate_hz,
        frames=file.frames,
        width=Width.STEREO if file.width == 2 else Width.MONO,
        level_db=round(max(FLOOR_DB, m.level_db - halved_db), 3),
        peak_dbfs=m.peak_dbfs,
        start_ms=m.start_ms,
        length_ms=m.length_ms,
        clipped_runs=m.clipped_runs,
        dc_offset=m.dc_offset,
        centroid_hz=m.centroid_hz,
        outline=m.outline,
        grain=m.grain,
        lossy=file.lossy,
        label_note=note,
    )
