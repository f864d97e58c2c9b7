"""Sounds are today what they were when somebody read their figures over (tests/kept): treatments, spaces, a whole kit."""

from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest

from drumcore.demo.start_trials import shaped
from drumcore.edits import values as e
from drumcore.edits.applying import apply
from drumcore.grooves.values import Groove, PedalMove, Press, Strike
from drumcore.kit.values import Kit, Variation, Width
from drumcore.playing.climbing import climbs
from drumcore.playing.compared import channel_compared, kit_compared
from drumcore.playing.compiling import compile_kit
from drumcore.playing.integrated import Integrated
from drumcore.playing.lines import check_lines
from drumcore.playing.loudness import make_up_db, measured, piece_level_db
from drumcore.playing.previewing import climb, of_kit
from drumcore.playing.rendering import render
from drumcore.playing.sameness import sameness
from drumcore.playing.sounds import prepare
from drumcore.recordings.comparing import BEFORE_S, OPENING_S, compared
from drumcore.recordings.reading import Audio
from drumcore.spaces.decaying import decay_by_band, outline_db
from drumcore.spaces.echo import Echo
from drumcore.spaces.hall import Hall, reflections
from drumcore.spaces.kinds import Space, respond
from drumcore.spaces.shipped import SHIPPED as SPACES
from drumcore.treatments.compressor import Compressor
from drumcore.treatments.drive import Drive
from drumcore.treatments.eq import BandKind, Eq, EqBand
from drumcore.treatments.kinds import Treatment, compiled, stages
from drumcore.treatments.shipped import SHIPPED as TREATMENTS
from tests.kept import figure, leaves, same_as_kept, short

RATE = 48_000


def windows(sound: np.ndarray, frames: int = 2400) -> Iterator[str]:
    """The energy of every side in stretches of a sound."""
    for side in np.atleast_2d(sound).astype(float):
        parts = [side[at : at + frames] for at in range(0, len(side), frames)]
        yield "    " + " ".join(f"{float(np.sum(part**2)):.5e}" for part in parts)


def struck(seed: int = 3) -> np.ndarray:
    """A quarter second of a snare, soft and then hard, in two sides that differ."""
    rng = np.random.default_rng(seed)
    time = np.arange(6000) / RATE
    sides = rng.standard_normal((2, 6000)) * np.exp(-time / 0.05) + 0.5 * np.sin(2 * np.pi * 190 * time)
    return np.concatenate([0.05 * sides, 0.8 * sides], axis=1)


TREATED: list[tuple[Treatment, ...]] = [
    *(tuple(shipped.kept.treatments) for shipped in TREATMENTS),
    *((Eq(bands=(EqBand(kind=kind, hz=hz, gain_db=gain, q=q, resonance_db=ring),)),)
      for kind in BandKind for hz, gain, q, ring in ((60.0, 6.0, 0.7, -3.01), (3000.0, -9.0, 4.0, 6.0))),
    (Eq(bands=(EqBand(kind=BandKind.HIGH_CUT, hz=20_000.0),)),),
    *((Compressor(threshold_db=t, ratio=r, knee_db=k, attack_ms=a, release_ms=b, make_up_db=m, mix=x, low_cut_hz=c),)
      for t, r, k, a, b, m, x, c in (
          (-30.0, 4.0, 6.0, 10.0, 120.0, 0.0, 1.0, None), (-40.0, 20.0, 0.0, 0.3, 5.0, 6.0, 1.0, None),
          (-24.0, 2.0, 24.0, 200.0, 900.0, -3.0, 0.4, 120.0), (-20.0, 1.0, 6.0, 5.0, 50.0, 0.0, 1.0, 400.0))),
    *((Drive(push_db=p, asymmetry=a, made_good=g, mix=m),)
      for p, a, g, m in ((0.0, 0.0, False, 1.0), (12.0, 0.0, True, 1.0), (30.0, 0.7, True, 0.5), (20.0, 1.0, False, 1.0))),
]  # fmt: skip


def test_treatments_sound_as_they_did():
    lines = []
    for treatments in TREATED:
        for rate in (44_100, 48_000):
            lines.append(
                f"# {rate} {' '.join(short(t.model_dump(mode='json', exclude_defaults=True)) for t in treatments)}"
            )
            sound, quiet = struck(), np.zeros((2, 4800))
            for stage in stages(compiled(treatments, rate), rate, 2):
                sound, quiet = stage.process(sound), stage.process(quiet)
                lines.append(f"  silent after it: {stage.silent}")
            lines += [*windows(sound), *windows(quiet)]
    same_as_kept("treatments", lines)


MADE: list[Space] = [
    *(shipped.kept.space for shipped in SPACES),
    Hall(length_s=0.2, size_m=3.0, damping=1.0, pre_delay_ms=0.0, width=0.0, seed=9),
    Hall(length_s=8.0, size_m=80.0, damping=0.0, pre_delay_ms=250.0),
    Echo(every_ms=50.0, repeats=32, softer_db=1.0, darker=3.0, sides=0.25),
    Echo(beats=0.5, tempo=97.0, repeats=2, softer_db=0.0, darker=0.0, sides=0.0),
]


def test_spaces_answer_as_they_did():
    lines = []
    for space in MADE:
        rate = 44_100 if space is MADE[0] else RATE
        answer = respond(space, rate, pytest.fail)
        lines.append(f"# {short(space.model_dump(mode='json', exclude_defaults=True))}")
        lines.append(f"  {answer.samples.shape} {answer.middle}")
        lines += windows(answer.samples, max(480, answer.samples.shape[1] // 24))
        lines += [f"    {short([*side[::16]])}" for side in outline_db(answer.samples)]
        # Of those that ship docs/spaces.md has them.
        lines += (
            []
            if space in MADE[: len(SPACES)]
            else [
                f"    {band.hz:g} {band.seconds and figure(band.seconds)}"
                for band in decay_by_band(answer.samples, rate)
            ]
        )
        if isinstance(space, Hall):
            lines += [f"    {short(one.model_dump(mode='json'))}" for one in reflections(space)[:12]]
    same_as_kept("spaces", lines)


GROOVE = Groove(
    name="All of it",
    bpm=120.0,
    beats_a_bar=4.0,
    length_s=2.0,
    events=(
        PedalMove(time_s=0.0, openness=127),
        Strike(time_s=0.0, note=36, velocity=127),
        Strike(time_s=0.0, note=46, velocity=90),
        Strike(time_s=0.1, note=38, velocity=60),
        Strike(time_s=0.15, note=38, velocity=100),
        Strike(time_s=0.2, note=42, velocity=70),
        Strike(time_s=0.3, note=49, velocity=110),
        Press(time_s=0.4, note=49, pressure=100),
        Strike(time_s=0.5, note=46, velocity=110),
        PedalMove(time_s=0.6, openness=0),
        Strike(time_s=0.7, note=38, velocity=20),
        Strike(time_s=0.71, note=38, velocity=127),
        Strike(time_s=0.9, note=36, velocity=1),
    ),
)


@pytest.fixture(scope="module")
def played(rich: Kit) -> Kit:
    kit = rich
    for edit in (
        e.SetTracking(piece="snare", level=0.8, brightness=2.5, attack_soft_ms=15.0, attack_hard_ms=1.0),
        e.SetTracking(piece="hats", whole=True, level=0.5),
        e.SetVariation(articulation="snare/centre", variation=Variation(level_db=1.5, tune_cents=12.0, brightness=0.5)),
        e.SetOrder(articulation="snare/centre", order="shuffled"),
        e.SetOrder(articulation="kick/centre", order="together"),
        e.SetLayer(articulation="snare/centre", layer=1, blend=10, gain_db=-1.5),
        e.SetOpenness(blend=12, pedal_sounds=True),
        e.TrimTakes(
            articulation="kick/centre", takes=("t1", "t6"), gain_db=-2.0, pan=-0.4, tune_cents=-70.0, inverted=True,
            start_trim_ms=3.0, end_ms=120.0, fade_in_ms=2.0, fade_out_ms=40.0,
        ),
        e.TrimTakes(articulation="kick/centre", takes=("t2",), fade_in_ms=5.0),
        e.TrimTakes(articulation="kick/centre", takes=("t5",), fade_out_ms=80.0),
        e.MoveRecording(articulation="snare/centre", take="t3", mic="room", by_ms=1.5),
        e.TurnOver(mic="overheads", side="left", piece="snare"),
        e.FlipPolarity(mic="hat-mic"),
        e.SetMic(mic="room", gain_db=2.0),
        e.SetPiece(piece="crash-left", level_db=-3.0),
        e.SetChannel(channel="room-channel", pan=0.6, level_db=-4.0),
        e.SetTreatment(channel="crush-bus", treatment=Drive(push_db=18.0)),
        e.SetChannel(channel="main", level_db=-1.0),
    ):  # fmt: skip
        kit = apply(kit, edit)
    return kit


def test_a_kit_is_compiled_as_it_was(played: Kit):
    two = apply(apply(played, e.RemovePiece(piece="kick")), e.RemovePiece(piece="crash-left"))
    same_as_kept("table", leaves(compile_kit(two).model_dump(mode="json")))


def test_a_kit_sounds_as_it_did(played: Kit, sounds):
    lines = []
    for rate in (44_100, 48_000):
        blocks = [*render(compile_kit(played.but(rate_hz=rate)), GROOVE.events, sounds, block_frames=2400)]
        for output in blocks[0].outputs:
            sound = np.concatenate([block.outputs[output] for block in blocks], axis=1)
            lines += [f"# {rate} output {output}: {sound.shape}", *windows(sound[:, : 3 * rate], 4800)]
    same_as_kept("sound", lines)


def test_what_is_measured_of_a_kit_is_what_it_was(played: Kit, sounds):
    lines = []
    for channel in ("kick-channel", "crush-bus", "main", "air-bus"):
        found = measured(channel_compared(played, channel), GROOVE.events, sounds)
        lines.append(f"{channel}: {found.treated_db} {found.plain_db} {found.louder_db}")
    found = measured(kit_compared(played), GROOVE.events, sounds)
    lines.append(f"kit: {found.treated_db} {found.plain_db} {found.louder_db}")
    lines.append(f"make-up: {make_up_db(played, 'kick-channel', GROOVE, sounds)}")
    for piece in played.pieces:
        lines.append(f"{piece.id}: {piece_level_db(played, piece.id, sounds)}")
        for stroke in piece.articulations:
            lines.append(f"  {stroke.id}: {sameness(played, stroke.id, sounds)}")
    lines += [short(line.model_dump(mode="json")) for line in check_lines(played, sounds)]
    lines += [str(one) for one in climbs(compile_kit(played), sounds, (1, 2, 20, 64, 100, 126, 127))]
    for phrase in (climb(played), of_kit(played, GROOVE)):
        lines += [f"{phrase.length_s}", *(short(event.model_dump(mode="json")) for event in phrase.events)]
    same_as_kept("measured", lines)


def test_loudness_and_prepared_sounds_are_what_they_were():
    lines = []
    for rate, sides in ((44_100, 1), (48_000, 2), (96_000, 2)):
        meter = Integrated(rate, sides)
        for size, loud in ((rate, 0.3), (rate // 3, 0.001), (2 * rate, 0.1), (777, 0.9)):
            meter.add((loud * struck(size)[:sides].repeat(20, axis=1)[:, :size]).astype(np.float32))
            lines.append(f"{rate} {sides}: {meter.loudness_db}")
    raw = (struck().T * (2**28)).astype(np.int32)
    for rate, to, width, cents in (
        (48_000, 48_000, Width.STEREO, 0.0), (44_100, 48_000, Width.STEREO, 0.0), (48_000, 44_100, Width.MONO, 0.0),
        (48_000, 48_000, Width.STEREO, 350.0), (96_000, 48_000, Width.STEREO, -1200.0),
    ):  # fmt: skip
        made = prepare(Audio(raw, rate, "PCM_32", ""), to, width, cents)
        lines += [f"# {rate} {to} {width.value} {cents}: {made.shape}", *windows(made.T)]
    same_as_kept("prepared", lines)


def test_microphones_are_held_against_one_another_as_they_were():
    lines = []
    for number, kind in enumerate(("kick", "snare", "tom", "hat", "cymbal")):
        for rate in (44_100, 48_000):
            rng = np.random.default_rng([5, number])
            dry = shaped(rng, rate, kind, BEFORE_S).sound[: round((OPENING_S + 0.05) * rate)]
            frames = round((BEFORE_S + OPENING_S) * rate)
            room = rng.standard_normal(len(dry)) * np.exp(-np.arange(len(dry)) / (0.03 * rate))
            heard = [
                dry,
                -0.5 * np.roll(dry, 60),
                np.convolve(dry, room)[: len(dry)] * 0.05 + np.roll(dry, 400),
                0 * dry,
            ]
            sides = [np.stack([one, 0.9 * np.roll(one, 12)], axis=1)[:frames] for one in heard]
            lines.append(f"# {kind} {rate}")
            lines += [f"  {short([a.model_dump(mode='json') for a in found])}" for found in compared(sides, rate)]
    same_as_kept("compared", lines)


def test_nothing_of_a_page_is_forgotten():
    """Every page is held against by a test of some file here."""
    folder = Path(__file__).parent
    tests = "".join(path.read_text(encoding="utf-8") for path in folder.glob("test_*_as_before.py"))
    pages = [path.stem for path in (folder / "kept").glob("*.txt")]
    assert pages and not [page for page in pages if f'same_as_kept("{page}"' not in tests]
