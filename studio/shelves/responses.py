"""The impulse responses of saved reverbs; they are included in the reverb's file."""

import tempfile
from pathlib import Path

from drumcore.recordings.responses import read_response
from drumcore.refusals import Refusal
from drumcore.spaces.imported import Response
from drumcore.spaces.kept import KeptSpace
from studio.storage.files import locate, name_content, store_file


def response_of(kept: KeptSpace) -> bytes | None:
    """The file of a reverb's impulse response."""
    return locate(kept.space.content).read_bytes() if isinstance(kept.space, Response) else None


def keep_response(kept: KeptSpace, sound: bytes | None, name: str) -> None:
    """Stores a reverb's impulse response. Raises Refusal if it was not included, or is another one."""
    if not isinstance(kept.space, Response):
        return
    if sound is None:
        raise Refusal(f"{name} uses an impulse response that is not in it; save it again.")
    with tempfile.TemporaryDirectory(prefix="zesty-") as folder:
        place = Path(folder) / "response.wav"
        place.write_bytes(sound)
        if read_response(place, name).content != kept.space.content:
            raise Refusal(f"{name}, sound: it is not the impulse response that is used; save it again.")
        name_content(store_file(place, place.name), kept.space.content)
