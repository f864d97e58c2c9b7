"""What is wrong with recordings, noticed from their measurements."""

import itertools
from collections import Counter, defaultdict
from collections.abc import Iterator
from pathlib import PurePosixPath
from statistics import median

from drumcore.edits.of_notes import PutOnNote
from drumcore.edits.of_takes import (
    BorrowRecording,
    CentreRecording,
    FlipPolarity,
    ForgetLabel,
    MoveRecording,
    TrimTakes,
)
from drumcore.findings.finding import Finding, FindingLevel, Mend, Where, stroke_where
from drumcore.kit.lookup import articulations, full_name, pieces_of
from drumcore.kit.values import Articulation, Kit, MicKind, Piece, Recording, Take
from drumcore.notes.names import note_name
from drumcore.recordings.in_time import out_of_time
from drumcore.recordings.measuring import grain_distance

STEP = "recordings"
LATE_MS = 15.0
DC_LIMIT = 0.01
SILENT_DBFS = -70.0
ALIKE = 0.12
"""Share of a fingerprint's signs in which copies of one recording may differ; two strikes differ in about half."""
WRONG, LOOK, INFO = FindingLevel.WRONG, FindingLevel.WORTH_A_LOOK, FindingLevel.INFORMATION


def _recordings(kit: Kit) -> Iterator[tuple[Piece, Articulation, Take, Recording]]:
    for piece, stroke in articulations(kit):
        for take in stroke.takes:
            if take.enabled:
                for recording in take.recordings:
                    yield piece, stroke, take, recording


def _name(recording: Recording) -> str:
    return PurePosixPath(recording.path).name


def _leave_out(stroke: Articulation, take: Take) -> Mend:
    return Mend(label="Leave this take out", edit=TrimTakes(articulation=stroke.id, takes=(take.id,), enabled=False))


def clipped(kit: Kit) -> Iterator[Finding]:
    mics = {mic.id: mic.name for mic in kit.mics}
    for piece, stroke, take, recording in _recordings(kit):
        if recording.clipped_runs:
            yield Finding(
                rule="clipped",
                level=WRONG,
                title=f"{full_name(piece, stroke)} {take.label} is clipped",
                sentence=f"{recording.path} has {recording.clipped_runs} flat runs at full scale in {mics[recording.mic]}; "
                "it will crackle when it plays.",
                place=recording.path,
                where=stroke_where(STEP, piece, stroke, take=take),
                mends=(_leave_out(stroke, take),),
            )


def silent(kit: Kit) -> Iterator[Finding]:
    for piece, stroke, take, recording in _recordings(kit):
        if recording.peak_dbfs < SILENT_DBFS:
            yield Finding(
                rule="silent",
                level=WRONG,
                title=f"{_name(recording)} is silent",
                sentence=f"{recording.path} never rises above {SILENT_DBFS:.0f} dBFS; its microphone was probably off.",
                place=recording.path,
                where=stroke_where(STEP, piece, stroke, take=take),
                mends=(_leave_out(stroke, take),),
            )


def late_start(kit: Kit) -> Iterator[Finding]:
    for piece, stroke in articulations(kit):
        usual = median([t.start_ms for t in stroke.takes]) if stroke.takes else 0.0
        for take in stroke.takes:
            if take.enabled and take.start_ms - usual > LATE_MS:
                yield Finding(
                    rule="late_start",
                    level=LOOK,
                    title=f"{full_name(piece, stroke)} {take.label} starts {take.start_ms - usual:.0f} ms late",
                    sentence=f"{take.recordings[0].path} starts at {take.start_ms:.1f} ms where its neighbours start at "
                    f"{usual:.1f} ms. It is cut at its start when it plays, so it comes in time; the file is untouched.",
                    place=take.recordings[0].path,
                    where=stroke_where(STEP, piece, stroke, take=take),
                )


def microphone_out_of_time(kit: Kit) -> Iterator[Finding]:
    """One recording of a take shifted against the others."""
    names = {mic.id: mic.name for mic in kit.mics}
    for piece in pieces_of(kit):
        strayed = out_of_time(piece)
        for stroke in piece.articulations if strayed else ():
            for take in stroke.takes:
                for recording in take.recordings:
                    late = strayed.get((stroke.id, take.id, recording.mic))
                    if late is None or recording.cut_ms is not None or not take.enabled:
                        continue
                    when, against = ("late", "later") if late > 0 else ("early", "sooner")
                    move = MoveRecording(articulation=stroke.id, take=take.id, mic=recording.mic, by_ms=late)
                    yield Finding(
                        rule="microphone_out_of_time",
                        level=WRONG,
                        title=f"{names[recording.mic]} is {abs(late):.0f} ms {when} in {full_name(piece, stroke)} {take.label}",
                        sentence=f"In {recording.path} the strike comes {abs(late):.1f} ms {against} against the other "
                        "microphones than in the other takes; together they sound as a flam.",
                        place=recording.path,
                        where=stroke_where(STEP, piece, stroke, take=take),
                        mends=(Mend(label="Move it into time", edit=move), _leave_out(stroke, take)),
                    )


def dc_offset(kit: Kit) -> Iterator[Finding]:
    for piece, stroke, take, recording in _recordings(kit):
        if recording.dc_offset > DC_LIMIT and not recording.centred:
            yield Finding(
                rule="dc_offset",
                level=LOOK,
                title=f"{_name(recording)} leans to one side",
                sentence=f"{recording.path} has a DC offset of {recording.dc_offset:.3f}; it may click as it starts.",
                place=recording.path,
                where=stroke_where(STEP, piece, stroke, take=take),
                mends=(
                    Mend(label="Take it away", edit=CentreRecording(articulation=stroke.id, take=take.id)),
                    _leave_out(stroke, take),
                ),
            )


def wrong_width(kit: Kit) -> Iterator[Finding]:
    mics = {mic.id: mic for mic in kit.mics}
    for piece, stroke, take, recording in _recordings(kit):
        mic = mics[recording.mic]
        if recording.width != mic.width:
            treated = "the mean of its sides plays" if recording.width == "stereo" else "it plays from the middle"
            yield Finding(
                rule="wrong_width",
                level=LOOK,
                title=f"{_name(recording)} is {recording.width}, {mic.name} is {mic.width}",
                sentence=f"{recording.path} is {recording.width} under the {mic.width} microphone {mic.name}; {treated}.",
                place=recording.path,
                where=stroke_where(STEP, piece, stroke, take=take),
            )


def other_rate(kit: Kit) -> Iterator[Finding]:
    usual = Counter(r.rate_hz for *_, r in _recordings(kit)).most_common(1)
    for piece, stroke, take, recording in _recordings(kit):
        if recording.rate_hz != usual[0][0]:
            yield Finding(
                rule="other_rate",
                level=INFO,
                title=f"{_name(recording)} is at {recording.rate_hz / 1000:g} kHz",
                sentence=f"{recording.path} is at {recording.rate_hz / 1000:g} kHz, the others at "
                f"{usual[0][0] / 1000:g} kHz; it is resampled once, so it plays at its own pitch.",
                place=recording.path,
                where=stroke_where(STEP, piece, stroke, take=take),
            )


def same_content(kit: Kit) -> Iterator[Finding]:
    by_content: dict[str, dict[str, tuple[Piece, Articulation, Take, Recording]]] = defaultdict(dict)
    for found in _recordings(kit):
        by_content[found[3].content].setdefault(found[3].path, found)
    for group in by_content.values():
        (*_, first), *others = group.values()
        for piece, stroke, take, recording in others:
            yield Finding(
                rule="same_content",
                level=LOOK,
                title="Two names, one sound",
                sentence=f"{recording.path} and {first.path} are the same recording; repeated, it sounds like a machine.",
                place=recording.path,
                where=stroke_where(STEP, piece, stroke, take=take),
                mends=(_leave_out(stroke, take),),
            )


def lossy(kit: Kit) -> Iterator[Finding]:
    for piece, stroke, take, recording in _recordings(kit):
        if recording.lossy:
            yield Finding(
                rule="lossy",
                level=INFO,
                title=f"{_name(recording)} is {recording.lossy}",
                sentence=f"{recording.path} comes from {recording.lossy}, which throws sound away and may blur its attack; "
                "use the original recording if there is one.",
                place=recording.path,
                where=stroke_where(STEP, piece, stroke, take=take),
                mends=(_leave_out(stroke, take),),
            )


def all_but_identical(kit: Kit) -> Iterator[Finding]:
    """Two takes of a layer that are copies at another level or bit depth, though not the same bytes."""
    for piece, stroke in articulations(kit):
        by_id = {t.id: t for t in stroke.takes}
        for number, layer in enumerate(stroke.layers):
            takes = [by_id[i] for i in layer.takes if i in by_id and by_id[i].enabled]
            for one, other in itertools.combinations(takes, 2):
                a, b = _own(piece, one), _own(piece, other)
                if a.content != b.content and grain_distance(a.grain, b.grain) < ALIKE:
                    yield Finding(
                        rule="all_but_identical",
                        level=LOOK,
                        title=f"Takes {one.label} and {other.label} are all but identical",
                        sentence=f"{b.path} is a copy of {a.path} at another level or bit depth; one after the other, they "
                        "sound like a machine.",
                        place=b.path,
                        where=stroke_where(STEP, piece, stroke, number, other),
                        mends=(_leave_out(stroke, other),),
                    )


def _own(piece: Piece, take: Take) -> Recording:
    return next((r for r in take.recordings if r.mic in piece.own_mics), take.recordings[0])


def missing_microphone(kit: Kit) -> Iterator[Finding]:
    mics = {mic.id: mic.name for mic in kit.mics}
    for piece, stroke in articulations(kit):
        heard = Counter(r.mic for t in stroke.takes for r in t.recordings)
        usual = {mic for mic, count in heard.items() if count * 2 > len(stroke.takes)}
        for take in stroke.takes:
            for mic in sorted(usual - {r.mic for r in take.recordings}):
                if take.enabled:
                    yield Finding(
                        rule="missing_microphone",
                        level=LOOK,
                        title=f"{full_name(piece, stroke)} {take.label} has no {mics[mic]}",
                        sentence=f"{take.recordings[0].path} has no recording from {mics[mic]}, which heard the other takes; "
                        "this strike will sound drier than its neighbours.",
                        place=take.recordings[0].path,
                        where=stroke_where(STEP, piece, stroke, take=take),
                        mends=(*_borrowed(stroke, take, mic, mics[mic]), _leave_out(stroke, take)),
                    )


def _borrowed(stroke: Articulation, take: Take, mic: str, name: str) -> tuple[Mend, ...]:
    """Lending it the recording of the take nearest in level that has one."""
    lenders = [t for t in stroke.takes if any(r.mic == mic for r in t.recordings)]
    if not lenders:
        return ()
    nearest = min(lenders, key=lambda t: abs(t.level_db - take.level_db))
    edit = BorrowRecording(articulation=stroke.id, take=take.id, mic=mic, from_take=nearest.id)
    return (Mend(label=f"Borrow {name} from {nearest.label}", edit=edit),)


def polarity(kit: Kit) -> Iterator[Finding]:
    votes: dict[tuple[str, str], list[int]] = defaultdict(list)
    for piece, _, _, recording in _recordings(kit):
        if recording.polarity:
            votes[piece.id, recording.mic].append(recording.polarity)
    for piece in pieces_of(kit):
        if not piece.own_mics:
            continue  # a comparison is with the piece's own first microphone
        for mic in kit.mics:
            found = votes.get((piece.id, mic.id), [])
            opposed = sum(1 for sign in found if sign < 0)
            if mic.inverted or not found or opposed * 3 < len(found) * 2:
                continue
            first = next(m.name for m in kit.mics if m.id == piece.own_mics[0])
            yield Finding(
                rule="polarity",
                level=WRONG,
                title=f"{mic.name} works against {first}",
                sentence=f"{mic.name} pulls where {first} pushes, in {opposed} of {len(found)} strikes compared; together "
                "they lose their low end. Turn it over so that they add.",
                place=f"{piece.name} · {mic.name}",
                where=Where(step=STEP, piece=piece.id, mic=mic.id),
                mends=(Mend(label="Turn it over", edit=FlipPolarity(mic=mic.id)),),
            )


def label_names_other_note(kit: Kit) -> Iterator[Finding]:
    played: dict[str, set[int]] = defaultdict(set)
    for placed in kit.notes.placed:
        played[placed.articulation].add(placed.note)
    taken = {placed.note for placed in kit.notes.placed}
    for piece, stroke, take, recording in _recordings(kit):
        expected = played.get(stroke.id) or ({stroke.label_note} if stroke.label_note is not None else set())
        if recording.label_note is None or not expected or recording.label_note in expected:
            continue
        middle = kit.notes.middle_c
        names = " and ".join(note_name(note, middle) for note in sorted(expected))
        label = note_name(recording.label_note, middle)
        mends = [Mend(label="Forget the label", edit=ForgetLabel(articulation=stroke.id, take=take.id))]
        if recording.label_note == stroke.label_note and recording.label_note not in taken:
            also = PutOnNote(articulation=stroke.id, note=recording.label_note)
            mends.insert(0, Mend(label=f"Play {full_name(piece, stroke)} from {label} too", edit=also))
        yield Finding(
            rule="label_names_other_note",
            level=LOOK,
            title=f"{_name(recording)} names another note",
            sentence=f"{recording.path} is labelled {label} and plays from {names}; "
            "it is played by its piece, not by its label.",
            place=recording.path,
            where=stroke_where(STEP, piece, stroke, take=take),
            mends=(*mends, _leave_out(stroke, take)),
        )


def odd_length(kit: Kit) -> Iterator[Finding]:
    for piece, stroke in articulations(kit):
        by_id = {t.id: t for t in stroke.takes}
        for number, layer in enumerate(stroke.layers):
            own = [(by_id[i], _own_length(piece, by_id[i])) for i in layer.takes if i in by_id and by_id[i].enabled]
            usual = median([length for _, length in own]) if len(own) > 2 else 0.0
            for take, length in own:
                if usual and length < 0.4 * usual:
                    yield Finding(
                        rule="odd_length",
                        level=LOOK,
                        title=f"{full_name(piece, stroke)} {take.label} ends early",
                        sentence=f"{take.recordings[0].path} sounds for {length:.0f} ms, its layer for {usual:.0f} ms; "
                        "its tail may be cut.",
                        place=take.recordings[0].path,
                        where=stroke_where(STEP, piece, stroke, number, take),
                        mends=(_leave_out(stroke, take),),
                    )


def _own_length(piece: Piece, take: Take) -> float:
    return max(
        (r.length_ms - r.start_ms for r in take.recordings if r.mic in piece.own_mics or not piece.own_mics),
        default=0.0,
    )


def unused_microphone(kit: Kit) -> Iterator[Finding]:
    fed = {feed.mic for feed in kit.routing.feeds}
    for mic in kit.mics:
        if mic.id not in fed and kit.routing.channels and mic.kind is not MicKind.OTHER:
            yield Finding(
                rule="unused_microphone",
                level=INFO,
                title=f"{mic.name} goes nowhere",
                sentence=f"No channel is fed by {mic.name}; nothing of it is heard.",
                place=mic.name,
                where=Where(step="routing", mic=mic.id),
            )


RULES = (
    polarity,
    microphone_out_of_time,
    clipped,
    silent,
    late_start,
    missing_microphone,
    same_content,
    all_but_identical,
    label_names_other_note,
    wrong_width,
    other_rate,
    lossy,
    dc_offset,
    odd_length,
)
