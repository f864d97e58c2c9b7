"""A kit as shown in the interface: its values with what the core computes from them, limited to what is drawn."""

from collections.abc import Sequence

from pydantic import BaseModel, ConfigDict

from drumcore.findings.progress import steps_made
from drumcore.kit.flow import may_enter
from drumcore.kit.lookup import pieces_of
from drumcore.kit.memoization import remembered
from drumcore.kit.trims import is_trimmed, trims_of
from drumcore.kit.values import (
    Articulation,
    Channel,
    Choke,
    Family,
    Feed,
    Hand,
    Input,
    Kit,
    Layer,
    Mic,
    Order,
    Output,
    Piece,
    Placed,
    ReferenceComparison,
    Routing,
    Send,
    Side,
    Take,
    Tracking,
    Trims,
    Variation,
    Width,
)
from drumcore.layers.dynamics import played_db
from drumcore.layers.from_takes import layer_levels_db, played_level_db
from drumcore.layers.ranges import BlendedRange, blended
from drumcore.layers.unevenness import (
    MOST_SPREAD_DB,
    STANDS_OUT_DB,
    Stretch,
    away_db,
    doubled,
    is_narrow,
    layer_spread_db,
    meets_neighbours,
    unanswered,
)
from drumcore.notes.chokes import CHOKED_BY_KIND, sentence
from drumcore.notes.maps import STANDARD_NAME, customised
from drumcore.notes.names import note_name
from drumcore.notes.openness import along_the_pedal
from drumcore.notes.sheet import NoteShown, sheet, usual_note
from drumcore.notes.standard import GENERAL_MIDI
from drumcore.playing.compiler import compile_head, compile_piece, compiled_anew
from drumcore.playing.mixer import outputs_in_use
from drumcore.playing.play_table import PlayHead, PlayPiece
from drumcore.recordings.own_mics import own_recording
from drumcore.routing.bleed import recorded_db
from drumcore.routing.default_routing import channel_width, mics_heard
from drumcore.routing.level_groups import groups
from drumcore.routing.reachability import silent_pieces
from drumcore.routing.signal_paths import outputs_reached
from drumcore.routing.track_sheet import track_of
from drumcore.spaces.kinds import SpaceOfAKind
from drumcore.touch.active_curves import InForce, of_articulation, of_everything, of_input, of_piece
from drumcore.touch.tracking import Harder, articulation_tracking, harder, most_level
from drumcore.treatments.kinds import TreatmentOfAKind
from studio.kits.models import KitRecord
from studio.kits.versions import undo_and_redo, untold


class TakeShown(Trims):
    """`trimmed` says whether any trim is set; outline, file and content are those of the recording that represents the
    take.
    """

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    id: str
    label: str
    level_db: float
    start_ms: float
    hand: Hand | None
    enabled: bool
    trimmed: bool
    outline: str
    file: str
    content: str
    recordings: int


class Boundary(BaseModel):
    """The range of a layer's upper end: from `least`, to `most` together with the next layer, else to `alone`."""

    least: int
    most: int
    alone: int


class LayerShown(BaseModel):
    """`away_db` is each take's distance from the layer's level, for takes that stand out; `apart` and `twice` mark a
    gap to or overlap with a neighbour.
    """

    low: int
    high: int
    takes: list[str]
    order: Order
    gain_db: float
    blend: int
    reach_low: int
    reach_high: int
    level_db: float
    spread_db: float
    spread_wide: bool
    narrow: bool
    apart: bool
    twice: bool
    away_db: list[float]
    stands_out: list[str]
    boundary: Boundary | None


class ArticulationShown(BaseModel):
    """`plays_db` is its level at velocities 1 to 127, null where it is silent; `follows_whole` says whether level
    follows velocity over the whole range.
    """

    id: str
    name: str
    takes: list[TakeShown]
    layers: list[LayerShown]
    variation: Variation
    follows_whole: bool
    most_level: float
    plays_db: list[float | None]
    unanswered: list[Stretch]
    doubled: list[Stretch]
    curve: InForce
    chokes: list[Choke]


class PieceShown(BaseModel):
    """`along_the_pedal` are the articulations of hats from closed to open; `choke_sentence` says which articulation
    stops which, and `has_usual_chokes` whether its family has default chokes. `heard_db` says for each microphone in
    `heard_by` how loud the piece was recorded there against its own microphone.
    """

    id: str
    name: str
    family: Family
    articulations: list[ArticulationShown]
    level_db: float
    own_mics: list[str]
    heard_by: list[str]
    heard_db: list[float]
    curve: InForce
    tracking: Tracking
    harder: Harder
    along_the_pedal: list[str]
    choke_sentence: str
    has_usual_chokes: bool
    hand_stop_ms: float | None


class InputShown(BaseModel):
    """The kit's settings of an input, and the curve that applies to it."""

    known: Input
    curve: InForce


class ChannelShown(BaseModel):
    """`may_enter` are the buses it could be routed or sent to without a loop."""

    id: str
    name: str
    width: Width
    level_db: float
    pan: float
    muted: bool
    output: int
    side: Side
    treated: bool
    bus: str
    may_enter: list[str]
    sends: list[Send]
    treatments: list[TreatmentOfAKind]
    space: SpaceOfAKind | None
    feeds: list[Feed]


class HeadShown(BaseModel):
    """`note_names[n]` names note n; `standard_names` what General MIDI has there; `customised` the notes that differ
    from the map applied last; `silent` why a piece is not heard, by its id; `groups` the channel groups; `made` the
    steps that have results.
    """

    name: str
    made: list[str]
    rate_hz: int
    mics: list[Mic]
    placed: list[Placed]
    customised: list[int]
    base_name: str
    openness_blend: int
    pedal_sounds: bool
    inputs: list[InputShown]
    middle_c: int
    note_names: list[str]
    standard_names: dict[int, str]
    sheet: list[NoteShown]
    usual_notes: dict[str, int]
    curve: InForce
    unknown_input: InForce
    host: str
    channels: list[ChannelShown]
    buses: list[ChannelShown]
    groups: list[list[str]]
    outputs: list[Output]
    outputs_used: list[int]
    track_names: dict[int, str]
    piece_outputs: dict[str, list[int]]
    silent: dict[str, str]
    main: ChannelShown
    treated: bool


FIRST = 1
"""The number of a kit's first version."""


class KitState(BaseModel):
    """A kit's state. In the response to an edit, `pieces` and `play_pieces` hold only what changed. `notes` are notices
    shown once: the kit comes from an older version, or was repaired. A kit that `ships` is not changed: an edit goes to
    a copy, which this is then, and `copied` says so.
    """

    id: str
    version: int
    undo: str | None
    redo: str | None
    notes: list[str]
    ships: bool
    copied: str = ""
    order: list[str]
    head: HeadShown
    pieces: list[PieceShown]
    play_head: PlayHead
    play_pieces: list[PlayPiece]


class RecordingShown(BaseModel):
    mic: str
    path: str
    content: str
    rate_hz: int
    frames: int
    width: Width
    level_db: float
    peak_dbfs: float
    start_ms: float
    cut_ms: float | None
    centroid_hz: float
    clipped_runs: int
    dc_offset: float
    centred: bool
    flipped: Side | None
    length_ms: float
    against: tuple[ReferenceComparison, ...]
    outline: str


def state_of(record: KitRecord, kit: Kit, before: Kit | None = None, copied: str = "") -> KitState:
    """The state of a kit; with `before`, only the pieces that changed since that kit."""
    undo, redo = undo_and_redo(record)
    known = {piece.id: piece for piece in before.pieces} if before else {}
    changed = [piece for piece in pieces_of(kit) if known.get(piece.id) is not piece and known.get(piece.id) != piece]
    recompiled = compiled_anew(kit, before) if before else pieces_of(kit)
    play_head = compile_head(kit)
    return KitState(
        id=record.id,
        version=record.current,
        undo=undo,
        redo=redo,
        notes=list(untold(record)),
        ships=record.ships,
        # An unchanged copy says by itself that it is one.
        copied=copied or (_copied(record) if record.current == FIRST else ""),
        order=[piece.id for piece in pieces_of(kit)],
        head=head_shown(kit, play_head),
        pieces=[piece_shown(piece) for piece in changed],
        play_head=play_head,
        play_pieces=[compile_piece(piece, kit) for piece in recompiled],
    )


def state_after(kit_id: str, record: KitRecord, kit: Kit, before: Kit) -> KitState:
    """The state after a change; all of it, if a copy was made to hold the change."""
    if record.id == kit_id:
        return state_of(record, kit, before)
    return state_of(record, kit, copied=_copied(record))


def _copied(record: KitRecord) -> str:
    """The sentence for a copy of a kit that ships."""
    origin = KitRecord.objects.filter(id=record.copied_from, ships=True).values_list("name", flat=True).first()
    return f"{origin} ships with Zesty Skin and never changes. This is your own copy." if origin else ""


def head_shown(kit: Kit, play_head: PlayHead) -> HeadShown:
    routing = kit.routing
    return HeadShown(
        name=kit.name,
        made=list(steps_made(kit)),
        rate_hz=kit.rate_hz,
        silent=silent_pieces(kit),
        mics=list(kit.mics),
        placed=list(kit.notes.placed),
        customised=list(customised(kit)),
        base_name=kit.notes.base.name if kit.notes.base else STANDARD_NAME,
        openness_blend=kit.notes.openness_blend,
        pedal_sounds=kit.notes.pedal_sounds,
        inputs=[
            InputShown(
                known=known,
                curve=of_input(kit, known.id),
            )
            for known in kit.inputs
        ],
        middle_c=kit.notes.middle_c,
        note_names=[note_name(note, kit.notes.middle_c) for note in range(128)],
        standard_names=GENERAL_MIDI,
        sheet=list(sheet(kit.notes)),
        usual_notes={p.id: note for p in pieces_of(kit) if (note := usual_note(p, kit.notes)) is not None},
        curve=of_everything(kit),
        unknown_input=of_input(kit, ""),
        host=routing.host,
        channels=[
            _channel(routing, c, channel_width(kit, c.id), [feed for feed in routing.feeds if feed.channel == c.id])
            for c in routing.channels
        ],
        buses=[_channel(routing, bus, Width.STEREO, []) for bus in routing.buses],
        groups=[list(group) for group in groups(routing)],
        outputs=list(routing.outputs),
        outputs_used=[output.number for output in outputs_in_use(play_head)],
        track_names={output.number: track_of(output) for output in routing.outputs},
        piece_outputs={piece.id: list(outputs_reached(kit, piece)) for piece in pieces_of(kit)},
        main=_channel(routing, routing.main, Width.STEREO, []),
        treated=routing.treated,
    )


def _channel(routing: Routing, channel: Channel, width: Width, feeds: list[Feed]) -> ChannelShown:
    return ChannelShown(
        id=channel.id,
        name=channel.name,
        width=width,
        level_db=channel.level_db,
        pan=channel.pan,
        muted=channel.muted,
        output=channel.output or 0,
        side=channel.side,
        treated=channel.treated,
        bus=channel.bus,
        may_enter=list(may_enter(routing).get(channel.id, ())),
        sends=list(channel.sends),
        treatments=list(channel.treatments),
        space=channel.space,
        feeds=feeds,
    )


def piece_shown(piece: Piece) -> PieceShown:
    return PieceShown(
        id=piece.id,
        name=piece.name,
        family=piece.family,
        articulations=[_articulation(piece, a) for a in piece.articulations],
        level_db=piece.level_db,
        own_mics=list(piece.own_mics),
        heard_by=mics_heard(piece),
        heard_db=list(recorded_db(piece).values()),
        curve=of_piece(piece),
        tracking=piece.tracking,
        harder=harder(piece.tracking),
        along_the_pedal=[a.id for a in along_the_pedal(piece)] if piece.family is Family.HATS else [],
        choke_sentence=sentence(piece),
        has_usual_chokes=piece.family in CHOKED_BY_KIND,
        hand_stop_ms=piece.hand_stop_ms,
    )


def _articulation(piece: Piece, articulation: Articulation) -> ArticulationShown:
    levels = layer_levels_db(articulation)
    return ArticulationShown(
        id=articulation.id,
        name=articulation.name,
        takes=_takes(articulation.takes, piece.own_mics),
        layers=[
            _layer(articulation, number, level, answer)
            for number, (level, answer) in enumerate(zip(levels, blended(articulation.layers), strict=True))
        ],
        variation=articulation.variation,
        follows_whole=articulation_tracking(piece, articulation).whole,
        most_level=most_level(articulation_tracking(piece, articulation)),
        unanswered=list(unanswered(articulation.layers)),
        doubled=list(doubled(articulation.layers)),
        plays_db=[
            None if db is None else round(db, 2)
            for db in played_db(articulation, articulation_tracking(piece, articulation))
        ],
        curve=of_articulation(piece, articulation),
        chokes=list(articulation.chokes),
    )


def _layer(articulation: Articulation, number: int, level_db: float, answer: BlendedRange) -> LayerShown:
    layer = articulation.layers[number]
    by_id = {take.id: take for take in articulation.takes}
    away = {take: away_db(by_id[take], level_db) for take in layer.takes}
    apart, twice = meets_neighbours(articulation.layers, number)
    spread = layer_spread_db(articulation, layer)
    return LayerShown(
        low=layer.low,
        high=layer.high,
        takes=list(layer.takes),
        order=layer.order,
        gain_db=layer.gain_db,
        blend=layer.blend,
        reach_low=answer.low,
        reach_high=answer.high,
        level_db=round(level_db + layer.gain_db, 2),
        spread_db=round(spread, 2),
        spread_wide=spread > MOST_SPREAD_DB,
        narrow=is_narrow(layer),
        apart=apart,
        twice=twice,
        away_db=[round(db, 2) for db in away.values()],
        stands_out=[take for take, db in away.items() if abs(db) > STANDS_OUT_DB],
        boundary=_boundary(articulation.layers, number),
    )


def _boundary(layers: Sequence[Layer], number: int) -> Boundary | None:
    if number + 1 == len(layers):
        return None
    return Boundary(least=layers[number].low, most=layers[number + 1].high - 1, alone=127)


@remembered(limit=2000)
def _takes(takes: tuple[Take, ...], own_mics: tuple[str, ...]) -> list[TakeShown]:
    return [
        TakeShown(
            id=t.id,
            label=t.label,
            level_db=round(played_level_db(t), 2),
            start_ms=t.start_ms,
            hand=t.hand,
            enabled=t.enabled,
            **trims_of(t),
            trimmed=is_trimmed(t),
            outline=own_recording(own_mics, t.recordings).outline,
            file=own_recording(own_mics, t.recordings).path,
            content=own_recording(own_mics, t.recordings).content,
            recordings=len(t.recordings),
        )
        for t in takes
    ]


def recordings_of(take: Take) -> list[RecordingShown]:
    """Every microphone's recording of a take."""
    return [RecordingShown(**{f: getattr(r, f) for f in RecordingShown.model_fields}) for r in take.recordings]
