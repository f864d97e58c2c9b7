"""Findings about recordings, from their measurements."""

from collections import Counter, defaultdict
from collections.abc import Iterator
from pathlib import PurePosixPath
from statistics import median

from drumcore.edits.notes import PutOnNote
from drumcore.edits.takes import (
    CentreRecording,
    ForgetLabel,
    TrimTakes,
)
from drumcore.findings.finding import Finding, FindingLevel, Fix, articulation_where
from drumcore.kit.lookup import all_articulations, full_name, pieces_of, take_of
from drumcore.kit.values import Articulation, Kit, Piece, Recording, Take
from drumcore.notes.names import note_name
from drumcore.recordings.copies import copies_in
from drumcore.recordings.lengths import lengths_apart

STEP = "recordings"
LATE_MS = 15.0
DC_LIMIT = 0.01
SILENT_DBFS = -70.0
FADED_MS = 50.0
WRONG, LOOK, INFO = FindingLevel.WRONG, FindingLevel.WORTH_A_LOOK, FindingLevel.INFORMATION


def recordings_of(kit: Kit) -> Iterator[tuple[Piece, Articulation, Take, Recording]]:
    for piece, articulation in all_articulations(kit):
        for take in articulation.takes:
            if take.enabled:
                for recording in take.recordings:
                    yield piece, articulation, take, recording


def file_name(recording: Recording) -> str:
    return PurePosixPath(recording.path).name


def leave_out(articulation: Articulation, take: Take) -> Fix:
    return Fix(label="Disable take", edit=TrimTakes(articulation=articulation.id, takes=(take.id,), enabled=False))


def damaged(kit: Kit, contents: frozenset[str]) -> Iterator[Finding]:
    """Recordings whose files are missing or unreadable; `contents` are their hashes, reported by whoever stores the
    files.
    """
    mics = {mic.id: mic.name for mic in kit.mics}
    for piece, articulation, take, recording in recordings_of(kit):
        if recording.content in contents:
            yield Finding(
                rule="damaged",
                level=WRONG,
                title=f"{file_name(recording)} cannot be read",
                sentence=f"{recording.path} is missing or damaged on the disk, so {full_name(piece, articulation)} "
                f"{take.label} has no sound in {mics[recording.mic]}. Add the file again to repair it.",
                place=recording.path,
                where=articulation_where(STEP, piece, articulation, take=take),
                fixes=(leave_out(articulation, take),),
            )


def clipped(kit: Kit) -> Iterator[Finding]:
    mics = {mic.id: mic.name for mic in kit.mics}
    for piece, articulation, take, recording in recordings_of(kit):
        if recording.clipped_runs:
            yield Finding(
                rule="clipped",
                level=WRONG,
                title=f"{full_name(piece, articulation)} {take.label} is clipped",
                sentence=f"{recording.path} has {recording.clipped_runs} flat "
                f"{'run' if recording.clipped_runs == 1 else 'runs'} at full scale in {mics[recording.mic]}; "
                "it crackles when it plays.",
                place=recording.path,
                where=articulation_where(STEP, piece, articulation, take=take),
                fixes=(leave_out(articulation, take),),
            )


def silent(kit: Kit) -> Iterator[Finding]:
    for piece, articulation, take, recording in recordings_of(kit):
        if recording.peak_dbfs < SILENT_DBFS:
            yield Finding(
                rule="silent",
                level=WRONG,
                title=f"{file_name(recording)} is silent",
                sentence=f"{recording.path} never rises above {SILENT_DBFS:.0f} dBFS; the microphone was probably off.",
                place=recording.path,
                where=articulation_where(STEP, piece, articulation, take=take),
                fixes=(leave_out(articulation, take),),
            )


def late_start(kit: Kit) -> Iterator[Finding]:
    for piece, articulation in all_articulations(kit):
        usual = median([t.start_ms for t in articulation.takes]) if articulation.takes else 0.0
        for take in articulation.takes:
            if take.enabled and take.start_ms - usual > LATE_MS:
                yield Finding(
                    rule="late_start",
                    level=LOOK,
                    title=f"{full_name(piece, articulation)} {take.label} starts {take.start_ms - usual:.0f} ms late",
                    sentence=f"{take.recordings[0].path} starts at {take.start_ms:.1f} ms where its neighbours start at "
                    f"{usual:.1f} ms. It is trimmed when it plays, so it is in time; the file is not changed.",
                    place=take.recordings[0].path,
                    where=articulation_where(STEP, piece, articulation, take=take),
                )


def dc_offset(kit: Kit) -> Iterator[Finding]:
    for piece, articulation, take, recording in recordings_of(kit):
        if recording.dc_offset > DC_LIMIT and not recording.centred:
            yield Finding(
                rule="dc_offset",
                level=LOOK,
                title=f"{file_name(recording)} has a DC offset",
                sentence=f"{recording.path} has a DC offset of {recording.dc_offset:.3f}; it may click as it starts.",
                place=recording.path,
                where=articulation_where(STEP, piece, articulation, take=take),
                fixes=(
                    Fix(label="Remove the offset", edit=CentreRecording(articulation=articulation.id, take=take.id)),
                    leave_out(articulation, take),
                ),
            )


def other_rate(kit: Kit) -> Iterator[Finding]:
    usual = Counter(r.rate_hz for *_, r in recordings_of(kit)).most_common(1)
    for piece, articulation, take, recording in recordings_of(kit):
        if recording.rate_hz != usual[0][0]:
            yield Finding(
                rule="other_rate",
                level=INFO,
                title=f"{file_name(recording)} is at {recording.rate_hz / 1000:g} kHz",
                sentence=f"{recording.path} is at {recording.rate_hz / 1000:g} kHz, the others at "
                f"{usual[0][0] / 1000:g} kHz; it is resampled so that it plays at the right pitch.",
                place=recording.path,
                where=articulation_where(STEP, piece, articulation, take=take),
            )


def same_content(kit: Kit) -> Iterator[Finding]:
    by_content: dict[str, dict[str, tuple[Piece, Articulation, Take, Recording]]] = defaultdict(dict)
    for found in recordings_of(kit):
        by_content[found[3].content].setdefault(found[3].path, found)
    for group in by_content.values():
        (*_, first), *others = group.values()
        for piece, articulation, take, recording in others:
            yield Finding(
                rule="same_content",
                level=LOOK,
                title="Two names, one sound",
                sentence=f"{recording.path} and {first.path} are the same recording; repeated, it sounds mechanical.",
                place=recording.path,
                where=articulation_where(STEP, piece, articulation, take=take),
                fixes=(leave_out(articulation, take),),
            )


def lossy(kit: Kit) -> Iterator[Finding]:
    for piece, articulation, take, recording in recordings_of(kit):
        if recording.lossy:
            yield Finding(
                rule="lossy",
                level=INFO,
                title=f"{file_name(recording)} is {recording.lossy}",
                sentence=f"{recording.path} comes from {recording.lossy}, a lossy format that can blur the attack; "
                "use the original recording if there is one.",
                place=recording.path,
                where=articulation_where(STEP, piece, articulation, take=take),
                fixes=(leave_out(articulation, take),),
            )


def label_names_other_note(kit: Kit) -> Iterator[Finding]:
    played: dict[str, set[int]] = defaultdict(set)
    for placed in kit.notes.placed:
        played[placed.articulation].add(placed.note)
    taken = {placed.note for placed in kit.notes.placed}
    for piece, articulation, take, recording in recordings_of(kit):
        expected = played.get(articulation.id) or (
            {articulation.label_note} if articulation.label_note is not None else set()
        )
        if recording.label_note is None or not expected or recording.label_note in expected:
            continue
        middle = kit.notes.middle_c
        names = " and ".join(note_name(note, middle) for note in sorted(expected))
        label = note_name(recording.label_note, middle)
        fixes = [Fix(label="Ignore the label", edit=ForgetLabel(articulation=articulation.id, take=take.id))]
        if recording.label_note == articulation.label_note and recording.label_note not in taken:
            also = PutOnNote(articulation=articulation.id, note=recording.label_note)
            fixes.insert(0, Fix(label=f"Play {full_name(piece, articulation)} from {label} as well", edit=also))
        yield Finding(
            rule="label_names_other_note",
            level=LOOK,
            title=f"{file_name(recording)} names another note",
            sentence=f"{recording.path} is labelled {label} and plays from {names}; the piece decides, not the label.",
            place=recording.path,
            where=articulation_where(STEP, piece, articulation, take=take),
            fixes=(*fixes, leave_out(articulation, take)),
        )


def all_but_identical(kit: Kit) -> Iterator[Finding]:
    """Two takes of a piece, anywhere in it, where one is a copy of the other with different bytes."""
    names = {mic.id: mic.name for mic in kit.mics}
    for piece in pieces_of(kit):
        articulations = {a.id: a for a in piece.articulations}
        for copy in copies_in(piece):
            articulation, other = articulations[copy.later[0]], articulations[copy.first[0]]
            take, first = take_of(articulation, copy.later[1]), take_of(other, copy.first[1])
            a, b = (next(r for r in t.recordings if r.mic == copy.mics[0]) for t in (first, take))
            treated = "with flipped polarity" if copy.turned else "at another level or bit depth"
            every = len(copy.mics) == len(take.recordings)
            where = "" if every else f" in {' and '.join(names[mic] for mic in copy.mics)}"
            label = first.label if other is articulation else f"{other.name} {first.label}"
            yield Finding(
                rule="all_but_identical",
                level=LOOK,
                title=f"Takes {label} and {take.label} are all but identical{where}",
                sentence=f"{b.path} is a copy of {a.path}, {treated}; one after the other they sound mechanical.",
                place=b.path,
                where=articulation_where(STEP, piece, articulation, take=take),
                fixes=(leave_out(articulation, take),),
            )


def odd_length(kit: Kit) -> Iterator[Finding]:
    """A recording that ends much earlier or later than those of the same microphone nearest to it in level."""
    names = {mic.id: mic.name for mic in kit.mics}
    for piece, articulation in all_articulations(kit):
        for take, odd in lengths_apart(articulation).items():
            first, *_ = odd
            recording = next(r for r in take.recordings if r.mic == first.mic)
            early = first.length_ms < first.usual_ms
            heard = " and ".join(names[each.mic] for each in odd)
            ends = max(each.usual_ms for each in odd)
            trim = TrimTakes(
                articulation=articulation.id, takes=(take.id,), end_ms=round(ends, 1), fade_out_ms=FADED_MS
            )
            yield Finding(
                rule="odd_length",
                level=LOOK,
                title=f"{full_name(piece, articulation)} {take.label} {'ends early' if early else 'goes on'} in {heard}",
                sentence=f"{recording.path} sounds for {first.length_ms:.0f} ms, those next to it in level for "
                f"{first.usual_ms:.0f} ms; "
                + ("its tail may be cut." if early else "something else may be on it after the strike."),
                place=recording.path,
                where=articulation_where(STEP, piece, articulation, take=take),
                fixes=(
                    *(() if early else (Fix(label="End it with the others", edit=trim),)),
                    leave_out(articulation, take),
                ),
            )


RULES = (
    clipped,
    silent,
    late_start,
    same_content,
    all_but_identical,
    label_names_other_note,
    other_rate,
    lossy,
    dc_offset,
    odd_length,
)
