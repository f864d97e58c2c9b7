"""Polarity and delay between microphones: how often they are found, and planted faults found and fixed, by sound."""

import os
from collections import defaultdict
from pathlib import Path

import numpy as np
import pytest
import soundfile

from drumcore.demo.mic_trials import mic_trials
from drumcore.edits.apply import apply
from drumcore.edits.takes import FlipRecordings
from drumcore.findings.rules import notice
from drumcore.kit.lookup import articulation_of
from drumcore.kit.values import Side, Width
from drumcore.playing.sounds import prepare
from drumcore.recordings.audio_files import read_audio
from tests.core.clean_session import kit_of


def test_polarity_is_seldom_wrong_and_mostly_answered_where_the_direct_sound_is_louder():
    answered, wrong, tried = defaultdict(int), defaultdict(int), defaultdict(int)
    for found in mic_trials(each=int(os.environ.get("TRIALS", "12")) // 3, seed=3):
        wrong[found.kind] += found.wrong
        answered[found.kind] += found.answered
        if found.direct_db >= 6:
            assert found.answered >= 0.8 * found.tried, found
            assert found.wrong_delay == 0, found
        tried[found.kind] += found.tried
    assert all(wrong[kind] < 0.05 * answered[kind] for kind in wrong), dict(wrong)
    assert len(tried) == 6 and sum(answered.values()) < sum(tried.values()), "and doubts are owned up to"


def flipped(path: Path, side: int | None = None) -> None:
    sound, rate = soundfile.read(path, always_2d=True)
    sound[:, slice(None) if side is None else side] *= -1.0
    soundfile.write(path, sound, rate, subtype="PCM_24")


def later(path: Path, ms: float) -> None:
    sound, rate = soundfile.read(path, always_2d=True)
    soundfile.write(path, np.concatenate([np.zeros((round(ms * rate / 1000), sound.shape[1])), sound]), rate, "PCM_24")


PLANTED = {
    "overheads with flipped polarity": ("Overheads/*", flipped, "Overheads"),
    "their right side": ("Overheads/*", lambda p: flipped(p, 1), "The right side of Overheads"),
    "their left side in one piece": (
        "Overheads/snare_*",
        lambda p: flipped(p, 0),
        "Snare · The left side of Overheads",
    ),
    "their right side in a piece without a close microphone": (
        "Overheads/crash*",
        lambda p: flipped(p, 1),
        "Crash · The right side of Overheads",
    ),
    "a close microphone": ("Rack tom/*", flipped, "Rack tom"),
    "one file of the overheads": ("Overheads/kick_2_3.wav", flipped, "Overheads/kick_2_3.wav"),
    "one side of one file": ("Overheads/kick_2_3.wav", lambda p: flipped(p, 1), "Overheads/kick_2_3.wav"),
    "one file of the first of two": ("Snare top/snare_3_2.wav", flipped, "Snare top/snare_3_2.wav"),
    "snare 40 ms late in one microphone": (
        "Snare bottom/snare_2_2.wav",
        lambda p: later(p, 40.0),
        "Snare bottom/snare_2_2.wav",
    ),
    "an overhead 4 ms late": ("Overheads/snare_2_2.wav", lambda p: later(p, 4.0), "Overheads/snare_2_2.wav"),
    "a first microphone 12 ms late": ("Snare top/snare_1_2.wav", lambda p: later(p, 12.0), "Snare top/snare_1_2.wav"),
}


@pytest.mark.parametrize("what", PLANTED)
def test_a_microphone_that_is_turned_or_late_is_found_by_its_sound_and_fixed(clean_session: Path, what: str):
    files, plant, place = PLANTED[what]
    found = sorted(clean_session.glob(files))
    assert found
    for path in found:
        plant(path)
    kit = kit_of(clean_session)
    (finding,) = notice(kit)
    assert finding.rule == ("microphone_out_of_time" if "late" in what else "polarity"), finding.title
    assert finding.place == place, finding.title
    edit = finding.fixes[0].edit
    if "ms late" in what:
        assert edit.by_ms == pytest.approx(float(what.split(" ms late", maxsplit=1)[0].rsplit(maxsplit=1)[-1]), abs=0.3)
    assert notice(apply(kit, finding.fixes[0].edit)) == []


def test_turning_over_turns_what_is_named_and_once_more_turns_it_back(small_kit):
    def turns(kit, articulation="snare/centre", mic="overheads"):
        takes = articulation_of(kit, articulation)[1].takes
        return [next((r.flipped for r in t.recordings if r.mic == mic), None) for t in takes]

    edit = FlipRecordings(mic="overheads", side=Side.LEFT, articulation="snare/centre", take="t2")
    once = apply(small_kit, edit)
    assert [n for n, turned in enumerate(turns(once)) if turned] == [1] and apply(once, edit) == small_kit
    everywhere = apply(once, FlipRecordings(mic="overheads"))
    assert turns(everywhere)[:3] == [Side.BOTH, Side.RIGHT, Side.BOTH]
    assert set(turns(everywhere, "kick/centre")) == {Side.BOTH}
    assert set(turns(apply(small_kit, FlipRecordings(mic="overheads", piece="kick")))) == {None}
    mono = FlipRecordings(mic="snare-mic", side=Side.RIGHT, piece="snare")
    assert apply(small_kit, mono) == small_kit, "a mono recording has no right side"


@pytest.mark.parametrize(("turned", "signs"), [(None, (1, 1)), (Side.LEFT, (-1, 1)), (Side.RIGHT, (1, -1))])
def test_a_side_that_is_turned_over_plays_so(tmp_path: Path, turned: Side | None, signs: tuple[int, int]):
    sound = np.random.default_rng(4).uniform(-0.5, 0.5, (4800, 2))
    soundfile.write(tmp_path / "a.wav", sound, 48000, subtype="PCM_24")
    played = prepare(read_audio(tmp_path / "a.wav"), 48000, Width.STEREO, flipped=turned)
    np.testing.assert_allclose(played, sound * signs, atol=2e-7)
    both = prepare(read_audio(tmp_path / "a.wav"), 48000, Width.MONO, flipped=turned)[:, 0]
    np.testing.assert_allclose(both, (sound * signs).mean(axis=1), atol=2e-7)
