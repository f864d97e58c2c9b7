"""Prepared sounds and waveforms."""

from django.http import FileResponse, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from ninja import Router, Schema

from drumcore.kit.rates import RATES
from drumcore.kit.values import Side, Width
from drumcore.recordings.peaks import recording_peaks
from drumcore.refusals import DamagedRecording, Refusal
from studio.http.caching import FOREVER
from studio.storage.files import locate
from studio.storage.prepared import prepared_sound

router = Router()


@router.get("/sounds/{content}/{rate_hz}/{width}", include_in_schema=False)
def sound(
    request: HttpRequest,
    content: str,
    rate_hz: int,
    width: Width,
    cents: float = 0.0,
    centred: bool = False,
    flipped: Side | None = None,
) -> HttpResponseBase:
    """A prepared sound as FLAC or WAV. Named by content, so it may be cached forever."""
    if not content.isalnum() or rate_hz not in RATES or not -2500 <= cents <= 2500:
        raise Refusal("That is not a sound of the studio.")
    path = prepared_sound(content, rate_hz, width, cents, centred=centred, flipped=flipped)
    return FileResponse(
        path.open("rb"),
        content_type="audio/flac" if path.suffix == ".flac" else "audio/wav",
        headers={"Cache-Control": FOREVER},
    )


class Peaks(Schema):
    """The lowest and highest sample of equal parts of a recording, −1 to 1."""

    low: list[float]
    high: list[float]


@router.get("/peaks/{content}", response=Peaks)
def peaks(
    request: HttpRequest, response: HttpResponse, content: str, points: int = 400, first: int = 0, frames: int = 0
) -> Peaks:
    """The waveform of a recording, or of `frames` from its frame `first` on. Named by content, so it may be cached
    forever.
    """
    place = locate(content)
    try:
        low, high = recording_peaks(place, max(1, min(points, 4000)), max(0, first), max(0, frames))
    except Refusal:
        raise DamagedRecording(content) from None
    response["Cache-Control"] = FOREVER
    return Peaks(low=low, high=high)
