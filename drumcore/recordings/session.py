"""A recording session read: names turned into pieces, articulations, layers and takes across microphones."""

from collections import Counter, defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from pathlib import Path, PurePosixPath
from statistics import mean

from drumcore.kit.values import (
    Articulation,
    Family,
    Mic,
    MicKind,
    Piece,
    Recording,
    Take,
    Value,
    Width,
    slug,
)
from drumcore.layers.breaks import natural_breaks
from drumcore.layers.making import layers_from_groups
from drumcore.recordings.gathering import Measured, Progress, Unread, files_under, measure_files
from drumcore.recordings.names import NamedPiece, NameReading, read_paths
from drumcore.recordings.numbers import decide_numbers, rank_correlation, shape_of
from drumcore.recordings.own_mics import Locate, compare_mics, heard_as, own_mics
from drumcore.recordings.trade_words import DEFAULT_ARTICULATION, LETTER_STRENGTHS

FAMILY_ORDER = list(Family)


class SessionReading(Value):
    """What a session holds: its microphones, its pieces with layers made, what was not read, and the reasons."""

    mics: tuple[Mic, ...]
    pieces: tuple[Piece, ...]
    unread: tuple[Unread, ...]
    reasons: tuple[str, ...]
    files: int

    @property
    def takes(self) -> int:
        return sum(len(a.takes) for p in self.pieces for a in p.articulations)


@dataclass
class _Take:
    """A take being assembled: its files, and the notes they name, by microphone."""

    reading: NameReading
    files: dict[str, Measured] = field(default_factory=dict)
    notes: dict[str, int | None] = field(default_factory=dict)


def read_folder(root: Path, progress: Progress | None = None) -> SessionReading:
    """Read a folder of recordings. Raises Refusal where there is nothing in it to read."""
    names = files_under(root)
    measured, unread = measure_files(((root / name, name) for name in names), progress)
    return read_session(measured, unread, lambda recording: root / recording.path)


def read_session(measured: Sequence[Measured], unread: Sequence[Unread], locate: Locate) -> SessionReading:
    """Assemble measured files into pieces. `locate` finds a recording's file, to compare microphones by sound."""
    left_out = list(unread)
    by_path = {file.path: file for file in measured}
    readings = read_paths(sorted(by_path))
    levels = {path: file.measurements.level_db for path, file in by_path.items()}
    reasons = _settle_strengths(readings, levels)
    kept = []
    for reading in readings:
        if reading.why_not:
            left_out.append(Unread(path=reading.path, why=_sentence(reading)))
        else:
            kept.append(reading)
    kept = _leave_out_misfits(kept, left_out)
    mics = _microphones(kept, by_path)
    by_piece = _grouped(kept, lambda r: r.piece)
    groups = {named: group for named, group in by_piece.items() if isinstance(named, NamedPiece)}
    titles = {named.title for named in groups}
    pieces = []
    for named, group in groups.items():
        own = own_mics(named, titles, _mic_levels(group, by_path), mics)
        piece = _piece(named, group, by_path, mics, own, left_out)
        if piece.articulations:
            pieces.append(compare_mics(piece, locate))
    pieces.sort(key=lambda p: (FAMILY_ORDER.index(p.family), _tom_height(p.name), p.name))
    return SessionReading(
        mics=tuple(mics.values()),
        pieces=tuple(pieces),
        unread=tuple(sorted(left_out, key=lambda u: u.path)),
        reasons=tuple(reasons),
        files=len(measured) + len(unread),
    )


def _sentence(reading: NameReading) -> str:
    return f"{PurePosixPath(reading.path).name}: {reading.why_not}; rename it like its neighbours or place it by hand."


def _grouped(readings: Sequence[NameReading], key: Callable[[NameReading], object]) -> dict[object, list[NameReading]]:
    groups: dict[object, list[NameReading]] = defaultdict(list)
    for reading in readings:
        groups[key(reading)].append(reading)
    return groups


def _tom_height(name: str) -> int:
    heights = ["high", "rack", "mid", "low", "floor"]
    return next((i for i, word in enumerate(heights) if name.lower().startswith(word)), len(heights))


def _settle_strengths(readings: list[NameReading], levels: dict[str, float]) -> list[str]:
    """Give every reading its strength, repeat and articulation; the reasons, one a shape of name."""
    named = [r for r in readings if r.piece is not None]
    for reading in named:
        assert reading.piece is not None
        reading.articulation = reading.articulation or DEFAULT_ARTICULATION[reading.piece.family]
    for group in _grouped(named, lambda r: (r.piece, r.articulation)).values():
        letters = [[w for w in r.unknown if w in LETTER_STRENGTHS] for r in group]
        used = {w for words in letters for w in words}
        if all(len(words) == 1 for words in letters) and {"s", "h"} <= used:
            for reading, words in zip(group, letters, strict=True):
                reading.strength = LETTER_STRENGTHS[words[0]]
    decisions = decide_numbers(named, levels)
    for reading in named:
        decision = decisions.get(shape_of(reading))
        if decision is None:
            continue
        if decision.strength is not None and reading.strength is None:
            value = reading.numbers[decision.strength].value
            reading.strength = float(value if decision.rising else -value)
        if decision.repeat is not None:
            reading.repeat = reading.numbers[decision.repeat].value
    for group in _grouped(named, lambda r: (r.piece, r.articulation)).values():
        _doubt_lone_strengths(group, levels)
    counted = Counter(decisions[shape_of(r)].why for r in named if shape_of(r) in decisions)
    return [f"In {count:,} files {why}." for why, count in counted.most_common()]


def _doubt_lone_strengths(group: list[NameReading], levels: dict[str, float]) -> None:
    """A lone number that is the strength elsewhere but does not follow level in this stroke counts repeats here."""
    for members in _grouped(group, lambda r: r.mic.lower()).values():
        if len(members) < 4 or any(r.strength is None or r.repeat is not None for r in members):
            return
        if any(not r.numbers for r in members) or len({r.strength for r in members}) < len(members):
            return
        rho = rank_correlation([r.strength or 0.0 for r in members], [levels[r.path] for r in members])
        if rho >= 0.3:
            return
    for reading in group:
        reading.repeat, reading.strength = int(abs(reading.strength or 0.0)), None


def _leave_out_misfits(readings: list[NameReading], left_out: list[Unread]) -> list[NameReading]:
    kept: list[NameReading] = []
    for group in _grouped(readings, lambda r: (r.piece, r.articulation)).values():
        without = [r for r in group if r.strength is None]
        few = without and len(without) * 4 <= len(group)
        for reading in group:
            if few and reading.strength is None:
                reading.why_not = "it has no strength where its neighbours have one"
                left_out.append(Unread(path=reading.path, why=_sentence(reading)))
            else:
                kept.append(reading)
    unknown = Counter(r.piece for r in kept if r.piece and r.piece.family is Family.OTHER)
    for reading in [r for r in kept if r.piece is not None and unknown.get(r.piece, 9) < 2]:
        reading.why_not = "no word in its name is known, and no other file shares them"
        left_out.append(Unread(path=reading.path, why=_sentence(reading)))
        kept.remove(reading)
    return kept


def _microphones(readings: list[NameReading], by_path: dict[str, Measured]) -> dict[str, Mic]:
    """Every microphone by its lower-case name; its width is that of most of its recordings."""
    nameless = "Microphone" if not any(r.mic for r in readings) else "Close"
    for reading in readings:
        reading.mic = reading.mic or nameless
        reading.mic_kind = reading.mic_kind or MicKind.CLOSE
    _part_by_width(readings, by_path)
    found: dict[str, Mic] = {}
    for key, group in _grouped(readings, lambda r: r.mic.lower()).items():
        widths = Counter(by_path[r.path].width for r in group)
        kinds = Counter(r.mic_kind for r in group)
        name = Counter(r.mic for r in group).most_common(1)[0][0]
        found[str(key)] = Mic(
            id=slug(name),
            name=name,
            kind=kinds.most_common(1)[0][0] or MicKind.CLOSE,
            width=Width.STEREO if widths[2] > widths[1] else Width.MONO,
        )
    order = list(MicKind)
    return dict(sorted(found.items(), key=lambda item: (order.index(item[1].kind), item[1].name)))


def _part_by_width(readings: list[NameReading], by_path: dict[str, Measured]) -> None:
    """A name that stands for mono recordings of one piece and stereo ones of another is two microphones."""
    for group in _grouped(readings, lambda r: r.mic.lower()).values():
        by_piece = _grouped(group, lambda r: r.piece)
        stereo = {
            piece
            for piece, files in by_piece.items()
            if sum(by_path[r.path].width == 2 for r in files) * 2 > len(files)
        }
        if 0 < len(stereo) < len(by_piece):
            for reading in group:
                if reading.piece in stereo:
                    reading.mic = f"{reading.mic} stereo"


def _mic_levels(group: list[NameReading], by_path: dict[str, Measured]) -> dict[str, float]:
    """Mean level in dB of a piece's recordings by microphone."""
    return {
        str(key): mean(by_path[r.path].measurements.level_db for r in members)
        for key, members in _grouped(group, lambda r: r.mic.lower()).items()
    }


def _piece(
    named: NamedPiece,
    readings: list[NameReading],
    by_path: dict[str, Measured],
    mics: dict[str, Mic],
    own: tuple[str, ...],
    left_out: list[Unread],
) -> Piece:
    identifier = slug(named.title)
    articulations = []
    for name, group in _grouped(readings, lambda r: r.articulation).items():
        takes = _assemble(group, by_path, left_out)
        if takes:
            articulations.append(_articulation(f"{identifier}/{slug(str(name))}", str(name), takes, mics, own))
    articulations.sort(key=lambda a: _stroke_place(named.family, a.name))
    return Piece(
        id=identifier,
        name=named.title,
        family=named.family,
        articulations=tuple(articulations),
        own_mics=tuple(mics[key].id for key in own),
    )


def _stroke_place(family: Family, name: str) -> tuple[int, str]:
    """Where an articulation stands among its piece's: the usual stroke first."""
    hats = ["tight", "closed", "half open", "open", "pedal"]
    usual = hats if family is Family.HATS else [DEFAULT_ARTICULATION[family]]
    return (usual.index(name) if name in usual else len(usual), name)


def _assemble(group: list[NameReading], by_path: dict[str, Measured], left_out: list[Unread]) -> list[_Take]:
    takes: dict[tuple[object, ...], _Take] = {}
    for reading in sorted(group, key=lambda r: r.path):
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
            left_out.append(Unread(path=reading.path, why=_sentence(reading)))
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
    """A take with its level (own close microphones, else all: an energy sum) and its common start."""
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
    m = file.measurements
    return Recording(
        mic=mic.id,
        path=file.path,
        content=file.content,
        rate_hz=file.rate_hz,
        frames=file.frames,
        width=Width.STEREO if file.width == 2 else Width.MONO,
        level_db=m.level_db,
        peak_dbfs=m.peak_dbfs,
        start_ms=m.start_ms,
        length_ms=m.length_ms,
        clipped_runs=m.clipped_runs,
        dc_offset=m.dc_offset,
        centroid_hz=m.centroid_hz,
        shape=m.shape,
        grain=m.grain,
        label_note=note,
    )
