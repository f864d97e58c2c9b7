"""Several sounds in one response: a kit has hundreds of small ones, and a request for each costs more than its bytes."""

import time
from dataclasses import dataclass

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from drumcore.kit.rates import RATES
from drumcore.kit.values import Side, Width
from drumcore.refusals import Refusal
from studio.http.caching import FOREVER
from studio.storage.prepared import prepared_sound

router = Router()
MOST = 32
MOST_BYTES = 2 << 20
MOST_S = 0.25
"""What does not fit into so many bytes and so much time is asked for again: nobody waits for the last."""


@dataclass(frozen=True)
class SoundRequest:
    content: str
    width: Width
    cents: float
    centred: bool
    flipped: Side | None


def _wanted(said: str) -> SoundRequest:
    """The parts of one `of`, separated by commas: hash, width, cents, 1 if centred, and the flipped side."""
    content, width, cents, centred, flipped = said.split(",")
    found = SoundRequest(content, Width(width), float(cents or 0.0), centred == "1", Side(flipped) if flipped else None)
    if not content.isalnum() or not -2500 <= found.cents <= 2500:
        raise ValueError(said)
    return found


@router.get("/sounds/together/{rate_hz}", include_in_schema=False)
def together(request: HttpRequest, rate_hz: int, of: list[str] = Query(...)) -> HttpResponse:  # type: ignore[type-arg]
    """The first of the requested sounds, in order, as many as fit: for each the length of its file (four bytes,
    big-endian) and the file. Length 0 stands for a sound that is not available.
    """
    try:
        wanted = [_wanted(said) for said in of[:MOST]]
    except ValueError:
        wanted = []
    if not wanted or rate_hz not in RATES:
        raise Refusal("Those are not sounds of the studio.")
    body, missing, until = bytearray(), False, time.monotonic() + MOST_S
    for number, one in enumerate(wanted):
        if number and (len(body) > MOST_BYTES or time.monotonic() > until):
            break
        try:
            path = prepared_sound(one.content, rate_hz, one.width, one.cents, centred=one.centred, flipped=one.flipped)
            file = path.read_bytes()
        except (Refusal, FileNotFoundError):
            file, missing = b"", True
        body += len(file).to_bytes(4, "big") + file
    # Named by content, so it may be cached forever, unless a sound was not available.
    headers = {"Cache-Control": "no-store" if missing else FOREVER}
    return HttpResponse(bytes(body), content_type="application/octet-stream", headers=headers)
