"""Drive: rounds peaks, from added density to distortion.

y = tanh(g·x + b) − tanh(b), with g from the drive in dB and b the asymmetry. Level matching divides by the gain for
small signals, g·(1 − tanh²b). It is computed sample by sample without oversampling: there is no latency, and bright
cymbals alias. The browser's twin is web/src/player/treatments/drive.ts.
"""

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import AliasChoices, Field

from drumcore.arrays import Floats
from drumcore.treatments.stage import TreatmentKind
from drumcore.value import Value


class _Settings(Value):
    drive_db: Annotated[float, Field(ge=0.0, le=36.0, validation_alias=AliasChoices("drive_db", "push_db"))] = 6.0
    asymmetry: Annotated[float, Field(ge=0.0, le=1.0)] = 0.0
    level_matched: Annotated[bool, Field(validation_alias=AliasChoices("level_matched", "made_good"))] = True
    mix: Annotated[float, Field(ge=0.0, le=1.0)] = 1.0


class Drive(_Settings):
    """`level_matched` keeps the level of soft sounds, `mix` is the share of driven sound. `on` bypasses it and keeps
    the settings.
    """

    kind: Literal["drive"] = "drive"
    on: bool = True


class PlayDrive(_Settings):
    """A drive's settings as players need them."""

    kind: Literal["drive"] = "drive"


def _compile(drive: Drive, rate_hz: int) -> PlayDrive:
    return PlayDrive(**{name: getattr(drive, name) for name in _Settings.model_fields})


class _DriveStage:
    """A drive in a channel. It has no state, so it has no tail."""

    silent = True

    def __init__(self, compiled: PlayDrive, rate_hz: int, sides: int) -> None:
        self._push = 10.0 ** (compiled.drive_db / 20.0)
        self._asymmetry = compiled.asymmetry
        self._rest = math.tanh(compiled.asymmetry)
        self._good = 1.0 / (self._push * (1.0 - self._rest**2)) if compiled.level_matched else 1.0
        self._mix = compiled.mix

    def process(self, sound: Floats, into: Floats | None = None) -> Floats:
        dry = (1.0 - self._mix) * sound if self._mix < 1.0 else None
        driven = np.multiply(sound, self._push, out=into)
        driven += self._asymmetry
        np.tanh(driven, out=driven)
        driven -= self._rest
        driven *= self._good * self._mix
        if dry is not None:
            driven += dry
        return np.asarray(driven)


DRIVE = TreatmentKind(name="drive", value=Drive, compiled=PlayDrive, compile=_compile, stage=_DriveStage)
