"""What a line check finds in microphones, feeds and levels: what was planted is named, its fix works, and nothing else is."""

import numpy as np
import pytest

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.findings.rules import notice
from drumcore.findings.sources import findings_of_sources
from drumcore.kit.values import Kit, Side
from drumcore.listening.source_check import check_sources
from drumcore.routing.bleed import recorded_db


class Altered:
    """Sounds of which some are changed as they are read."""

    def __init__(self, sounds, change) -> None:
        self._sounds, self._change = sounds, change

    def get(self, sound, rate_hz: int):
        return self._change(sound, self._sounds.get(sound, rate_hz))

    def impulse_response(self, space, rate_hz: int):
        return self._sounds.impulse_response(space, rate_hz)


def close_of(kit: Kit, piece: str) -> str:
    return next(p.own_mics[0] for p in kit.pieces if p.id == piece)


def rules(kit: Kit) -> set[str]:
    return {finding.rule for finding in notice(kit)}


def test_nothing_is_said_of_a_kit_as_it_should_be(small_kit: Kit, sounds):
    assert list(check_sources(small_kit, sounds)) == []
    assert rules(small_kit).isdisjoint({"own_feeds_off", "fed_into_another"})


def test_a_dead_side_of_a_stereo_microphone_is_named(small_kit: Kit, sounds):
    def unplugged(sound, planar):
        return np.stack([planar[0], 0.0 * planar[1]]) if len(planar) == 2 else planar

    problems = [p for p in check_sources(small_kit, Altered(sounds, unplugged)) if p.kind == "dead_side"]
    stereo = {mic.id for mic in small_kit.mics if mic.width == "stereo"}
    assert problems and {p.mic for p in problems} <= stereo and {p.side for p in problems} == {Side.RIGHT}
    said = findings_of_sources(small_kit, problems, small_kit)
    assert "The right side of" in said[0].title and "is dead in" in said[0].title


def test_two_microphones_that_cancel_are_named_and_flipping_one_fixes_it(small_kit: Kit, sounds):
    snare = next(p for p in small_kit.pieces if p.id == "snare")
    close = close_of(small_kit, "snare")
    of_close = {
        r.content: (a.id, t.id) for a in snare.articulations for t in a.takes for r in t.recordings if r.mic == close
    }
    in_it = {place: content for content, place in of_close.items()}
    overheads = {
        r.content: in_it[a.id, t.id]
        for a in snare.articulations
        for t in a.takes
        for r in t.recordings
        if r.mic == "overheads"
    }
    prepared: dict[str, np.ndarray] = {}

    def opposed(sound, planar):
        """The overheads hear what the close microphone hears, with its polarity flipped."""
        if sound.content in of_close:
            prepared[sound.content] = planar
        if sound.content in overheads and overheads[sound.content] in prepared:
            heard = -prepared[overheads[sound.content]].mean(axis=0, keepdims=True)
            return np.repeat(heard, len(planar), axis=0) * (-1.0 if sound.flipped else 1.0)
        return planar

    altered = Altered(sounds, opposed)
    (problem,) = [p for p in check_sources(small_kit, altered) if p.kind == "cancels" and p.piece == "snare"]
    assert {problem.mic, problem.other} == {close, "overheads"} and problem.db > 6.0
    (finding,) = findings_of_sources(small_kit, [problem], small_kit)
    fixed = apply(small_kit, finding.fixes[0].edit)
    assert findings_of_sources(fixed, [problem], small_kit) == (), "what was checked has changed"
    assert [p for p in check_sources(fixed, altered) if p.kind == "cancels" and p.piece == "snare"] == []


def test_a_piece_far_under_its_family_is_named_and_turned_up(small_kit: Kit, sounds):
    quiet = apply(small_kit, e.SetPiece(piece="kick", level_db=-40.0))
    (problem,) = check_sources(quiet, sounds)
    assert (problem.kind, problem.piece) == ("quiet", "kick") and problem.db > 20.0
    (finding,) = findings_of_sources(quiet, [problem], quiet)
    assert list(check_sources(apply(quiet, finding.fixes[0].edit), sounds)) == []


def test_close_microphones_that_are_off_are_named_and_turned_on(small_kit: Kit):
    mic = close_of(small_kit, "snare")
    off = apply(small_kit, e.SetFeed(piece="snare", mic=mic, channel="snare-channel", level_db=-3.0, on=False))
    (finding,) = [f for f in notice(off) if f.rule == "own_feeds_off"]
    assert finding.where.piece == "snare"
    on = apply(off, finding.fixes[0].edit)
    assert "own_feeds_off" not in rules(on)
    assert next(f for f in on.routing.feeds if f.piece == "snare" and f.mic == mic).level_db == -3.0


@pytest.mark.parametrize("both", [True, False], ids=["two swapped", "one astray"])
def test_a_microphone_in_another_piece_s_channel_is_named_and_put_back(small_kit: Kit, both: bool):
    kit = small_kit
    ways = [("kick", "kick-channel", "snare-channel"), ("snare", "snare-channel", "kick-channel")]
    for piece, channel, other in ways if both else ways[:1]:
        mic = close_of(small_kit, piece)
        kit = apply(kit, e.SetFeed(piece=piece, mic=mic, channel=channel, level_db=None))
        kit = apply(kit, e.SetFeed(piece=piece, mic=mic, channel=other, level_db=0.0))
    found = [f for f in notice(kit) if f.rule == "fed_into_another"]
    assert [f.where.piece for f in found] == (["kick", "snare"] if both else ["kick"])
    # One fix puts both back where two were swapped.
    kit = apply(kit, found[0].fixes[0].edit)
    assert "fed_into_another" not in rules(kit)


def test_bleed_is_what_was_recorded_against_the_piece_s_own_microphone(small_kit: Kit):
    snare = next(p for p in small_kit.pieces if p.id == "snare")
    found = recorded_db(snare)
    own = snare.own_mics[0]
    levels = {
        mic: np.mean([r.level_db for a in snare.articulations for t in a.takes for r in t.recordings if r.mic == mic])
        for mic in found
    }
    assert found[own] == 0.0
    assert found == {mic: pytest.approx(level - levels[own], abs=0.06) for mic, level in levels.items()}
    louder = apply(small_kit, e.LetIn(piece="snare", mic="overheads", on=True, level_db=6.0))
    assert recorded_db(next(p for p in louder.pieces if p.id == "snare")) == found
