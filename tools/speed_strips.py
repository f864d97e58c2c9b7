"""Twelve treated channels into six outputs: against their bare kernels in the same run, and against real time."""

import time
from collections.abc import Callable

import numpy as np

from drumcore.kit.values import Width
from drumcore.playing.mixing import Mixer
from drumcore.playing.play_table import PlayChannel, PlayHead, PlayOutput
from drumcore.treatments.compressor import Compressor
from drumcore.treatments.drive import Drive
from drumcore.treatments.eq import BandKind, Eq, EqBand
from drumcore.treatments.kinds import compiled, stages

RATE = 48_000
BLOCK = 16_384
CHANNELS, OUTPUTS = 12, 6
SECONDS = 10
BANDS = tuple(EqBand(kind=BandKind.PEAK, hz=hz, gain_db=4.0, q=1.2) for hz in (90, 350, 1800, 6000))
CHAIN = compiled((Eq(bands=BANDS), Compressor(threshold_db=-30.0), Drive(push_db=8.0)), RATE)
STRAIGHT = ((1.0, 0.0), (0.0, 1.0))


def _head() -> PlayHead:
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
        channels=tuple(channel(f"c{n}", 1 + n % OUTPUTS) for n in range(CHANNELS)),
        order=tuple(range(CHANNELS)),
        outputs=tuple(PlayOutput(number=n + 1, name=str(n), width=Width.STEREO) for n in range(OUTPUTS)),
        main=channel("main", 0).but(output=1),
    )


def strips(
    say: Callable[[str, tuple[float, float, float], str], None],
    paired: Callable[[Callable[[], object], Callable[[], object]], tuple[float, float, float]],
) -> None:
    noise = np.random.default_rng(1).standard_normal((2, BLOCK)).astype(np.float32) * 0.1
    blocks = SECONDS * RATE // BLOCK
    took: list[float] = []

    def mixed() -> None:
        mixer = Mixer(_head(), BLOCK)
        began = time.perf_counter()
        for _ in range(blocks):
            mixer.begin()
            for lane in mixer.lanes:
                lane.sound[:], lane.heard = noise, True
            mixer.process(BLOCK)
        took.append(time.perf_counter() - began)

    def bare() -> None:
        chains = [stages(CHAIN, RATE, 2) for _ in range(CHANNELS)]
        sound = noise.astype(np.float64)
        for _ in range(blocks):
            for chain in chains:
                treated = sound
                for stage in chain:
                    treated = stage.process(treated)

    ratios = paired(mixed, bare)
    say("12 strips of EQ, compressor, drive / their bare kernels", ratios, "at most 1.3")
    speeds = sorted(blocks * BLOCK / RATE / each for each in took[1:])
    say("the same, times real time", (speeds[0], speeds[len(speeds) // 2], speeds[-1]), "at least 25 on two cores")
