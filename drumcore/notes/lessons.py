"""Teaching a note by hitting the pad: decides which received message was meant."""

from collections.abc import Collection, Sequence
from typing import Literal

from drumcore.kit.lookup import all_articulations, articulation_of, full_name, input_of, pieces_of
from drumcore.kit.values import OPENNESS_CONTROLLER, Articulation, Family, Kit, MidiNote, Piece
from drumcore.notes.names import note_name
from drumcore.notes.openness import along_the_pedal, is_pedal, rings_open
from drumcore.touch.pedal import openness_table
from drumcore.value import Value

SOFTEST_MEANT = 20
"""Softer strikes are a neighbour's shaking or a pedal's chatter; whoever teaches a pad hits it."""
TOGETHER_MS = 60.0
GATHER_MS = 130.0
"""How long whoever listens waits after a strike for what comes with it, before asking which was meant."""
REST_MS = 260.0
"""For so long after one was taken nothing counts: pads ring, flams and cross-talk come late."""
LOOK_BACK_MS = 1500.0
"""How far back from a strike messages are told with it: softer ones before it explain what was set ignored."""


class Message(Value):
    """A message from an input: a note with a velocity, a controller value, or pressure on a note's pad."""

    time_ms: float
    kind: Literal["note", "controller", "pressure"]
    number: MidiNote
    value: MidiNote


class Taught(Value):
    """The note an input sends for an articulation, and the hi-hat openness at that moment (None: unknown)."""

    articulation: str
    note: MidiNote
    openness: MidiNote | None = None


class IgnoredStrike(Value):
    """A strike that was received but not meant."""

    note: MidiNote
    velocity: int
    why: str


class HeardStrike(Value):
    """The result of teaching: the note that was meant, or none yet."""

    note: MidiNote | None
    velocity: int = 0
    openness: MidiNote | None = None
    ignored: tuple[IgnoredStrike, ...] = ()


class Lesson(Value):
    """One articulation to teach, and the instruction for it."""

    articulation: str
    name: str
    say: str


def lessons(kit: Kit) -> tuple[Lesson, ...]:
    """Every articulation of the kit in the order to teach them. The hi-hat pedal comes first, so that its note is not
    mistaken for an open articulation later.
    """
    found = []
    for piece in pieces_of(kit):
        articulations = piece.articulations
        if piece.family is Family.HATS:
            by_pedal = along_the_pedal(piece)
            articulations = (
                *(a for a in articulations if is_pedal(a)),
                *by_pedal,
                *(a for a in articulations if a not in by_pedal and not is_pedal(a)),
            )
        found += [Lesson(articulation=a.id, name=full_name(piece, a), say=_say(piece, a)) for a in articulations]
    return tuple(found)


def _say(piece: Piece, articulation: Articulation) -> str:
    if piece.family is not Family.HATS:
        return "Hit it a few times if you like; the first good strike is taken."
    if is_pedal(articulation):
        return "Close the pedal with your foot."
    if rings_open(articulation):
        return "Pedal notes and openness changes do not count while an open articulation is taught."
    return "Hold the pedal closed and hit the hats."


def hear(
    kit: Kit, articulation_id: str, messages: Sequence[Message], taught: Sequence[Taught] = (), input_id: str = ""
) -> HeardStrike:
    """Finds the strike that was meant while an articulation was taught.

    The first strike of velocity 20 or more opens a window of 60 ms; the hardest in it is meant, the others are ignored.
    While an open or half-open articulation is taught, the pedal's notes do not count: those taught before, or else
    those the kit has its pedal articulation on.
    """
    piece, articulation = articulation_of(kit, articulation_id)
    pedal_notes = _pedal_notes(piece, kit, taught) if rings_open(articulation) else set()
    strikes = sorted((m for m in messages if m.kind == "note" and m.value > 0), key=lambda m: m.time_ms)
    ignored = [_ignored(m, "the pedal’s own note") for m in strikes if m.number in pedal_notes]
    counted = [m for m in strikes if m.number not in pedal_notes]
    ignored += [_ignored(m, "too soft, ignored") for m in counted if m.value < SOFTEST_MEANT]
    meant = [m for m in counted if m.value >= SOFTEST_MEANT]
    if not meant:
        return HeardStrike(note=None, ignored=tuple(ignored))
    window = [m for m in meant if m.time_ms <= meant[0].time_ms + TOGETHER_MS]
    best = max(window, key=lambda m: m.value)
    ignored += [_ignored(m, "came with it, softer") for m in window if m is not best and m.number != best.number]
    return HeardStrike(
        note=best.number,
        velocity=best.value,
        openness=_openness_at(kit, input_id, messages, best.time_ms) if piece.family is Family.HATS else None,
        ignored=tuple(dict.fromkeys(ignored)),
    )


def _ignored(message: Message, why: str) -> IgnoredStrike:
    return IgnoredStrike(note=message.number, velocity=message.value, why=why)


def _pedal_notes(piece: Piece, kit: Kit, taught: Sequence[Taught]) -> set[int]:
    pedals = {a.id for a in piece.articulations if is_pedal(a)}
    learned = {t.note for t in taught if t.articulation in pedals}
    return learned or {p.note for p in kit.notes.placed if p.articulation in pedals}


def _openness_at(kit: Kit, input_id: str, messages: Sequence[Message], time_ms: float) -> int | None:
    """The last openness that the input sent before a time."""
    known = input_of(kit, input_id)
    controller = known.controller if known else OPENNESS_CONTROLLER
    table = openness_table(known.closed_at, known.open_at) if known else openness_table(0, 127)
    moves = [m for m in messages if m.kind == "controller" and m.number == controller and m.time_ms <= time_ms]
    return table[max(moves, key=lambda m: m.time_ms).value] if moves else None


def same_note_by_openness(
    kit: Kit, articulation_id: str, heard: HeardStrike, taught: Sequence[Taught]
) -> tuple[Taught, ...]:
    """Articulations of the same hats that were taught on the same note at another openness; they will share it as
    zones.
    """
    if heard.note is None or heard.openness is None:
        return ()
    piece, _ = articulation_of(kit, articulation_id)
    ours = {a.id for a in piece.articulations}
    return tuple(
        t
        for t in taught
        if t.note == heard.note
        and t.articulation in ours
        and t.articulation != articulation_id
        and t.openness is not None
        and t.openness != heard.openness
    )


def occupants(kit: Kit, note: int, besides: Collection[str] = ()) -> tuple[str, ...]:
    """The names of what a note plays already, apart from some articulations."""
    there = dict.fromkeys(p.articulation for p in kit.notes.placed if p.note == note and p.articulation not in besides)
    return tuple(full_name(*articulation_of(kit, i)) for i in there)


def hit_again(
    kit: Kit, articulation_id: str, heard: HeardStrike, taught: Sequence[Taught], beside: Sequence[Taught]
) -> tuple[str, ...]:
    """The names of articulations taught on this note earlier in the round and not sharing it: the same pad was hit
    again.
    """
    sharing = {articulation_id, *(t.articulation for t in beside)}
    again = {t.articulation for t in taught if t.note == heard.note} - sharing
    here = {p.articulation for p in kit.notes.placed if p.note == heard.note}
    return () if heard.note is None else occupants(kit, heard.note, here - again)


def without_note(kit: Kit) -> tuple[str, ...]:
    """The names of articulations without a note."""
    placed = {p.articulation for p in kit.notes.placed}
    return tuple(full_name(p, a) for p, a in all_articulations(kit) if a.id not in placed)


def said(kit: Kit, heard: HeardStrike) -> str:
    """What was heard, in a few words."""
    if heard.note is None:
        return heard.ignored[-1].why.capitalize() if heard.ignored else "Nothing yet"
    return f"{heard.note} · {note_name(heard.note, kit.notes.middle_c)} · velocity {heard.velocity}"
