"""`make speed`: speed and memory as ratios of one run, so that they mean the same on any machine."""

import gc
import itertools
import os
import sys
import tempfile
import time
import tracemalloc
from collections.abc import Callable
from pathlib import Path
from statistics import median

import numpy as np
import soundfile
from speed_said import Said
from speed_screens import screens
from speed_strips import strips

from drumcore.demo.grooves import demo_grooves
from drumcore.demo.recordist import write_sessions
from drumcore.edits.apply import apply
from drumcore.edits.values import ApplyPlan, BuildPieces
from drumcore.formats.kit_file import contents_of
from drumcore.grooves.values import GrooveEvent
from drumcore.kit.lookup import all_articulations
from drumcore.kit.values import Kit
from drumcore.listening.line_check import HARDEST, LISTEN_S, STRUCK_AT, check_lines
from drumcore.playing.compiler import compile_kit
from drumcore.playing.renderer import frame_of, render
from drumcore.playing.sounds import FileSounds
from drumcore.playing.striker import Striker
from drumcore.recordings.files import files_under, measure_files
from drumcore.recordings.session import read_folder

RUNS = 5
say = Said()


def paired(ours: Callable[[], object], theirs: Callable[[], object], runs: int = RUNS) -> tuple[float, float, float]:
    """The lowest, median and highest ratio of the time of `ours` to that of `theirs`, run alternately after a warm-up."""
    ours(), theirs()
    ratios = []
    for _ in range(runs):
        times = []
        for work in (ours, theirs):
            gc.collect()
            start = time.perf_counter()
            work()
            times.append(time.perf_counter() - start)
        ratios.append(times[0] / times[1])
    return min(ratios), median(ratios), max(ratios)


def main() -> int:
    with tempfile.TemporaryDirectory(prefix="zesty-speed-") as folder:
        root = write_sessions(Path(folder))[0]
        measuring(root)
        rendering(root)
    strips(say, paired)
    with tempfile.TemporaryDirectory(prefix="zesty-speed-") as folder:
        screens(Path(folder), say)
    return say.status()


def measuring(root: Path) -> None:
    names = [n for n in files_under(root) if "readme" not in n]
    files = [(root / name, name) for name in names]

    def decode() -> None:
        for path, _ in files:
            soundfile.read(path, dtype="float32")

    say("measuring / decoding, one worker", paired(lambda: measure_files(files, workers=1), decode), at_most=2.0)
    cores = os.cpu_count() or 1
    if cores > 1:
        many = files * 8
        ratios = paired(lambda: measure_files(many, workers=1), lambda: measure_files(many, workers=cores), runs=2)
        say(f"measuring {len(many):,} files with 1 worker / with {cores}", ratios, at_least=0.95 * cores)


def rendering(root: Path) -> None:
    reading = read_folder(root)
    kit = apply(Kit(id="speed", name="Speed"), BuildPieces(mics=reading.mics, pieces=reading.pieces))
    kit = apply(kit, ApplyPlan(plan="one-output-a-piece"))
    places = {content: root / r.path for content, r in contents_of(kit).items()}
    sounds = FileSounds(lambda content: places[content], budget_bytes=2 << 30)
    table = compile_kit(kit)
    march = demo_grooves()[0]
    events = repeated(march.events, march.length_s, 3)

    def ours() -> None:
        for _ in render(table, events, sounds):
            pass

    say("rendering dry / adding the same samples with NumPy", paired(ours, adding(table, events, sounds)), at_most=2)
    line_check(kit, sounds)
    short, long = (peak_memory(table, repeated(march.events, march.length_s, n), sounds) for n in (2, 12))
    say("peak memory of a render six times as long / of the short one", (long / short,) * 3, at_most=1.05)


def line_check(kit: Kit, sounds: FileSounds) -> None:
    """Line check of the demo: the sounding time of all strikes against the time it takes."""
    struck = sum(
        max((len(layer.takes) for layer in articulation.layers if layer.low <= velocity <= layer.high), default=0)
        * LISTEN_S
        for _, articulation in all_articulations(kit)
        for velocity in (STRUCK_AT, HARDEST)
    )
    took = []
    for _ in range(3):
        start = time.perf_counter()
        lines = list(check_lines(kit, sounds))
        took.append(time.perf_counter() - start)
    shares = sorted(struck / seconds for seconds in took)
    what = f"line check of {len(lines)} articulations ({median(took):.1f} s): struck / taken"
    say(what, (shares[0], median(shares), shares[-1]), at_least=20)


def repeated(events: tuple[GrooveEvent, ...], length_s: float, times: int) -> list[GrooveEvent]:
    return [e.but(time_s=e.time_s + n * length_s) for n in range(times) for e in events]


def adding(table, events, sounds) -> Callable[[], None]:
    """The same voices added to whole-length buffers, one per channel, by plain NumPy."""
    striker, rate = Striker(table), table.head.rate_hz
    feeds = {f.piece: f.mics for f in table.head.feeds}
    voices = []
    for event in events:
        for s in striker.strike(event.note, event.velocity):
            for voice in s.take.voices:
                sound = sounds.get(voice.sound, rate)
                for feed in feeds[s.piece.id][voice.mic]:
                    gain = np.float32(feed.gain * voice.gain * s.gain)
                    voices.append((frame_of(event.time_s, rate), sound, feed.channel, gain))
    length = max(frame + sound.shape[1] for frame, sound, _, _ in voices)

    def add() -> None:
        buffers = [np.zeros((2 if c.width == "stereo" else 1, length), np.float32) for c in table.head.channels]
        for frame, sound, channel, gain in voices:
            buffers[channel][:, frame : frame + sound.shape[1]] += sound * gain

    return add


def peak_memory(table, events, sounds) -> float:
    tracemalloc.start()
    for _ in itertools.islice(render(table, events, sounds), None):
        pass
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    return float(peak)


if __name__ == "__main__":
    sys.exit(main())
