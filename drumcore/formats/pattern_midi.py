"""Patterns as standard MIDI files: 2,880 ticks a quarter, so that every division of a beat stands on a tick."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from io import BytesIO
from math import ceil

import mido

from drumcore.formats.midi_chunks import NotMidi, as_one_file, read_chunks
from drumcore.grooves.beats import exact, rounded_half_up
from drumcore.grooves.compiling import compile_pass, tempo_of
from drumcore.grooves.pattern import (
    MOST_BARS,
    HandStop,
    Pattern,
    PedalPoint,
    PedalRow,
    Row,
    Swing,
    Target,
)
from drumcore.grooves.placing import Clock, PlayedStrike, likely_division, place
from drumcore.grooves.tempo import LEAST_BPM, MOST_BPM, Metre
from drumcore.kit.values import OPENNESS_CONTROLLER, slug
from drumcore.refusals import Refusal

TICKS = 2880
SOUNDS_TICKS = TICKS // 8
STOPS = 64
ENDS, MOVES, STRIKES = range(3)
LARGEST_FILE, MOST_STRIKES = 8 << 20, 400_000
BPM_DECIMALS = 6
"""Enough that a tempo in whole microseconds a beat is the same after it was read and written."""


def pattern_to_midi(
    pattern: Pattern, notes: Mapping[Target, int], pass_number: int = 0
) -> tuple[bytes, tuple[str, ...]]:
    """A pattern as a MIDI file of one pass, and in sentences what the file cannot hold. `notes` gives the note of each
    target; rows without one are left out. If a strike would come before the beginning, the file begins a bar earlier.
    """
    compiled = compile_pass(pattern, pass_number)
    tempo = mido.bpm2tempo(float(tempo_of(pattern).tempos[0].bpm))
    clock = Clock(Fraction(tempo, 1000), TICKS)
    messages: list[tuple[int, int, int, int]] = []
    for strike in compiled.strikes:
        note = notes.get(strike.target)
        if note is not None:
            messages.append((clock.tick(strike.quarters, strike.offset_ms), STRIKES, note, strike.velocity))
    messages += [
        (rounded_half_up(move.quarters * TICKS), MOVES, OPENNESS_CONTROLLER, move.openness) for move in compiled.moves
    ]
    for stop in compiled.stops:
        if stop.target in notes:
            messages.append((rounded_half_up(stop.quarters * TICKS), STRIKES, notes[stop.target], -127))
    bar = rounded_half_up(pattern.metre.bar * TICKS)
    early = min((tick for tick, *_ in messages), default=0)
    lead = bar * ceil(-early / bar) if early < 0 else 0
    messages = sorted((tick + lead, kind, number, value) for tick, kind, number, value in messages)
    track = mido.MidiTrack(
        [
            mido.MetaMessage("track_name", name=pattern.name),
            mido.MetaMessage("set_tempo", tempo=tempo),
            mido.MetaMessage("time_signature", numerator=pattern.metre.upper, denominator=pattern.metre.lower),
        ]
    )
    now = 0
    for tick, kind, number, value in sorted(messages + _ends(messages)):
        track.append(_message(kind, number, value).copy(time=tick - now))
        now = tick
    end = rounded_half_up(pattern.length * TICKS) + lead
    track.append(mido.MetaMessage("end_of_track", time=max(0, end - now)))
    written = BytesIO()
    mido.MidiFile(ticks_per_beat=TICKS, tracks=[track], charset="utf-8").save(file=written)
    return written.getvalue(), tuple(_not_held(pattern, notes, lead > 0))


def _ends(messages: Sequence[tuple[int, int, int, int]]) -> list[tuple[int, int, int, int]]:
    """Note-offs: an eighth of a quarter after each strike, or where the note is struck again."""
    by_note: dict[int, list[int]] = defaultdict(list)
    for tick, kind, note, value in messages:
        if kind == STRIKES and value > 0:
            by_note[note].append(tick)
    ends = []
    for note, ticks in by_note.items():
        for tick, following in zip(ticks, [*ticks[1:], None], strict=True):
            end = tick + SOUNDS_TICKS if following is None else min(tick + SOUNDS_TICKS, following)
            ends.append((end, ENDS, note, 0))
    return ends


def _message(kind: int, number: int, value: int) -> mido.Message:
    if kind == MOVES:
        return mido.Message("control_change", channel=9, control=number, value=value)
    if kind == ENDS:
        return mido.Message("note_off", channel=9, note=number)
    if value < 0:
        return mido.Message("polytouch", channel=9, note=number, value=-value)
    return mido.Message("note_on", channel=9, note=number, velocity=value)


def _counted(number: int, noun: str) -> str:
    return f"1 {noun} is" if number == 1 else f"{number} {noun}s are"


def _not_held(pattern: Pattern, notes: Mapping[Target, int], lead: bool) -> list[str]:
    said = []
    for row in pattern.rows:
        name = f"{row.target.piece or row.target.family.value} · {row.target.articulation}"
        if row.target not in notes and row.steps:
            said.append(f"{name} has no note in the map; {_counted(len(row.steps), 'step')} left out.")
        rests = sum(step.rest for step in row.steps)
        if rests:
            said.append(f"{name}: rests cannot be written; {_counted(rests, 'step')} left out.")
        if any(step.chance < 100 for step in row.steps):
            said.append(f"{name}: chances are decided once, as in the first pass.")
        if row.muted and row.steps:
            said.append(f"{name} is muted and left out.")
    if pattern.feel.timing_ms or pattern.feel.velocity:
        said.append("Feel is written as it falls in the first pass.")
    if lead:
        said.append("A strike before the first beat makes the file begin a bar earlier.")
    return said


@dataclass(frozen=True)
class ReadPattern:
    """A pattern from a MIDI file, and in sentences what it could not hold."""

    pattern: Pattern
    not_held: tuple[str, ...]


def pattern_from_midi(
    data: bytes,
    name: str,
    targets: Mapping[int, Target],
    divisions: Mapping[int, int] | None = None,
    swing: Swing | None = None,
) -> ReadPattern:
    """A pattern of a MIDI file's notes. `targets` says what each note plays; `divisions` the steps to a beat by note (the
    fewest that fit, otherwise). Raises Refusal if the file cannot be read, has no notes, or is too long for a pattern.
    """
    if len(data) > LARGEST_FILE:
        raise Refusal(f"{name} is too large for a MIDI file; choose one under {LARGEST_FILE >> 20} MB.")
    try:
        chunks = read_chunks(data)
    except NotMidi as why:
        raise Refusal(f"{name} {why}.") from None
    if chunks.ticks_per_s:
        raise Refusal(f"{name} counts in frames of a second and has no beats; import it as a performance.")
    if chunks.kind == 2:
        raise Refusal(f"{name} holds patterns one beside another; import it as a performance and choose one.")
    try:
        merged = mido.merge_tracks(
            mido.MidiFile(file=BytesIO(as_one_file(chunks, chunks.tracks)), clip=True, charset="utf-8").tracks
        )
    except Exception:
        # mido has no error class of its own: a damaged file raises whatever its parser hit.
        raise Refusal(f"{name} is not a MIDI file that can be read; export it again as a standard MIDI file.") from None
    return _read(list(merged), chunks.ticks_per_beat, name, targets, divisions or {}, swing or Swing())


def _read(
    messages: Sequence[mido.Message],
    ticks_per_beat: int,
    name: str,
    targets: Mapping[int, Target],
    divisions: Mapping[int, int],
    swing: Swing,
) -> ReadPattern:
    strikes: dict[int, list[PlayedStrike]] = defaultdict(list)
    moves: list[tuple[Fraction, int]] = []
    stops: list[tuple[Fraction, int]] = []
    tempos, metres, title = [], [], ""
    tick = 0
    for message in messages:
        tick += message.time
        at = Fraction(tick, ticks_per_beat)
        if message.type == "set_tempo" and message.tempo > 0:
            tempos.append(message.tempo)
        elif message.type == "time_signature" and message.numerator > 0:
            metres.append((message.numerator, message.denominator))
        elif message.type == "track_name" and not title:
            title = message.name.strip()
        elif message.type == "note_on" and message.velocity > 0:
            strikes[message.note].append(PlayedStrike(at, message.velocity))
        elif message.type == "control_change" and message.control == OPENNESS_CONTROLLER:
            moves.append((at, message.value))
        elif message.type == "polytouch" and message.value >= STOPS:
            stops.append((at, message.note))
    count = sum(map(len, strikes.values()))
    if not count:
        raise Refusal(f"{name} holds no notes; choose one with drum notes.")
    if count > MOST_STRIKES:
        raise Refusal(f"{name} holds {count:,} strikes; a pattern takes {MOST_STRIKES:,}.")
    upper, lower = metres[0] if metres else (4, 4)
    if upper > 32 or lower > 32:
        raise Refusal(f"{name} is in {upper}/{lower}; a pattern's figures go to 32.")
    metre = Metre(upper=upper, lower=lower)
    bpm = float(exact(round(mido.tempo2bpm(tempos[0] if tempos else 500_000), BPM_DECIMALS)) / metre.beat)
    if not LEAST_BPM <= bpm <= MOST_BPM:
        raise Refusal(f"{name} has {bpm:g} beats a minute; a pattern takes {LEAST_BPM:g} to {MOST_BPM:g}.")
    last = max([tick_at.quarters for found in strikes.values() for tick_at in found] + [at for at, _ in moves])
    bars = max(1, ceil(Fraction(tick, ticks_per_beat) / metre.bar), int(last // metre.bar) + 1)
    if bars > MOST_BARS:
        raise Refusal(f"{name} is {bars:,} bars long; a pattern takes {MOST_BARS}. Import it as a performance.")
    empty = Pattern(name=(title or name.rsplit("/", 1)[-1].removesuffix(".mid") or "Pattern")[:120], bars=bars, metre=metre, bpm=round(bpm, BPM_DECIMALS), swing=swing)  # fmt: skip
    said = []
    if len(set(tempos)) > 1 or len(set(metres)) > 1:
        said.append("Tempo and metre changes cannot be held; the first ones count.")
    clock = Clock(Fraction(tempos[0] if tempos else 500_000, 1000), ticks_per_beat)
    return _on_a_grid(empty, strikes, moves, stops, targets, divisions, clock, said)


def _on_a_grid(
    empty: Pattern,
    strikes: Mapping[int, Sequence[PlayedStrike]],
    moves: Sequence[tuple[Fraction, int]],
    stops: Sequence[tuple[Fraction, int]],
    targets: Mapping[int, Target],
    divisions: Mapping[int, int],
    clock: Clock,
    said: list[str],
) -> ReadPattern:
    rows: list[Row] = []
    row_of: dict[int, Row] = {}
    for note in sorted(strikes):
        target = targets.get(note)
        if target is None:
            said.append(f"Note {note} plays nothing in the map; {_counted(len(strikes[note]), 'strike')} left out.")
            continue
        division = divisions.get(note) or likely_division(empty, strikes[note], clock)
        placed = place(empty, division, strikes[note], clock)
        identifier = f"{slug(target.piece or target.family.value)}-{slug(target.articulation)}-{note}"
        row_of[note] = Row(id=identifier, target=target, division=division, steps=placed.steps)
        rows.append(row_of[note])
        if placed.left:
            some = ", ".join(f"{float(s.quarters):.2f}" for s in placed.left[:4])
            said.append(
                f"{len(placed.left)} strike{'' if len(placed.left) == 1 else 's'} of note {note} find no step of their own "
                f"(at quarter {some}{'…' if len(placed.left) > 4 else ''}); choose more steps to a beat."
            )
    pedal, lost = _pedal(empty, moves)
    if lost:
        said.append(f"{lost} pedal move{'' if lost == 1 else 's'} between the pedal's steps stand on the nearest one.")
    hands = []
    for at, note in stops:
        if note in row_of:
            row = row_of[note]
            step = min(empty.beats * row.division - 1, rounded_half_up(at * row.division / empty.metre.beat))
            hands.append(HandStop(row=row.id, at=step))
    pattern = empty.but(rows=tuple(rows), pedal=pedal, hand_stops=tuple(dict.fromkeys(hands)))
    return ReadPattern(pattern, tuple(said))


def _pedal(empty: Pattern, moves: Sequence[tuple[Fraction, int]]) -> tuple[PedalRow, int]:
    """The pedal's moves on twelve steps to a beat, the last of a step; and how many stood between steps."""
    division = 12
    points: dict[int, int] = {}
    between = 0
    for at, openness in moves:
        exact_place = at * division / empty.metre.beat
        step = min(empty.beats * division - 1, rounded_half_up(exact_place))
        between += step != exact_place
        points[step] = openness
    return PedalRow(
        division=division, points=tuple(PedalPoint(at=k, openness=v) for k, v in sorted(points.items()))
    ), between
