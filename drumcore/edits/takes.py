"""Edits of takes and microphones. The recordings themselves never change."""

from collections.abc import Callable, Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from drumcore.edits.registry import Meanings
from drumcore.kit.lookup import (
    articulation_of,
    full_name,
    layer_of,
    piece_of,
    pieces_of,
    take_of,
    with_articulation,
    with_take,
)
from drumcore.kit.trims import TRIMS
from drumcore.kit.values import Articulation, Cents, Kit, Layer, Level, Pan, Recording, Side, Take
from drumcore.layers.arrangement import without_takes
from drumcore.layers.from_takes import layer_levels_db
from drumcore.recordings.own_mics import heard_as
from drumcore.refusals import Refusal
from drumcore.value import Value

Milliseconds = Annotated[float, Field(ge=0.0, le=120_000.0, allow_inf_nan=False)]
Takes = Annotated[tuple[str, ...], Field(min_length=1, max_length=5000)]


class TrimTakes(Value):
    """Sets how takes of an articulation play; None leaves a field as it is. `end_ms` 0 plays them to their end."""

    kind: Literal["trim_takes"] = "trim_takes"
    articulation: str
    takes: Takes
    gain_db: Level | None = None
    pan: Pan | None = None
    tune_cents: Cents | None = None
    inverted: bool | None = None
    start_trim_ms: Annotated[float, Field(ge=-1000.0, le=10_000.0, allow_inf_nan=False)] | None = None
    end_ms: Milliseconds | None = None
    fade_in_ms: Annotated[float, Field(ge=0.0, le=10_000.0, allow_inf_nan=False)] | None = None
    fade_out_ms: Annotated[float, Field(ge=0.0, le=60_000.0, allow_inf_nan=False)] | None = None
    enabled: bool | None = None


class MoveTakes(Value):
    """Moves takes to a layer, before the take at `place` (None: at the end), or to the unused takes where `layer` is
    None. `to` moves them to another articulation; without a layer each joins the layer nearest in level. The takes keep
    their order.
    """

    kind: Literal["move_takes"] = "move_takes"
    articulation: str
    takes: Takes
    layer: Annotated[int, Field(ge=0)] | None
    place: Annotated[int, Field(ge=0)] | None = None
    to: str | None = None


class SwapTakes(Value):
    """Swaps two takes of an articulation."""

    kind: Literal["swap_takes"] = "swap_takes"
    articulation: str
    take: str
    other: str


class BorrowRecording(Value):
    """Uses another take's recording for a microphone that did not record this take."""

    kind: Literal["borrow_recording"] = "borrow_recording"
    articulation: str
    take: str
    mic: str
    from_take: str


class MoveRecording(Value):
    """Moves one microphone's recording of a take in time: it plays `by_ms` earlier than in its file (negative: later),
    to align it with the others. 0 resets it.
    """

    kind: Literal["move_recording"] = "move_recording"
    articulation: str
    take: str
    mic: str
    by_ms: Annotated[float, Field(ge=-1000.0, le=1000.0, allow_inf_nan=False)]


class FlipRecordings(Value):
    """Flips the polarity of a microphone's recordings, or of one `side`; a second time flips it back. It applies to one
    take, to all takes of a `piece`, or to the whole kit if none is named.
    """

    kind: Literal["flip_recordings"] = "flip_recordings"
    mic: str
    side: Side = Side.BOTH
    piece: str | None = None
    articulation: str | None = None
    take: str | None = None


class CentreRecording(Value):
    """Removes the DC offset of a take's recordings during playback."""

    kind: Literal["centre_recording"] = "centre_recording"
    articulation: str
    take: str


class ForgetLabel(Value):
    """Ignores the note numbers in a take's file names."""

    kind: Literal["forget_label"] = "forget_label"
    articulation: str
    take: str


class FlipPolarity(Value):
    """Flips a microphone's polarity during playback; its recordings stay as they are."""

    kind: Literal["flip_polarity"] = "flip_polarity"
    mic: str


class SetMic(Value):
    """Sets a microphone's name, or the level or mute of everything it recorded. None leaves a field as it is."""

    kind: Literal["set_mic"] = "set_mic"
    mic: str
    name: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    gain_db: Level | None = None
    muted: bool | None = None


def _trim_takes(kit: Kit, edit: TrimTakes) -> Kit:
    changes = {name: value for name in (*TRIMS, "enabled") if (value := getattr(edit, name)) is not None}
    if "end_ms" in changes:
        changes["end_ms"] = max(1.0, changes["end_ms"]) if changes["end_ms"] else None
    _, articulation = articulation_of(kit, edit.articulation)
    for wanted in edit.takes:
        take_of(articulation, wanted)
    chosen = set(edit.takes)
    return with_articulation(
        kit,
        edit.articulation,
        lambda a: a.but(takes=tuple(t.but(**changes) if t.id in chosen else t for t in a.takes)),
    )


def inserted(layer: Layer, takes: Sequence[str], place: int | None) -> Layer:
    """A layer with takes inserted before the one at `place`."""
    at = len(layer.takes) if place is None else min(place, len(layer.takes))
    return layer.but(takes=(*layer.takes[:at], *takes, *layer.takes[at:]))


def _move_takes(kit: Kit, edit: MoveTakes) -> Kit:
    _, source = articulation_of(kit, edit.articulation)
    moving = [take_of(source, wanted) for wanted in dict.fromkeys(edit.takes)]
    target_id = edit.to or edit.articulation
    _, target = articulation_of(kit, target_id)
    if edit.layer is not None and target.layers:
        layer_of(target, edit.layer)
    names = [take.id for take in moving]
    if target_id == edit.articulation:
        layers = list(without_takes(source.layers, names))
        if edit.layer is not None:
            here = source.layers[edit.layer].takes
            place = edit.place
            if place is not None:
                place -= sum(1 for i in here[:place] if i in set(names))
            layers[edit.layer] = inserted(layers[edit.layer], names, place)
        return with_articulation(kit, edit.articulation, lambda a: a.but(layers=tuple(layers)))
    if len(moving) == len(source.takes):
        raise Refusal(f"These are all the takes {source.name} has; delete the articulation instead.")
    left = source.but(
        takes=tuple(t for t in source.takes if t.id not in set(names)), layers=without_takes(source.layers, names)
    )
    owner = articulation_of(kit, edit.articulation)[0]
    kit = with_articulation(kit, edit.articulation, lambda _: left)
    new_owner = articulation_of(kit, target_id)[0]
    own = new_owner.own_mics
    if new_owner.id != owner.id:
        moving = [_unheard_by(take) for take in moving]
    if edit.layer is None:
        return with_articulation(kit, target_id, lambda a: joined_by_level(a, moving, own))
    return with_articulation(kit, target_id, lambda a: taken_in(a, moving, edit.layer, edit.place, own))


def _unheard_by(take: Take) -> Take:
    """A take that leaves its piece loses its comparison with that piece's own microphones, which means nothing
    elsewhere.
    """
    return take.but(recordings=tuple(r.but(against=()) for r in take.recordings))


def joined_by_level(there: Articulation, takes: Sequence[Take], own_mics: tuple[str, ...]) -> Articulation:
    """An articulation with takes added, each in the layer nearest in level."""
    for take in takes:
        level, _ = heard_as(take.recordings, own_mics)
        apart = [abs(other - level) for other in layer_levels_db(there)]
        there = taken_in(there, [take], apart.index(min(apart)) if apart else 0, None, own_mics)
    return there


def taken_in(
    articulation: Articulation, takes: Sequence[Take], layer: int | None, place: int | None, own_mics: tuple[str, ...]
) -> Articulation:
    """An articulation with takes from elsewhere, under new ids, with levels measured in its own microphones."""
    highest = max((int(t.id[1:]) for t in articulation.takes if t.id[1:].isdecimal()), default=0)
    new = []
    for number, take in enumerate(takes, start=highest + 1):
        level, start = heard_as(take.recordings, own_mics)
        new.append(take.but(id=f"t{number}", level_db=level, start_ms=start))
    layers = list(articulation.layers)
    names = [take.id for take in new]
    if layers and layer is not None:
        layers[layer] = inserted(layers[layer], names, place)
    elif layer is not None:
        layers = [Layer(low=1, high=127, takes=tuple(names))]
    return articulation.but(takes=(*articulation.takes, *new), layers=tuple(layers))


def _swap_takes(kit: Kit, edit: SwapTakes) -> Kit:
    _, articulation = articulation_of(kit, edit.articulation)
    for wanted in (edit.take, edit.other):
        take_of(articulation, wanted)
    turned = {edit.take: edit.other, edit.other: edit.take}
    layers = tuple(layer.but(takes=tuple(turned.get(i, i) for i in layer.takes)) for layer in articulation.layers)
    return with_articulation(kit, edit.articulation, lambda a: a.but(layers=layers))


def _borrow_recording(kit: Kit, edit: BorrowRecording) -> Kit:
    piece, articulation = articulation_of(kit, edit.articulation)
    take = take_of(articulation, edit.take)
    lender = take_of(articulation, edit.from_take)
    if any(r.mic == edit.mic for r in take.recordings):
        raise Refusal(f"{full_name(piece, articulation)} {take.label} has a recording from that microphone already.")
    lent = next((r for r in lender.recordings if r.mic == edit.mic), None)
    if lent is None:
        raise Refusal(f"{full_name(piece, articulation)} {lender.label} has no recording from that microphone either.")
    # The borrowed recording is cut as its own take was, so that its delay after the strike stays the same.
    lent = lent.but(cut_ms=lender.start_ms if lent.cut_ms is None else lent.cut_ms)
    return with_take(kit, edit.articulation, edit.take, lambda t: t.but(recordings=(*t.recordings, lent)))


def _each_recording(kit: Kit, edit: Any, change: Callable[[Recording], Recording]) -> Kit:
    return with_take(
        kit, edit.articulation, edit.take, lambda t: t.but(recordings=tuple(change(r) for r in t.recordings))
    )


def _mic(kit: Kit, wanted: str) -> None:
    if all(mic.id != wanted for mic in kit.mics):
        raise Refusal(f"This kit has no microphone “{wanted}”.")


def _flip_polarity(kit: Kit, edit: FlipPolarity) -> Kit:
    _mic(kit, edit.mic)
    return kit.but(mics=tuple(m.but(inverted=not m.inverted) if m.id == edit.mic else m for m in kit.mics))


def _set_mic(kit: Kit, edit: SetMic) -> Kit:
    _mic(kit, edit.mic)
    asked = {"name": edit.name.strip() or None if edit.name else None, "gain_db": edit.gain_db, "muted": edit.muted}
    changes = {name: value for name, value in asked.items() if value is not None}
    return kit.but(mics=tuple(m.but(**changes) if m.id == edit.mic else m for m in kit.mics))


_TURNS = {Side.LEFT: {0}, Side.RIGHT: {1}, Side.BOTH: {0, 1}}


def with_flipped(recording: Recording, side: Side) -> Recording:
    """A recording with one side's polarity flipped; a mono recording has only both."""
    if recording.width == "mono" and side is not Side.BOTH:
        return recording
    now = _TURNS[side] ^ (_TURNS[recording.flipped] if recording.flipped else set())
    return recording.but(flipped=next((s for s, turns in _TURNS.items() if turns == now), None))


def _turn_over(kit: Kit, edit: FlipRecordings) -> Kit:
    _mic(kit, edit.mic)
    found = False

    def turned(take: Take) -> Take:
        nonlocal found
        if not any(r.mic == edit.mic for r in take.recordings):
            return take
        found = True
        return take.but(
            recordings=tuple(with_flipped(r, edit.side) if r.mic == edit.mic else r for r in take.recordings)
        )

    if edit.articulation is not None and edit.take is not None:
        kit = with_take(kit, edit.articulation, edit.take, turned)
    else:
        for piece in [piece_of(kit, edit.piece)] if edit.piece is not None else pieces_of(kit):
            for articulation in piece.articulations:
                if edit.articulation in (None, articulation.id):
                    kit = with_articulation(
                        kit, articulation.id, lambda a: a.but(takes=tuple(turned(t) for t in a.takes))
                    )
    if not found:
        raise Refusal(f"There is no recording from “{edit.mic}” there.")
    return kit


def _move_recording(kit: Kit, edit: MoveRecording) -> Kit:
    _, articulation = articulation_of(kit, edit.articulation)
    take = take_of(articulation, edit.take)
    found = next((r for r in take.recordings if r.mic == edit.mic), None)
    if found is None:
        raise Refusal(f"Take {take.label} has no recording from “{edit.mic}”.")
    if any(
        r.content == found.content and r.mic == edit.mic
        for t in articulation.takes
        if t is not take
        for r in t.recordings
    ):
        raise Refusal(f"Take {take.label} shares its recording from “{edit.mic}” with another, which it is cut with.")
    moved = found.but(cut_ms=round(take.start_ms + edit.by_ms, 4) if edit.by_ms else None)
    return with_take(
        kit,
        edit.articulation,
        edit.take,
        lambda t: t.but(recordings=tuple(moved if r is found else r for r in t.recordings)),
    )


MEANINGS = Meanings()
MEANINGS.add(TrimTakes, _trim_takes)
MEANINGS.add(MoveTakes, _move_takes)
MEANINGS.add(SwapTakes, _swap_takes)
MEANINGS.add(BorrowRecording, _borrow_recording)
MEANINGS.add(MoveRecording, _move_recording)
MEANINGS.add(FlipRecordings, _turn_over)
MEANINGS.add(CentreRecording, lambda kit, edit: _each_recording(kit, edit, lambda r: r.but(centred=True)))
MEANINGS.add(ForgetLabel, lambda kit, edit: _each_recording(kit, edit, lambda r: r.but(label_note=None)))
MEANINGS.add(FlipPolarity, _flip_polarity)
MEANINGS.add(SetMic, _set_mic)
