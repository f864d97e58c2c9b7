"""How a session was read: its recordings, what its columns mean, and the user's corrections."""

import json
from collections import Counter

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema, Status

from drumcore.findings.finding import Finding
from drumcore.findings.rules import notice_session
from drumcore.kit.memoization import remembered
from drumcore.kit.values import Family, Mic
from drumcore.natural_order import natural_key
from drumcore.recordings.columns import NameGroup
from drumcore.recordings.correction_preview import GroupChange
from drumcore.recordings.files import Unread
from drumcore.recordings.guidance import Guidance, SavedReading, saved_reading
from drumcore.recordings.lexicon import LearnedWord
from drumcore.recordings.own_mics import own_recording
from drumcore.recordings.session import SessionReading
from drumcore.recordings.unknown_words import Question
from studio.http.shelves import Renamed
from studio.jobs.status import JobShown, shown
from studio.kits.session_pieces import newest_kit_of
from studio.sessions.models import Session, WordRecord
from studio.sessions.reading import (
    correct,
    learned_words,
    many_channel_files,
    name_channels,
    preview,
    read_already,
    session_of,
    undo_correction,
)
from studio.sessions.work import begin_reading
from studio.shelves.kinds import READINGS
from studio.shelves.models import Kept
from studio.shelves.shelf import keep, ours

router = Router()


class ArticulationGrid(Schema):
    """An articulation as read: for each velocity layer, softest first, the number of takes."""

    piece: str
    piece_id: str
    family: Family
    articulation: str
    articulation_id: str
    sizes: list[int]


class FolderShown(Schema):
    name: str
    files: int


class SavedShown(Schema):
    id: str
    name: str


class ReadingShown(Schema):
    """`offered` are saved readings that fit these names; `channels` the microphone names given to multi-channel files,
    of which the session has `many_channels`; `can_undo`: a correction can be taken back.
    """

    id: int
    name: str
    files: int
    takes: int
    pieces: int
    mics: list[Mic]
    folders: list[FolderShown]
    articulations: list[ArticulationGrid]
    groups: list[NameGroup]
    questions: list[Question]
    sure: float
    unread: list[Unread]
    apart: list[str]
    changed: list[str]
    reasons: list[str]
    findings: list[Finding]
    guidance: Guidance
    words: list[LearnedWord]
    offered: list[SavedShown]
    adds_to: str
    channels: list[str]
    many_channels: int
    can_undo: bool


class ChannelNames(Schema):
    names: list[str]


@remembered(limit=3)
def _findings(reading: SessionReading) -> list[Finding]:
    return notice_session(reading)


@router.get("/sessions/{session_id}", response=ReadingShown)
def session_reading(request: HttpRequest, session_id: int) -> HttpResponse:
    session, reading = read_already(session_id)
    folders = Counter(
        path.split("/")[0] if "/" in path else "(loose files)" for path in session.files.values_list("path", flat=True)
    )
    many = many_channel_files(session)
    answer = ReadingShown(
        id=session.id,
        name=session.name,
        files=reading.files,
        takes=reading.takes,
        pieces=len(reading.pieces),
        mics=list(reading.mics),
        folders=[
            FolderShown(name=name, files=count)
            for name, count in sorted(folders.items(), key=lambda each: natural_key(each[0]))
        ],
        articulations=[
            ArticulationGrid(
                piece=piece.name,
                piece_id=piece.id,
                family=piece.family,
                articulation=articulation.name,
                articulation_id=articulation.id,
                sizes=[len(layer.takes) for layer in articulation.layers],
            )
            for piece in reading.pieces
            for articulation in piece.articulations
        ],
        groups=list(reading.groups),
        questions=list(reading.questions),
        sure=reading.sure,
        unread=list(reading.unread),
        apart=list(reading.apart),
        changed=list(reading.changed),
        reasons=list(reading.reasons),
        findings=_findings(reading),
        guidance=Guidance.model_validate(session.guidance),
        words=learned_words(),
        offered=_offered(reading, session),
        adds_to=session.adds_to,
        channels=session.channels,
        can_undo=bool(session.guidance_before),
        many_channels=max((f.stored.measured["channels"] for f in many if f.stored and f.stored.measured), default=0),
    )
    return HttpResponse(answer.model_dump_json(), content_type="application/json")


def _offered(reading: SessionReading, session: Session) -> list[SavedShown]:
    here = [group.key for group in reading.groups]
    mine = Guidance.model_validate(session.guidance).rulings
    newest = Kept.objects.filter(kind=READINGS.plural).order_by("-created")
    kept = [(saved, SavedReading.model_validate(saved.data)) for saved in newest]
    return [
        SavedShown(id=str(saved.id), name=saved.name)
        for saved, value in kept
        if value.fits(here) and value.rulings != mine
    ]


@remembered(limit=3)
def _rows(reading: SessionReading) -> bytes:
    """Every recording, stored by column: 40,000 rows become a few lists."""
    mics = {mic.id: number for number, mic in enumerate(reading.mics)}
    fields = ["path", "content", "outline", "level_db", "peak_dbfs", "start_ms", "length_ms", "centroid_hz", "rate_hz"]
    columns: dict[str, list[object]] = {
        name: [] for name in [*fields, "articulation", "mic", "take", "label", "step", "own"]
    }
    number = -1
    for piece in reading.pieces:
        for articulation in piece.articulations:
            number += 1
            steps = {take: place for place, layer in enumerate(articulation.layers) for take in layer.takes}
            for take in articulation.takes:
                own = own_recording(piece.own_mics, take.recordings).mic
                for recording in take.recordings:
                    for name in fields:
                        columns[name].append(getattr(recording, name))
                    columns["outline"][-1] = _half(recording.outline)
                    columns["articulation"].append(number)
                    columns["mic"].append(mics[recording.mic])
                    columns["take"].append(take.id)
                    columns["label"].append(take.label)
                    columns["step"].append(steps.get(take.id, 0))
                    columns["own"].append(recording.mic == own)
    return json.dumps(columns, separators=(",", ":")).encode()


def _half(outline: str) -> str:
    """A waveform overview at half the width: the higher of every two peaks."""
    return "".join(map(max, outline[::2], outline[1::2]))


class Rows(Schema):
    """Every recording of a session, column by column. `articulation` and `mic` are indices into the reading's lists;
    `own` marks the recording that represents its take.
    """

    path: list[str]
    content: list[str]
    outline: list[str]
    level_db: list[float]
    peak_dbfs: list[float]
    start_ms: list[float]
    length_ms: list[float]
    centroid_hz: list[float]
    rate_hz: list[int]
    articulation: list[int]
    mic: list[int]
    take: list[str]
    label: list[str]
    step: list[int]
    own: list[bool]


@router.get("/sessions/{session_id}/rows", response=Rows)
def session_rows(request: HttpRequest, session_id: int) -> HttpResponse:
    return HttpResponse(_rows(read_already(session_id)[1]), content_type="application/json")


def _read_again(session: Session) -> JobShown:
    return shown(begin_reading(session, newest_kit_of(session)))


@router.post("/sessions/{session_id}/read", response=JobShown)
def read_session(request: HttpRequest, session_id: int) -> JobShown:
    return _read_again(session_of(session_id))


@router.post("/sessions/{session_id}/guidance", response=JobShown)
def guide(request: HttpRequest, session_id: int, asked: Guidance) -> JobShown:
    """Saves corrections of a session's names and reads them again. Learned words apply to all sessions."""
    session = session_of(session_id)
    for entry in asked.words:
        WordRecord.objects.update_or_create(word=entry.word, defaults={"meaning": entry.meaning, "value": entry.value})
    correct(session, asked)
    return _read_again(session)


@router.post("/sessions/{session_id}/guidance/preview", response=list[GroupChange])
def preview_guidance(request: HttpRequest, session_id: int, asked: Guidance) -> list[GroupChange]:
    """What names would say otherwise with other corrections, group by group. Nothing is changed."""
    return list(preview(session_of(session_id), asked))


@router.post("/sessions/{session_id}/guidance/undo", response=JobShown)
def undo_guidance(request: HttpRequest, session_id: int) -> JobShown:
    """Takes back the latest correction of a session and reads its names again."""
    session = session_of(session_id)
    undo_correction(session)
    return _read_again(session)


@router.post("/sessions/{session_id}/channels", response=JobShown)
def channels(request: HttpRequest, session_id: int, asked: ChannelNames) -> JobShown:
    """Names the microphones of multi-channel files, in order; two neighbours of one name are a stereo pair."""
    session = session_of(session_id)
    name_channels(session, asked.names[:64])
    return _read_again(session)


@router.delete("/words/{word}", response={204: None})
def forget_word(request: HttpRequest, word: str) -> Status[None]:
    WordRecord.objects.filter(word=word).delete()
    return Status(204, None)


@router.post("/sessions/{session_id}/saved-readings", response=SavedShown)
def save_reading(request: HttpRequest, session_id: int, asked: Renamed) -> SavedShown:
    """Saves this session's column corrections under a name, for sessions with similar names."""
    session, reading = read_already(session_id)
    said = Guidance.model_validate(session.guidance)
    kept = keep(READINGS, asked.name, saved_reading(said.rulings, reading.groups[0].key))
    return SavedShown(id=str(kept.id), name=kept.name)


@router.post("/sessions/{session_id}/saved-readings/{saved_id}", response=JobShown)
def apply_saved_reading(request: HttpRequest, session_id: int, saved_id: str) -> JobShown:
    session = session_of(session_id)
    saved = SavedReading.model_validate(ours(READINGS, saved_id).data)
    correct(session, Guidance.model_validate(session.guidance).but(rulings=saved.rulings))
    return _read_again(session)
