"""What bringing in a piece would change, in sentences shown before it is done, and the choices it offers."""

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass

from drumcore.describing.edits import Names, as_list, kind_name, signed
from drumcore.edits.apply import apply
from drumcore.edits.bring_piece import one_after_another
from drumcore.edits.bring_piece_steps import chosen, goes_elsewhere, matches
from drumcore.edits.bring_piece_values import BringPiece, BringPieces
from drumcore.kit.lookup import piece_of, pieces_of
from drumcore.kit.values import LEAST_DB, MOST_DB, Articulation, Kit, MicKind, Name, Piece, Width
from drumcore.layers.dynamics import played_db
from drumcore.routing.default_routing import mics_heard, own_channel
from drumcore.routing.reachability import is_heard, why_silent
from drumcore.routing.signal_paths import outputs_reached
from drumcore.touch.tracking import articulation_tracking
from drumcore.value import Value

FAR = (MicKind.OVERHEAD, MicKind.ROOM)


class Consequence(Value):
    """One sentence of a preview; `warns` marks a problem."""

    said: str
    warns: bool = False


class IncomingArticulation(Value):
    """An incoming articulation: how many takes it has, and the articulation of this kit that it replaces, by name."""

    id: str
    name: str
    takes: int
    layers: int
    stands_for: Name = ""


class MicComing(Value):
    """An incoming microphone: the channel it will feed (empty if it is left behind), whether it becomes the piece's
    own, and the microphones of this kit it could merge with.
    """

    id: str
    name: str
    kind: MicKind
    width: Width
    channel: str
    own: bool
    may_join: tuple[str, ...]


@dataclass(frozen=True)
class Tried:
    """The result of trying an edit: the kit `after` it, and the incoming piece in that kit."""

    kit: Kit
    edit: BringPiece
    after: Kit
    piece: Piece


def tried(kit: Kit, edit: BringPiece) -> Tried:
    """Tries an edit on a kit. Raises Refusal if it cannot be made."""
    return _tried(kit, edit, apply(kit, edit))


def _tried(kit: Kit, edit: BringPiece, after: Kit) -> Tried:
    if edit.instead_of:
        return Tried(kit, edit, after, piece_of(after, edit.instead_of))
    place = len(pieces_of(after)) - 1
    if edit.together_with:
        place = next(i for i, piece in enumerate(pieces_of(after)) if piece.id == edit.together_with) + 1
    return Tried(kit, edit, after, pieces_of(after)[place])


def tried_one_by_one(kit: Kit, edit: BringPieces) -> tuple[Tried, ...]:
    """Tries several pieces one after another. Raises Refusal if one cannot be brought in."""
    return tuple(_tried(*step) for step in one_after_another(kit, edit))


def places_for(kit: Kit, newcomers: Iterable[Piece]) -> Iterator[str]:
    """Which piece of the kit each incoming piece would replace: first tom for first tom, second for second, and empty
    when the kit has no more of that family.
    """
    ours = {
        family: [p.id for p in pieces_of(kit) if p.family is family] for family in {p.family for p in pieces_of(kit)}
    }
    for piece in newcomers:
        waiting = ours.get(piece.family, [])
        yield waiting.pop(0) if waiting else ""


@dataclass(frozen=True)
class Compared:
    """An edit with the loudness of the incoming piece and of the piece it replaces or joins; None if there is nothing
    to compare or one is silent.
    """

    edit: BringPiece
    theirs_db: float | None = None
    its_db: float | None = None


MeasureLevel = Callable[[Kit, str, tuple[str, ...]], float | None]
"""Measures a piece of a kit by some articulations, or by its main one (`listening.loudness.piece_level_db`)."""


def compared(kit: Kit, edit: BringPiece, level_db: MeasureLevel, *, as_loud: bool) -> Compared:
    """Measures the incoming piece against the one here. With `as_loud`, the edit also gets the gain that makes both
    equally loud. A piece that takes another's place is compared by the articulations that do, for how loud its other
    ones are changes nothing that was heard before.
    """
    beside = edit.instead_of or edit.together_with
    if not beside:
        return Compared(edit)
    trial = tried(kit, edit.but(gain_db=0.0))
    shared = _taking_over(trial)
    theirs, its = level_db(kit, beside, shared), level_db(trial.after, trial.piece.id, shared)
    if theirs is None or its is None:
        return Compared(edit, theirs, its)
    apart = round(theirs - its, 1)
    gain = min(MOST_DB, max(LEAST_DB, apart)) if as_loud else 0.0
    return Compared(edit.but(gain_db=gain, apart_db=apart if edit.instead_of else None), theirs, its)


def _taking_over(trial: Tried) -> tuple[str, ...]:
    """The articulations of the incoming piece that take the place of one here, under whose ids they are; none if it
    stands beside another.
    """
    if not trial.edit.instead_of:
        return ()
    before = {articulation.id for articulation in piece_of(trial.kit, trial.edit.instead_of).articulations}
    return tuple(articulation.id for articulation in trial.piece.articulations if articulation.id in before)


VELOCITIES_DRAWN = tuple(range(4, 128, 3))


def climb(kit: Kit, piece: str, at_100_db: float | None) -> tuple[tuple[int, float], ...]:
    """A piece's loudness by velocity, as (velocity, dB): the computed levels of its main articulation
    (`layers.dynamics.played_db`), shifted so that velocity 100 has its measured value. Empty if it is silent there.
    """
    found = piece_of(kit, piece)
    if at_100_db is None or not found.articulations:
        return ()
    articulation = found.articulations[0]
    played = played_db(articulation, articulation_tracking(found, articulation))
    at_100 = played[99]
    if at_100 is None:
        return ()
    moved = at_100_db - at_100
    return tuple((v, round(db + moved, 2)) for v in VELOCITIES_DRAWN if (db := played[v - 1]) is not None)


def treatments_coming(edit: BringPiece) -> tuple[str, ...]:
    """The names of the treatments that come with the piece's channel."""
    source = own_channel(edit.alone, edit.alone.pieces[0])
    return tuple(kind_name(treatment.kind) for treatment in (source.treatments if source else ()))


def articulations_coming(trial: Tried) -> tuple[IncomingArticulation, ...]:
    """All articulations of the incoming piece, chosen or not, and which articulation each would replace."""
    (whole,) = trial.edit.alone.pieces
    beside = trial.edit.instead_of or trial.edit.together_with
    stands_for = matches(piece_of(trial.kit, beside), whole) if beside else {}
    names = Names(trial.kit)
    return tuple(
        IncomingArticulation(
            id=articulation.id,
            name=articulation.name,
            takes=len(articulation.takes),
            layers=len(articulation.layers),
            stands_for=names.articulation(stands_for[articulation.id]) if articulation.id in stands_for else "",
        )
        for articulation in whole.articulations
    )


def mics_coming(trial: Tried) -> tuple[MicComing, ...]:
    """All microphones that recorded the incoming piece, and where each goes with the present settings."""
    (whole,) = trial.edit.alone.pieces
    heard = {*mics_heard(whole), *whole.own_mics}
    asked = {entering.mic: entering for entering in trial.edit.mics}
    # Recordings are in the same order in both.
    was = [r.mic for s in chosen(trial.edit).articulations for t in s.takes for r in t.recordings]
    now = [r.mic for s in trial.piece.articulations for t in s.takes for r in t.recordings]
    here = dict(zip(was, now, strict=True))
    into = {feed.mic: feed.channel for feed in reversed(trial.after.routing.feeds) if feed.piece == trial.piece.id}
    return tuple(
        MicComing(
            id=mic.id,
            name=mic.name,
            kind=mic.kind,
            width=mic.width,
            channel=into.get(here.get(mic.id, ""), ""),
            own=here.get(mic.id) in trial.piece.own_mics and not goes_elsewhere(asked.get(mic.id)),
            may_join=tuple(m.id for m in trial.kit.mics if m.width is mic.width),
        )
        for mic in trial.edit.alone.mics
        if mic.id in heard
    )


def articulations_lost(trial: Tried) -> tuple[Articulation, ...]:
    """The articulations of what goes that stand on notes and that the newcomer has none for."""
    if not trial.edit.instead_of:
        return ()
    mine = {articulation.id for articulation in trial.piece.articulations}
    placed = {placed.articulation for placed in trial.kit.notes.placed}
    old = piece_of(trial.kit, trial.edit.instead_of)
    return tuple(
        articulation for articulation in old.articulations if articulation.id not in mine and articulation.id in placed
    )


def consequences(trial: Tried, *, by_itself: bool = True) -> Iterator[Consequence]:
    """What taking does, in sentences with full stops; of one among several, undo is not said."""
    kit, edit, after, piece = trial.kit, trial.edit, trial.after, trial.piece
    takes = sum(len(articulation.takes) for articulation in piece.articulations)
    heard = mics_heard(piece)
    rates = sorted({r.rate_hz for s in piece.articulations for t in s.takes for r in t.recordings} - {kit.rate_hz})
    resampled = f", resampled once from {as_list([f'{r / 1000:g} kHz' for r in rates])}" if rates else ""
    takes_said = f"{takes} take{'' if takes == 1 else 's'}"
    yield _say(f"{takes_said} under {len(heard)} microphone{'' if len(heard) == 1 else 's'} are added{resampled}.")
    if is_heard(after, piece.id):
        yield _say(_where(trial))
    else:
        yield _say(why_silent(after, piece), warns=True)
    yield from _not_heard_by(trial)
    yield from _on_notes(trial)
    if piece.name != edit.alone.pieces[0].name:
        yield _say(f"It is called {piece.name}: this kit already has a {edit.alone.pieces[0].name}.")
    if edit.balance:
        yield from _sends_left(trial)
    if edit.gain_db:
        yield _say(f"Its level goes {'up' if edit.gain_db > 0 else 'down'} by {signed(abs(edit.gain_db), 'dB')}.")
    if not by_itself:
        return
    old = piece_of(kit, edit.instead_of).name if edit.instead_of else ""
    yield _say(f"Undo restores {old} as it was." if old else "Undo removes all of it again.")


def undone(trials: Sequence[Tried]) -> Consequence:
    """What one undo does after several were taken."""
    ours = [piece_of(trial.kit, trial.edit.instead_of).name for trial in trials if trial.edit.instead_of]
    back = f" and restores {as_list(ours)} as {'it was' if len(ours) == 1 else 'they were'}" if ours else ""
    return _say(f"One undo removes all of them again{back}.")


def _say(said: str, *, warns: bool = False) -> Consequence:
    return Consequence(said=said, warns=warns)


def _where(trial: Tried) -> str:
    channels = {channel.id: channel.name for channel in trial.after.routing.channels}
    feeds = trial.after.routing.feeds
    into = dict.fromkeys(channels[feed.channel] for feed in feeds if feed.piece == trial.piece.id and feed.on)
    leaves = outputs_reached(trial.after, trial.piece)
    old = trial.edit.instead_of
    as_before = " as before" if old and leaves == outputs_reached(trial.kit, piece_of(trial.kit, old)) else ""
    numbers = as_list([str(number) for number in leaves])
    outputs = f"output{'' if len(leaves) == 1 else 's'} {numbers}" if leaves else "no output"
    return f"It is heard in {as_list(list(into))}, and goes to {outputs}{as_before}."


def _not_heard_by(trial: Tried) -> Iterator[Consequence]:
    """Channels that all other pieces share and this one does not feed."""
    fed = {feed.channel for feed in trial.after.routing.feeds if feed.piece == trial.piece.id}
    kinds = {mic.kind for mic in trial.edit.alone.mics}
    for channel in trial.kit.routing.channels:
        if channel.gathers not in FAR or channel.id in fed:
            continue
        has_none = f"{trial.edit.of or 'where it comes from'} has none"
        why = "its microphone goes to another channel" if channel.gathers in kinds else has_none
        yield _say(f"Nothing of it enters {channel.name}: {why}.", warns=True)


def _on_notes(trial: Tried) -> Iterator[Consequence]:
    edit, kit = trial.edit, trial.kit
    names, then = Names(trial.after), Names(kit)
    mine = {articulation.id for articulation in trial.piece.articulations}
    on = sorted({placed.note for placed in trial.after.notes.placed if placed.articulation in mine})
    notes = as_list([names.note(note) for note in on])
    if not on:
        yield _say("It has no note yet, so nothing plays it.", warns=True)
    elif edit.together_with:
        yield _say(f"One strike plays {then.piece(edit.together_with)} and it, on {notes}.")
    else:
        yield _say(f"It plays on {notes}.")
    if not edit.instead_of and not edit.together_with:
        before = {placed.note: placed.articulation for placed in kit.notes.placed}
        for note in on:
            if note in before:
                yield _say(f"{names.note(note)} plays {then.articulation(before[note])} too, so both play.", warns=True)
    for articulation in articulations_lost(trial):
        where = as_list(
            [then.note(n) for n in sorted({p.note for p in kit.notes.placed if p.articulation == articulation.id})]
        )
        what = "plays its main articulation" if edit.rest_to_main else "plays nothing now"
        yield _say(
            f"{where} played {then.articulation(articulation.id)}, which the new piece does not have; it {what}.",
            warns=True,
        )


def _sends_left(trial: Tried) -> Iterator[Consequence]:
    source = own_channel(trial.edit.alone, trial.edit.alone.pieces[0])
    there = {bus.name.casefold() for bus in trial.kit.routing.buses}
    named = {bus.id: bus.name for bus in trial.edit.alone.routing.buses}
    left = [named[s.bus] for s in (source.sends if source else ()) if named.get(s.bus, "").casefold() not in there]
    if left:
        yield _say(f"Its sends to {as_list(left)} are left out: this kit has no such bus.", warns=True)
