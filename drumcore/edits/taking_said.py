"""What taking a piece does here, in sentences, said before it is done; and what can be chosen about it."""

from collections.abc import Iterator

from drumcore.edits.applying import apply
from drumcore.edits.of_taking import TakePiece
from drumcore.edits.saying import Names, as_list, signed
from drumcore.edits.taking_in import chosen, matches
from drumcore.kit.lookup import full_name, piece_of, pieces_of
from drumcore.kit.values import Kit, MicKind, Name, Piece, Width
from drumcore.notes.standard import standard_notes
from drumcore.routing.lanes import mics_heard, outputs_of, own_channel
from drumcore.routing.reaching import is_heard, why_silent
from drumcore.value import Value

FAR = (MicKind.OVERHEAD, MicKind.ROOM)


class Consequence(Value):
    """A sentence; one that `warns` is worth a thought before."""

    said: str
    warns: bool = False


class Stands(Value):
    """A stroke of the newcomer: how many takes it has, and the stroke of this kit that it stands for, by name."""

    id: str
    name: str
    takes: int
    layers: int
    stands_for: Name = ""


class MicComing(Value):
    """A microphone of the newcomer: the channel it enters here, empty where it stays behind, whether it is the piece's own, and
    the microphones of this kit that it could join."""

    id: str
    name: str
    kind: MicKind
    width: Width
    channel: str
    own: bool
    may_join: tuple[str, ...]


def taken_piece(kit: Kit, edit: TakePiece) -> Piece:
    """The newcomer as it stands in the kit that `apply` made."""
    if edit.instead_of:
        return piece_of(kit, edit.instead_of)
    if edit.together_with:
        place = next(i for i, piece in enumerate(pieces_of(kit)) if piece.id == edit.together_with)
        return pieces_of(kit)[place + 1]
    return pieces_of(kit)[-1]


def strokes_coming(kit: Kit, edit: TakePiece) -> tuple[Stands, ...]:
    (whole,) = edit.alone.pieces
    beside = edit.instead_of or edit.together_with
    old = piece_of(kit, beside) if beside else None
    # As all its strokes would stand: what is not chosen may be.
    stands_for = matches(old, whole) if old else {}
    names = Names(kit)
    return tuple(
        Stands(
            id=stroke.id,
            name=stroke.name,
            takes=len(stroke.takes),
            layers=len(stroke.layers),
            stands_for=names.stroke(stands_for[stroke.id]) if stroke.id in stands_for else "",
        )
        for stroke in whole.articulations
    )


def mics_coming(kit: Kit, edit: TakePiece) -> tuple[MicComing, ...]:
    """Every microphone that heard the newcomer, and where each goes as it is asked now."""
    (whole,) = edit.alone.pieces
    heard = {*mics_heard(whole), *whole.own_mics}
    left = {entering.mic for entering in edit.mics if not entering.taken}
    asked = {entering.mic: entering for entering in edit.mics}
    everything = edit.but(mics=tuple(m for m in edit.mics if m.taken), strokes=None, notes=())
    after = apply(kit, everything)
    piece = taken_piece(after, edit)
    came = [mic for mic in edit.alone.mics if mic.id in heard]
    here = _called(kit, after, piece, everything)
    into = {feed.mic: feed.channel for feed in reversed(after.routing.feeds) if feed.piece == piece.id}
    return tuple(
        MicComing(
            id=mic.id,
            name=mic.name,
            kind=mic.kind,
            width=mic.width,
            channel="" if mic.id in left else into.get(here.get(mic.id, ""), ""),
            own=mic.id not in left
            and here.get(mic.id, "") in piece.own_mics
            and not asked_elsewhere(asked.get(mic.id)),
            may_join=tuple(m.id for m in kit.mics if m.width is mic.width),
        )
        for mic in came
    )


def asked_elsewhere(entering: object) -> bool:
    return bool(getattr(entering, "channel", ""))


def _called(kit: Kit, after: Kit, piece: Piece, edit: TakePiece) -> dict[str, str]:
    """What each microphone of the newcomer is called in the kit: recordings stand in the same order."""
    was = [r.mic for s in chosen(edit).articulations for t in s.takes for r in t.recordings]
    now = [r.mic for s in piece.articulations for t in s.takes for r in t.recordings]
    return dict(zip(was, now, strict=True))


def free_notes(kit: Kit, edit: TakePiece) -> dict[str, int]:
    """By stroke, the note that the standard map has for it and that is free here, else the next free one from there on."""
    (whole,) = edit.alone.pieces
    taken = {placed.note for placed in kit.notes.placed}
    found: dict[str, int] = {}
    for stroke in whole.articulations:
        wanted = (*standard_notes(whole, stroke.name), *(n for n in range(35, 128)), *range(35))
        note = next((n for n in wanted if n not in taken), None)
        if note is not None:
            found[stroke.id] = note
            taken.add(note)
    return found


def consequences(kit: Kit, edit: TakePiece) -> tuple[Consequence, ...]:
    """What taking does, in sentences with full stops. Raises Refusal where it cannot be done."""
    after = apply(kit, edit)
    return tuple(_consequences(kit, edit, after, taken_piece(after, edit)))


def _consequences(kit: Kit, edit: TakePiece, after: Kit, piece: Piece) -> Iterator[Consequence]:
    takes = sum(len(stroke.takes) for stroke in piece.articulations)
    heard = mics_heard(piece)
    rates = sorted({r.rate_hz for s in piece.articulations for t in s.takes for r in t.recordings} - {kit.rate_hz})
    resampled = f", resampled once from {as_list([f'{r / 1000:g} kHz' for r in rates])}" if rates else ""
    takes_said = f"{takes} take{'' if takes == 1 else 's'}"
    yield _say(f"{takes_said} under {len(heard)} microphone{'' if len(heard) == 1 else 's'} come in{resampled}.")
    if is_heard(after, piece.id):
        yield _say(_where(kit, edit, after, piece))
    else:
        yield _say(why_silent(after, piece), warns=True)
    yield from _not_heard_by(kit, edit, after, piece)
    yield from _on_notes(kit, edit, after, piece)
    if piece.name != edit.alone.pieces[0].name:
        yield _say(f"It is called {piece.name}: there is a {edit.alone.pieces[0].name} here.")
    if edit.balance:
        yield from _sends_left(kit, edit)
    if edit.gain_db:
        yield _say(f"It is brought {'up' if edit.gain_db > 0 else 'down'} by {signed(abs(edit.gain_db), 'dB')}.")
    old = piece_of(kit, edit.instead_of).name if edit.instead_of else ""
    yield _say(f"Undo brings {old} back as it was." if old else "Undo takes all of it out again.")


def _say(said: str, *, warns: bool = False) -> Consequence:
    return Consequence(said=said, warns=warns)


def _where(kit: Kit, edit: TakePiece, after: Kit, piece: Piece) -> str:
    channels = {channel.id: channel.name for channel in after.routing.channels}
    into = dict.fromkeys(channels[f.channel] for f in after.routing.feeds if f.piece == piece.id and f.on)
    leaves = outputs_of(after, piece)
    before = outputs_of(kit, piece_of(kit, edit.instead_of)) if edit.instead_of else ()
    outputs = "output" if len(leaves) == 1 else "outputs"
    as_before = " as before" if leaves == before else ""
    return (
        f"It is heard in {as_list(list(into))}, and leaves by {outputs} {as_list([str(n) for n in leaves])}{as_before}."
    )


def _not_heard_by(kit: Kit, edit: TakePiece, after: Kit, piece: Piece) -> Iterator[Consequence]:
    """Channels that all pieces share, and this one is not in."""
    fed = {feed.channel for feed in after.routing.feeds if feed.piece == piece.id}
    kinds = {mic.kind for mic in edit.alone.mics}
    mine = own_channel(after, piece)
    for channel in kit.routing.channels:
        if channel.gathers not in FAR or channel.id in fed:
            continue
        if channel.gathers not in kinds:
            yield _say(f"{channel.name} will not hear it: {edit.of or 'where it comes from'} has none.", warns=True)
        elif mine is None or not fed:
            continue
        else:
            yield _say(f"{channel.name} will not hear it: what would enter there goes elsewhere.", warns=True)


def _on_notes(kit: Kit, edit: TakePiece, after: Kit, piece: Piece) -> Iterator[Consequence]:
    names, then = Names(after), Names(kit)
    mine = {stroke.id for stroke in piece.articulations}
    on = sorted({placed.note for placed in after.notes.placed if placed.articulation in mine})
    if not on:
        yield _say("It has no note yet: nothing strikes it until it is put on one.", warns=True)
    elif edit.together_with:
        beside = then.piece(edit.together_with)
        yield _say(f"One strike sounds {beside} and it, on {as_list([names.note(note) for note in on])}.")
    else:
        yield _say(f"It plays on {as_list([names.note(note) for note in on])}.")
    before = {p.note: p.articulation for p in kit.notes.placed}
    if not edit.instead_of and not edit.together_with:
        for note in on:
            if note in before:
                yield _say(f"{names.note(note)} plays {then.stroke(before[note])} too: both sound.", warns=True)
    if edit.instead_of:
        old = piece_of(kit, edit.instead_of)
        lost = [stroke for stroke in old.articulations if stroke.id not in mine]
        for stroke in lost:
            notes = sorted({p.note for p in kit.notes.placed if p.articulation == stroke.id})
            if notes:
                where = as_list([then.note(note) for note in notes])
                what = "plays its main stroke" if edit.rest_to_main else "plays nothing any more"
                yield _say(f"{where} played {full_name(old, stroke)}, which it has not: it {what}.", warns=True)


def _sends_left(kit: Kit, edit: TakePiece) -> Iterator[Consequence]:
    source = own_channel(edit.alone, edit.alone.pieces[0])
    there = {bus.name.casefold() for bus in kit.routing.buses}
    named = {bus.id: bus.name for bus in edit.alone.routing.buses}
    left = [named[s.bus] for s in (source.sends if source else ()) if named.get(s.bus, "").casefold() not in there]
    if left:
        yield _say(f"Its sends into {as_list(left)} stay behind: this kit has no such bus.", warns=True)
