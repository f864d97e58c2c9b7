"""Every edit as a sentence: what it does, to which item, and to which value.

The sentence is made from the kit before the edit. It is short enough for a button (“Undo: Snare to −3.0 dB”) and for
the list of versions.
"""

from collections.abc import Callable, Iterable
from typing import Any

from drumcore.edits import bleed as bleed_edits
from drumcore.edits import bring_piece_values
from drumcore.edits import buses as buses_edits
from drumcore.edits import channels as channels_edits
from drumcore.edits import findings as findings_edits
from drumcore.edits import layers as layers_edits
from drumcore.edits import notes as notes_edits
from drumcore.edits import outputs as outputs_edits
from drumcore.edits import pieces as pieces_edits
from drumcore.edits import single_sounds as single_sounds_edits
from drumcore.edits import takes as takes_edits
from drumcore.edits import touch as touch_edits
from drumcore.edits.values import Edit, Several
from drumcore.kit.flow import channels_and_buses
from drumcore.kit.lookup import full_name, pieces_of
from drumcore.kit.trim_field import Trim, TrimUnit
from drumcore.kit.trims import TRIMS
from drumcore.kit.values import LEAST_DB, Kit, Side
from drumcore.notes.names import note_name
from drumcore.routing.shipped import PLANS
from drumcore.value import Value

LONGEST = 160


def said_of(kit: Kit, edit: Edit) -> str:
    """An edit as a sentence without a full stop."""
    if isinstance(edit, Several):
        return _short(edit.said)
    return _short(SENTENCES[type(edit)](Names(kit), edit))


def _short(text: str) -> str:
    text = text.strip()
    return text if len(text) <= LONGEST else f"{text[: LONGEST - 1].rstrip()}…"


class Names:
    """Names by id; an unknown id is shown as it is."""

    def __init__(self, kit: Kit) -> None:
        self.kit = kit
        self._pieces = {piece.id: piece.name for piece in pieces_of(kit)}
        self._articulations = {s.id: full_name(piece, s) for piece in pieces_of(kit) for s in piece.articulations}
        self._mics = {mic.id: mic.name for mic in kit.mics}
        self._channels = {channel.id: channel.name for channel in (*channels_and_buses(kit.routing), kit.routing.main)}

    def piece(self, wanted: str) -> str:
        return self._pieces.get(wanted, wanted)

    def articulation(self, wanted: str) -> str:
        return self._articulations.get(wanted, wanted)

    def mic(self, wanted: str) -> str:
        return self._mics.get(wanted, wanted)

    def channel(self, wanted: str) -> str:
        return self._channels.get(wanted, wanted)

    def channels(self, wanted: Iterable[str]) -> str:
        return as_list([self.channel(each) for each in wanted])

    def takes(self, articulation: str, wanted: Iterable[str]) -> str:
        """One take by its name, several by their number."""
        ids = tuple(wanted)
        labels = {
            take.id: take.label
            for piece in pieces_of(self.kit)
            for each in piece.articulations
            if each.id == articulation
            for take in each.takes
        }
        of = self.articulation(articulation)
        return f"{of} {labels.get(ids[0], ids[0])}" if len(ids) == 1 else f"{len(ids)} takes of {of}"

    def note(self, note: int) -> str:
        return f"{note} ({note_name(note, self.kit.notes.middle_c)})"

    def output(self, number: int) -> str:
        name = next((o.name for o in self.kit.routing.outputs if o.number == number), "")
        return f"{number} {name}".strip()


def as_list(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}" if names else "nothing"


def db(level_db: float) -> str:
    return "−∞ dB" if level_db <= LEAST_DB else signed(level_db, "dB")


def signed(value: float, unit: str, digits: int = 1) -> str:
    return f"{value:.{digits}f} {unit}".replace("-", "−")


def percent(share: float) -> str:
    return f"{share:.0%}".replace("%", " %")


def pan(side: float) -> str:
    return "the middle" if side == 0.0 else f"{'left' if side < 0 else 'right'} {percent(abs(side))}"


def shaken(pads: int) -> str:
    return f"with {pads} {'pad with cross-talk' if pads == 1 else 'pads with cross-talk'}"


def output_called(name: str) -> str:
    return f"is called {name.strip()}" if name.strip() else "has no name of its own"


def on_track(name: str) -> str:
    return f"has the track {name.strip()}" if name.strip() else "has a track without a name"


def _changes(what: str, parts: Iterable[str | None]) -> str:
    """The settings that an edit changes, out of several."""
    said = [part for part in parts if part]
    return f"{what} {as_list(said) if said else 'as it is'}"


def muted(is_muted: bool | None) -> str | None:
    return None if is_muted is None else "muted" if is_muted else "unmuted"


def _set_channel(names: Names, e: channels_edits.SetChannel) -> str:
    return _changes(names.channel(e.channel), _of_channel(names, e, e.treated, e.side))


def _set_channels(names: Names, e: channels_edits.SetChannels) -> str:
    return _changes(names.channels(e.channels), _of_channel(names, e, None, None))


def _of_channel(names: Names, e: Any, treated: bool | None, side: Side | None) -> Iterable[str | None]:
    yield None if e.level_db is None else f"to {db(e.level_db)}"
    yield None if e.pan is None else f"panned to {pan(e.pan)}"
    yield muted(e.muted)
    yield None if treated is None else "treated" if treated else "treatment bypassed"
    yield None if side is None else "on both sides" if side is Side.BOTH else f"on the {side.value}"
    yield None if e.output is None else "to main" if e.output == 0 else f"to output {names.output(e.output)}"


def _set_feed(names: Names, e: channels_edits.SetFeed) -> str:
    what = f"{names.piece(e.piece)} in {names.mic(e.mic)}"
    if e.level_db is None:
        return f"{what} out of {names.channel(e.channel)}"
    return f"{what} into {names.channel(e.channel)} at {db(e.level_db)}{'' if e.on else ', off'}"


def _set_send(names: Names, e: buses_edits.SetSend) -> str:
    what = f"{names.channel(e.channel)} into {names.channel(e.bus)}"
    if e.level_db is None:
        return f"{names.channel(e.channel)} out of {names.channel(e.bus)}"
    when = "" if e.pre_fader is None else ", pre-fader" if e.pre_fader else ", post-fader"
    return f"{what} at {db(e.level_db)}{when}"


def _let_in(names: Names, e: bleed_edits.LetIn) -> str:
    level = None if e.level_db is None else f"at {db(e.level_db)}"
    on = None if e.on is None else "let in" if e.on else "off"
    return _changes(f"{names.piece(e.piece)} in {names.mic(e.mic)}", (level, on))


def _set_curve(names: Names, e: touch_edits.SetCurve) -> str:
    of = e.input_name or e.input
    if of is None:
        of = "everything" if e.target is None else _piece_or_articulation(names, e.target)
    return f"Curve of {of}" if e.curve is not None else f"No curve of its own for {of}"


def _piece_or_articulation(names: Names, wanted: str) -> str:
    return names.articulation(wanted) if names.articulation(wanted) != wanted else names.piece(wanted)


def _trim_takes(names: Names, e: takes_edits.TrimTakes) -> str:
    trims = (_trim(trim, value) for name, trim in TRIMS.items() if (value := getattr(e, name)) is not None)
    plays = None if e.enabled is None else "plays" if e.enabled else "disabled"
    return _changes(names.takes(e.articulation, e.takes), (*trims, plays))


def _trim(trim: Trim, value: Any) -> str:
    if isinstance(trim.edited, tuple):
        return trim.edited[0] if value else trim.edited[1]
    return trim.edited.format(TRIM_UNITS[trim.unit](value))


TRIM_UNITS: dict[TrimUnit, Callable[[Any], str]] = {
    "dB": db,
    "ct": lambda v: signed(v, "cents", 0),
    "ms": lambda v: signed(v, "ms", 1 if v < 100.0 else 0),
    "pan": pan,
}


def _set_input(names: Names, e: touch_edits.SetInput) -> str:
    return _changes(
        e.name,
        (
            None if e.cross_talk is None else shaken(len(e.cross_talk)),
            None if e.doubles_ms is None else f"doubles within {signed(e.doubles_ms, 'ms', 0)}",
            None if e.controller is None else f"pedal on controller {e.controller}",
            None if e.closed_at is None else f"closed at {e.closed_at}",
            None if e.open_at is None else f"open at {e.open_at}",
        ),
    )


def _set_tracking(names: Names, e: touch_edits.SetTracking) -> str:
    return _changes(
        f"Tracking of {names.piece(e.piece)}",
        (
            None if e.level is None else f"level by {percent(e.level)}",
            None if e.whole is None else "over the whole range" if e.whole else "inside its layers",
            None if e.brightness is None else f"brightness by {e.brightness:.1f} octaves",
            None if e.attack_soft_ms is None else f"soft attack {signed(e.attack_soft_ms, 'ms')}",
            None if e.attack_hard_ms is None else f"hard attack {signed(e.attack_hard_ms, 'ms')}",
        ),
    )


def _set_layer(names: Names, e: layers_edits.SetLayer) -> str:
    gain = None if e.gain_db is None else f"by {db(e.gain_db)}"
    blend = None if e.blend is None else f"blended over {e.blend}"
    return _changes(f"{_layer(names, e)}", (gain, blend))


def _layer(names: Names, e: Any) -> str:
    return f"Layer {e.layer + 1} of {names.articulation(e.articulation)}"


def _set_mic(names: Names, e: takes_edits.SetMic) -> str:
    name = None if e.name is None else f"is called {e.name}"
    gain = None if e.gain_db is None else f"by {db(e.gain_db)}"
    return _changes(names.mic(e.mic), (name, gain, muted(e.muted)))


def _set_piece(names: Names, e: pieces_edits.SetPiece) -> str:
    name = None if e.name is None else f"is called {e.name}"
    family = None if e.family is None else f"family {e.family.value}"
    level = None if e.level_db is None else f"to {db(e.level_db)} in all microphones"
    return _changes(names.piece(e.piece), (name, family, level))


def _bring_piece(names: Names, e: bring_piece_values.BringPiece) -> str:
    piece = f"{e.alone.pieces[0].name}{f' of {e.of}' if e.of else ''}"
    if e.instead_of:
        return f"{piece} replaces {names.piece(e.instead_of)}"
    return f"{piece} layered with {names.piece(e.together_with)}" if e.together_with else f"{piece} added"


def _bring_pieces(names: Names, e: bring_piece_values.BringPieces) -> str:
    if len(e.taken) == 1:
        return _bring_piece(names, e.taken[0])
    of = {one.of for one in e.taken}
    pieces = as_list([one.alone.pieces[0].name for one in e.taken])
    where = ", replacing ours" if all(one.instead_of for one in e.taken) else " added"
    return f"{pieces}{f' of {one}' if len(of) == 1 and (one := next(iter(of))) else ''}{where}"


def _add_sounds(names: Names, e: single_sounds_edits.AddSounds) -> str:
    more = f" and {len(e.pieces) - 1} more next to it" if len(e.pieces) > 1 else ""
    return f"{e.pieces[0].name} on {names.note(e.note)}{more}"


def _describe_kit(names: Names, e: pieces_edits.DescribeKit) -> str:
    tags = None if e.tags is None else f"tagged {as_list(list(e.tags))}"
    return _changes("The kit", (None if e.description is None else "described", tags))


def _apply_plan(names: Names, e: outputs_edits.ApplyPlan) -> str:
    name = next(
        (f" “{plan.name}”" for plan in PLANS if e.plan in (plan.id, plan.plan)), f" “{e.called}”" if e.called else ""
    )
    return f"Route by the plan{name}" if name else "Route by a plan"


def _name_output(names: Names, e: outputs_edits.NameOutput) -> str:
    name = None if e.name is None else output_called(e.name)
    track = None if e.track is None else on_track(e.track)
    return _changes(f"Output {e.output}", (name, track))


def _flip_recordings(names: Names, e: takes_edits.FlipRecordings) -> str:
    side = "" if e.side is Side.BOTH else f" ({e.side.value})"
    of = names.articulation(e.articulation) if e.articulation else names.piece(e.piece) if e.piece else ""
    take = f" {e.take}" if e.take else ""
    return f"{names.mic(e.mic)}{side} polarity flipped{f' in {of}{take}' if of else ''}"


def _follow_strength(names: Names, e: touch_edits.FollowStrength) -> str:
    how = "like its piece" if e.whole is None else "over the whole range" if e.whole else "inside its layers"
    return f"{names.articulation(e.articulation)} follows velocity {how}"


def _move_takes(names: Names, e: takes_edits.MoveTakes) -> str:
    where = f"to {names.articulation(e.to)}" if e.to else "unused" if e.layer is None else f"to layer {e.layer + 1}"
    return f"{names.takes(e.articulation, e.takes)} {where}"


def _set_choke(names: Names, e: notes_edits.SetChoke) -> str:
    if e.fade_ms is None:
        return f"{names.articulation(e.articulation)} no longer chokes {names.articulation(e.stopped)}"
    return (
        f"{names.articulation(e.articulation)} chokes {names.articulation(e.stopped)} in {signed(e.fade_ms, 'ms', 0)}"
    )


def _boundary(names: Names, e: layers_edits.MoveBoundary) -> str:
    return f"Boundary above layer {e.layer + 1} of {names.articulation(e.articulation)} to {e.velocity}"


def _teach(names: Names, e: notes_edits.TeachNote) -> str:
    return f"{names.articulation(e.articulation)} taught on {names.note(e.note)}"


def _openness(names: Names, e: notes_edits.SetOpenness) -> str:
    blend = None if e.blend is None else f"blended over {e.blend}"
    pedal = None if e.pedal_sounds is None else "has a sound of its own" if e.pedal_sounds else "needs a note"
    return _changes("The pedal", (blend, pedal))


SENTENCES: dict[type[Value], Callable[[Names, Any], str]] = {
    pieces_edits.BuildPieces: lambda n, e: f"Pieces made: {as_list([piece.name for piece in e.pieces])}",
    pieces_edits.AddToPiece: lambda n, e: f"Takes added to {n.piece(e.piece)}",
    pieces_edits.MakePiece: lambda n, e: f"New piece {e.name}",
    pieces_edits.SetPiece: _set_piece,
    pieces_edits.MovePiece: lambda n, e: f"{n.piece(e.piece)} to place {e.place + 1}",
    pieces_edits.DuplicatePiece: lambda n, e: f"{n.piece(e.piece)} duplicated",
    pieces_edits.RemovePiece: lambda n, e: f"{n.piece(e.piece)} deleted",
    pieces_edits.MakeArticulation: lambda n, e: f"New articulation {e.name} of {n.piece(e.piece)}",
    pieces_edits.MoveArticulation: lambda n, e: f"{n.articulation(e.articulation)} to place {e.place + 1}",
    pieces_edits.DuplicateArticulation: lambda n, e: f"{n.articulation(e.articulation)} duplicated",
    pieces_edits.RemoveArticulation: lambda n, e: f"{n.articulation(e.articulation)} deleted",
    pieces_edits.RenameArticulation: lambda n, e: f"{n.articulation(e.articulation)} is called {e.name}",
    pieces_edits.RenameKit: lambda n, e: f"The kit is called {e.name.strip() or n.kit.name}",
    pieces_edits.DescribeKit: _describe_kit,
    single_sounds_edits.AddSounds: _add_sounds,
    bring_piece_values.BringPiece: _bring_piece,
    bring_piece_values.BringPieces: _bring_pieces,
    layers_edits.AddLayer: lambda n, e: f"New layer above {e.above + 1} of {n.articulation(e.articulation)}",
    layers_edits.EvenOutLayers: lambda n, e: f"{n.articulation(e.articulation)} layer levels evened out",
    layers_edits.CloseGaps: lambda n, e: f"Gaps of {n.articulation(e.articulation)} closed",
    layers_edits.SplitLayer: lambda n, e: f"{_layer(n, e)} split",
    layers_edits.EndOverlaps: lambda n, e: f"Overlaps of {n.articulation(e.articulation)} ended",
    layers_edits.MatchTakeLevels: lambda n, e: f"Takes of {n.articulation(e.articulation)} matched in level",
    layers_edits.MakeLayers: lambda n, e: f"{n.articulation(e.articulation)} in {e.count} layers",
    layers_edits.MergeLayers: lambda n, e: (
        f"Layers {e.layer + 1} and {e.layer + 2} of {n.articulation(e.articulation)} merged"
    ),
    layers_edits.MoveBoundary: _boundary,
    layers_edits.RemoveLayer: lambda n, e: f"{_layer(n, e)} deleted",
    layers_edits.SetLayer: _set_layer,
    layers_edits.SetOrder: lambda n, e: (
        f"{f'Takes of {n.articulation(e.articulation)}' if e.layer is None else _layer(n, e)} {e.order.value.replace('_', ' ')}"
    ),
    layers_edits.SetRange: lambda n, e: f"{_layer(n, e)} from {e.low} to {e.high}",
    layers_edits.SetVariation: lambda n, e: f"Variation of {n.articulation(e.articulation)}",
    layers_edits.SortLayers: lambda n, e: f"Layers of {n.articulation(e.articulation)} by loudness",
    layers_edits.SplitByLoudness: lambda n, e: f"{n.articulation(e.articulation)} split by loudness",
    layers_edits.SplitEvenly: lambda n, e: f"{n.articulation(e.articulation)} split evenly",
    takes_edits.BorrowRecording: lambda n, e: f"{n.takes(e.articulation, [e.take])} borrows {n.mic(e.mic)}",
    takes_edits.CentreRecording: lambda n, e: f"{n.takes(e.articulation, [e.take])} centred",
    takes_edits.FlipPolarity: lambda n, e: f"{n.mic(e.mic)} polarity flipped",
    takes_edits.ForgetLabel: lambda n, e: f"Label of {n.takes(e.articulation, [e.take])} ignored",
    takes_edits.MoveRecording: lambda n, e: (
        f"{n.mic(e.mic)} of {n.takes(e.articulation, [e.take])} moved by {signed(e.by_ms, 'ms')}"
    ),
    takes_edits.MoveTakes: _move_takes,
    takes_edits.SetMic: _set_mic,
    takes_edits.SwapTakes: lambda n, e: (
        f"{n.takes(e.articulation, [e.take])} swapped with {n.takes(e.articulation, [e.other])}"
    ),
    takes_edits.TrimTakes: _trim_takes,
    takes_edits.FlipRecordings: _flip_recordings,
    notes_edits.ApplyMap: lambda n, e: f"Note map {e.map.name} applied" if e.map else "Standard note map applied",
    notes_edits.MoveNote: lambda n, e: f"Note {n.note(e.note)} to {n.note(e.to)}",
    notes_edits.MoveOpennessLimit: lambda n, e: f"Limit {e.limit + 1} of note {n.note(e.note)} to {e.openness}",
    notes_edits.NoteEach: lambda n, e: f"Everything on {n.note(e.note)} on separate notes",
    notes_edits.PutOnNote: lambda n, e: f"{n.articulation(e.articulation)} on {n.note(e.note)}",
    notes_edits.SetHandStop: lambda n, e: (
        f"A hand chokes {n.piece(e.piece)}" if e.fade_ms is not None else f"No hand choke of {n.piece(e.piece)}"
    ),
    notes_edits.SetMiddleC: lambda n, e: f"Middle C is C{e.octave}",
    notes_edits.SetOpenness: _openness,
    notes_edits.SetPlaced: lambda n, e: f"{n.articulation(e.articulation)} on {n.note(e.note)} at {db(e.gain_db)}",
    notes_edits.SetChoke: _set_choke,
    notes_edits.ChokeAsUsual: lambda n, e: f"{n.piece(e.piece)} has the usual chokes",
    notes_edits.SpreadOpenness: lambda n, e: f"Articulations of {n.piece(e.piece)} along the pedal on {n.note(e.note)}",
    notes_edits.RemoveFromNote: lambda n, e: f"{n.articulation(e.articulation)} off {n.note(e.note)}",
    notes_edits.TeachNote: _teach,
    touch_edits.FollowStrength: _follow_strength,
    touch_edits.SetCurve: _set_curve,
    touch_edits.SetInput: _set_input,
    touch_edits.SetTracking: _set_tracking,
    channels_edits.SetChannel: _set_channel,
    channels_edits.SetChannels: _set_channels,
    channels_edits.GroupChannels: lambda n, e: f"{n.channels(e.channels)} grouped",
    channels_edits.Ungroup: lambda n, e: f"{n.channel(e.channel)} ungrouped",
    channels_edits.SetTreatment: lambda n, e: f"{kind_name(e.treatment.kind)} of {n.channel(e.channel)}",
    channels_edits.RemoveTreatment: lambda n, e: f"{kind_name(e.treatment)} removed from {n.channel(e.channel)}",
    channels_edits.SetTreatments: lambda n, e: (
        f"Treatment of {n.channel(e.channel)}" if e.treatments else f"All treatment removed from {n.channel(e.channel)}"
    ),
    channels_edits.BypassTreatment: lambda n, e: "All treatment bypassed" if e.bypassed else "All treatment enabled",
    channels_edits.SetFeed: _set_feed,
    channels_edits.RemoveChannel: lambda n, e: f"{n.channel(e.channel)} deleted",
    buses_edits.MakeBus: lambda n, e: f"New bus {e.name}",
    buses_edits.RemoveBus: lambda n, e: f"{n.channel(e.bus)} deleted",
    buses_edits.MoveBus: lambda n, e: f"{n.channel(e.bus)} to place {e.to + 1}",
    buses_edits.NameBus: lambda n, e: f"{n.channel(e.bus)} is called {e.name}",
    buses_edits.SetSend: _set_send,
    buses_edits.GoIntoBus: lambda n, e: f"{n.channels(e.channels)} into {n.channel(e.bus)}",
    buses_edits.SetSpace: lambda n, e: (
        f"{n.channel(e.bus)} through {'an' if e.space.kind == 'echo' else 'a'} {e.space.kind}"
        if e.space
        else f"{n.channel(e.bus)} without reverb or echo"
    ),
    bleed_edits.LetIn: _let_in,
    bleed_edits.LetInto: lambda n, e: f"{n.piece(e.piece)} in {n.mic(e.mic)} into {n.channel(e.channel)}",
    bleed_edits.CloseOnly: lambda n, e: "Close microphones only",
    bleed_edits.AllAsRecorded: lambda n, e: "All as recorded",
    outputs_edits.ApplyPlan: _apply_plan,
    outputs_edits.SetHost: lambda n, e: f"Routed for {e.host.name}",
    outputs_edits.ClearOutputs: lambda n, e: "All outputs cleared",
    outputs_edits.NameOutput: _name_output,
    outputs_edits.CopyOutputNames: lambda n, e: "Output names copied to tracks",
    outputs_edits.KeepPlace: lambda n, e: f"{n.channel(e.channel)} kept where it is, in the plan too",
    findings_edits.IgnoreFinding: lambda n, e: (
        "A finding is ignored" if e.ignored else "A finding is no longer ignored"
    ),
}


def kind_name(kind: str) -> str:
    """The name of a treatment kind."""
    return kind.upper() if kind == "eq" else kind.capitalize()
