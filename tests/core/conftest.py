"""A small kit of written sounds, built the way a user's is."""

from pathlib import Path

import pytest

from drumcore.edits.applying import apply
from drumcore.edits.values import BuildPieces
from drumcore.kit.values import Kit
from drumcore.recordings.session import read_folder


@pytest.fixture(scope="session")
def small_kit(small_session: Path) -> Kit:
    reading = read_folder(small_session)
    return apply(Kit(id="small", name="Small"), BuildPieces(mics=reading.mics, pieces=reading.pieces))
