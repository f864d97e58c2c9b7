"""Reverbs and echoes: their impulse responses, drawings, and imported files."""

import struct
import tempfile
from pathlib import Path

import soundfile
from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema
from ninja.files import UploadedFile
from pydantic import TypeAdapter, ValidationError

from drumcore.kit.rates import RATES, Rate
from drumcore.playing.sounds import FileSounds
from drumcore.recordings.responses import read_response
from drumcore.refusals import Refusal
from drumcore.spaces.decay_times import BandDecay, decay_by_band, outline_db
from drumcore.spaces.hall import Hall, Reflection, Room, decay_s, reflections, room_of
from drumcore.spaces.imported import Response
from drumcore.spaces.kinds import Space, SpaceOfAKind
from studio.http.caching import FOREVER
from studio.http.uploads import on_disk
from studio.storage.files import locate, name_content, store_file

router = Router()
_SPACE: TypeAdapter[Space] = TypeAdapter(SpaceOfAKind)
_SOUNDS = FileSounds(locate)
"""Remembers the last impulse responses: a chart asks for what was heard a moment ago."""
LONGEST_ASKED = 2000


@router.get("/spaces/impulse-responses/{rate_hz}", include_in_schema=False)
def impulse_response(request: HttpRequest, rate_hz: int, space: str) -> HttpResponse:
    """The impulse response of a reverb or echo at a sample rate: the number of sides, whether its input is the average
    of both sides, and its sides one after another as little-endian 32-bit floats.
    """
    if rate_hz not in RATES or len(space) > LONGEST_ASKED:
        raise Refusal("That is not a reverb or echo of the studio.")
    try:
        found = _SOUNDS.impulse_response(_SPACE.validate_json(space), rate_hz)
    except ValidationError:
        raise Refusal("That is not a reverb or echo of the studio.") from None
    body = struct.pack("<II", len(found.samples), int(found.middle)) + found.samples.astype("<f4").tobytes()
    # Named by everything that determines it, so it may be cached forever.
    return HttpResponse(body, content_type="application/octet-stream", headers={"Cache-Control": FOREVER})


class SpaceAsked(Schema):
    space: SpaceOfAKind
    rate_hz: Rate


class RoomPosition(Schema):
    """From a corner of the room, in metres."""

    along_m: float
    across_m: float


class RoomShown(Schema):
    """A hall seen from above, in metres: its length and width, the positions of source and listener, and its early
    reflections, each with its image relative to the listener.
    """

    length_m: float
    breadth_m: float
    source: RoomPosition
    listener: RoomPosition
    reflections: list[Reflection]


class SpaceShown(Schema):
    """`decay` was measured from the impulse response; `says_s` are a hall's settings in the same bands."""

    seconds: float
    outline_db: list[list[float]]
    decay: list[BandDecay]
    says_s: list[float]
    room: RoomShown | None


@router.post("/spaces/shown", response=SpaceShown)
def shown(request: HttpRequest, asked: SpaceAsked) -> SpaceShown:
    """What is drawn of a reverb or echo."""
    space = asked.space
    samples = _SOUNDS.impulse_response(space, asked.rate_hz).samples
    decay = decay_by_band(samples, asked.rate_hz)
    return SpaceShown(
        seconds=samples.shape[1] / asked.rate_hz,
        outline_db=[list(side) for side in outline_db(samples)],
        decay=list(decay),
        says_s=[decay_s(space, band.hz) for band in decay] if isinstance(space, Hall) else [],
        room=_room_shown(space, room_of(space)) if isinstance(space, Hall) else None,
    )


def _room_shown(hall: Hall, room: Room) -> RoomShown:
    return RoomShown(
        length_m=float(room.size[0]),
        breadth_m=float(room.size[1]),
        source=RoomPosition(along_m=float(room.source[0]), across_m=float(room.source[1])),
        listener=RoomPosition(along_m=float(room.listener[0]), across_m=float(room.listener[1])),
        reflections=reflections(hall),
    )


class ResponseKept(Schema):
    """An imported impulse response as a reverb; `said` holds warnings."""

    space: Response
    said: str


@router.post("/spaces/responses", response=ResponseKept)
def bring_in_response(request: HttpRequest, file: File[UploadedFile]) -> ResponseKept:
    """Stores an impulse response. What the response confirms survives a crash."""
    name = Path(file.name or "The file").name[:200]
    with on_disk(file) as place, tempfile.TemporaryDirectory(prefix="zesty-") as folder:
        brought = read_response(place, name)
        whole = Path(folder) / "response.wav"
        soundfile.write(whole, brought.samples, brought.rate_hz, subtype="FLOAT", format="WAV")
        stored = store_file(whole, whole.name)
    name_content(stored, brought.content)
    frames, sides = brought.samples.shape
    response = Response(content=brought.content, name=Path(name).stem, sides=sides, seconds=frames / brought.rate_hz)
    return ResponseKept(space=response, said=brought.said)
