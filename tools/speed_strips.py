"""Twelve treated channels into six outputs, against the bare kernels in the same run and against real time; and the
same with sends to two reverbs.
"""

import time
import tracemalloc
from collections.abc import Callable
from pathlib import Path

import numpy as np
from speed_said import Say

from drumcore.kit.values import Width
from drumcore.playing.mixer import Mixer
from drumcore.playing.play_table import PlayChannel, PlayHead, PlayOutput, PlaySend
from drumcore.playing.sounds import FileSounds
from drumcore.spaces.hall import Hall
from drumcore.treatments.compressor import Compressor
from drumcore.treatments.drive import Drive
from drumcore.treatments.eq import BandKind, Eq, EqBand
from drumcore.treatments.kinds import compiled, stages

RATE = 48_000
BLOCK = 16_384
CHANNELS, OUTPUTS = 12, 6
SECONDS = 10
BANDS = tuple(EqBand(kind=BandKind.PEAK, hz=hz, gain_db=4.0, q=1.2) for hz in (90, 350, 1800, 6000))
CHAIN = compiled((Eq(bands=BANDS), Compressor(threshold_db=-30.0), Drive(drive_db=8.0)), RATE)
STRAIGHT = ((1.0, 0.0), (0.0, 1.0))


SOUNDS = FileSounds(Path)


def _head(*lengths_s: float) -> PlayHead:
    """With a bus through a hall of each length, to which every channel sends."""
    sends = tuple(PlaySend(into=CHANNELS + n, matrix=STRAIGHT) for n in range(len(lengths_s)))
    halls = [Hall(length_s=s * 0.75, damping=0.3, pre_delay_ms=0.0) for s in lengths_s]

    def channel(id_: str, output: int) -> PlayChannel:
        return PlayChannel(
            id=id_, name=id_, width=Width.STEREO, output=output, matrix=STRAIGHT, treatments=CHAIN if output else ()
        )

    return PlayHead(
        rate_hz=RATE,
        input_table=tuple(range(128)),
        controller=4,
        inputs=(),
        closing=(),
        cutoffs_hz=(),
        notes=((),) * 128,
        feeds=(),
        channels=(
            *(channel(f"c{n}", 1 + n % OUTPUTS).but(sends=sends) for n in range(CHANNELS)),
            *(channel(f"b{n}", 1).but(treatments=(), space=hall) for n, hall in enumerate(halls)),
        ),
        order=tuple(range(CHANNELS + len(halls))),
        outputs=tuple(PlayOutput(number=n + 1, name=str(n), width=Width.STEREO) for n in range(OUTPUTS)),
        main=channel("main", 0).but(output=1),
    )


def strips(
    say: Say,
    paired: Callable[[Callable[[], object], Callable[[], object]], tuple[float, float, float]],
) -> None:
    noise = np.random.default_rng(1).standard_normal((2, BLOCK)).astype(np.float32) * 0.1
    took: list[float] = []

    def mixed(head: PlayHead = _head(), seconds: float = SECONDS) -> None:
        mixer = Mixer(head, BLOCK, SOUNDS)
        began = time.perf_counter()
        for _ in range(round(seconds * RATE) // BLOCK):
            mixer.begin()
            for channel in mixer.channels[:CHANNELS]:
                channel.sound[:], channel.heard = noise, True
            mixer.process(BLOCK)
        took.append(time.perf_counter() - began)

    def bare() -> None:
        chains = [stages(CHAIN, RATE, 2) for _ in range(CHANNELS)]
        sound = noise.astype(np.float64)
        for _ in range(SECONDS * RATE // BLOCK):
            for chain in chains:
                treated = sound
                for stage in chain:
                    treated = stage.process(treated)

    ratios = paired(mixed, bare)
    say("12 strips of EQ, compressor, drive / their bare kernels", ratios, at_most=1.3)
    say("the same, times real time", _speeds(took), at_least=25)
    took.clear()
    for _ in range(6):
        mixed(_head(2.0, 2.0))
    say("the same and two spaces of 2 s, times real time", _speeds(took), at_least=20)
    peaks = []
    for seconds in (6.0, 24.0):
        tracemalloc.start()
        mixed(_head(10.6), seconds)
        peaks.append(tracemalloc.get_traced_memory()[1])
        tracemalloc.stop()
    longer = peaks[1] / peaks[0]
    say("memory through a space of 10.6 s, 24 s / 6 s of playing", (longer, longer, longer), at_most=1.05)


def _speeds(took: list[float]) -> tuple[float, float, float]:
    """Times real time, without the first run, which loads and compiles."""
    speeds = sorted(SECONDS * RATE // BLOCK * BLOCK / RATE / each for each in took[1:])
    return speeds[0], speeds[len(speeds) // 2], speeds[-1]
