"""The kit as a value: a frozen tree that can be compared, saved, undone and exported.

Nothing is computed here. Every value is immutable; a changed kit is a new kit that shares its unchanged parts.
"""

import itertools
import re
from enum import StrEnum
from typing import Annotated, Self

from pydantic import AliasChoices, Field, model_validator

from drumcore.kit.rates import USUAL_RATE, Rate
from drumcore.kit.trim_field import Trim
from drumcore.spaces.kinds import SpaceOfAKind
from drumcore.treatments.kinds import TreatmentOfAKind
from drumcore.value import Value

KIT_FORMAT = 14
MOST_NODES = 32
MOST_OUTPUTS = 64
"""As many outputs as a host has at most."""
OPENNESS_CONTROLLER = 4
"""The controller that most pedals send the hats' openness on: the foot controller of MIDI 1.0."""
Velocity = Annotated[int, Field(ge=1, le=127)]
MidiNote = Annotated[int, Field(ge=0, le=127)]
LEAST_DB, MOST_DB = -120.0, 24.0
"""The ends of a level; at the least there is nothing."""
Level = Annotated[float, Field(ge=LEAST_DB, le=MOST_DB)]
Measured = Annotated[float, Field(ge=-400.0, le=200.0)]
"""A level that was measured, in dB."""
Moment = Annotated[float, Field(ge=-1e7, le=1e9)]
"""A place in a recording, or a length, in ms."""
Count = Annotated[int, Field(ge=0, le=1 << 40)]
Identifier = Annotated[str, Field(max_length=400)]
Name = Annotated[str, Field(max_length=400)]
Pan = Annotated[float, Field(ge=-1.0, le=1.0)]
Cents = Annotated[float, Field(ge=-2400.0, le=2400.0)]


class MicKind(StrEnum):
    CLOSE = "close"
    OVERHEAD = "overhead"
    ROOM = "room"
    OTHER = "other"


class Width(StrEnum):
    MONO = "mono"
    STEREO = "stereo"


class Family(StrEnum):
    KICK = "kick"
    SNARE = "snare"
    HATS = "hats"
    TOM = "tom"
    CRASH = "crash"
    RIDE = "ride"
    SPLASH = "splash"
    CHINA = "china"
    PERCUSSION = "percussion"
    OTHER = "other"


class Order(StrEnum):
    IN_TURN = "in_turn"
    SHUFFLED = "shuffled"
    RANDOM = "random"
    TOGETHER = "together"


class Hand(StrEnum):
    LEFT = "left"
    RIGHT = "right"


class Mic(Value):
    """A microphone position. `inverted`, `gain_db` and `muted` apply to everything it recorded; the recordings stay as
    they are.
    """

    id: Identifier
    name: Name
    kind: MicKind
    width: Width
    inverted: bool = False
    gain_db: Level = 0.0
    muted: bool = False


class Side(StrEnum):
    """A side of a stereo output that a channel is routed to, or of a stereo recording."""

    BOTH = "both"
    LEFT = "left"
    RIGHT = "right"


class ReferenceComparison(Value):
    """One side of a recording compared with its take's reference, which is a side of another microphone
    (`recordings.mic_measurements`).

    The strike arrives `delay_ms` later than in the reference; `polarity` is 1 if both move alike, −1 if they are
    opposite, and 0 if unknown. `sure` is the confidence, 0 to 1.
    """

    delay_ms: Moment = 0.0
    polarity: Annotated[int, Field(ge=-1, le=1)] = 0
    sure: Annotated[float, Field(ge=0.0, le=1.0)] = 0.0


class Recording(Value):
    """One audio file from one microphone, with its measurements.

    `content` is the hash of the decoded audio (`recordings.audio_files`). `start_ms` is where the strike begins,
    `level_db` the K-weighted mean square over the 300 ms from there, `length_ms` the time until the tail reaches the
    noise floor. `against` compares each side with the take's reference (None: not compared). `outline` is a waveform
    overview and `grain` a fingerprint (`recordings.measurement`). `label_note` is the note its file name contains.
    `lossy` names a lossy source format. `centred` removes the DC offset in playback; `flipped` flips the polarity of
    both sides or of one. `cut_ms` is where a recording borrowed from another take starts, instead of its take's start.
    """

    mic: Identifier
    path: Annotated[str, Field(max_length=4096)]
    content: Annotated[str, Field(max_length=200)]
    rate_hz: Annotated[int, Field(ge=1, le=10_000_000)]
    frames: Count
    width: Width
    level_db: Measured
    peak_dbfs: Measured
    start_ms: Moment
    length_ms: Moment
    clipped_runs: Count = 0
    dc_offset: Annotated[float, Field(ge=-1e9, le=1e9)] = 0.0
    centroid_hz: Annotated[float, Field(ge=0.0, le=1e9)] = 0.0
    against: Annotated[tuple[ReferenceComparison, ...], Field(max_length=2)] = ()
    outline: Annotated[str, Field(max_length=4096, validation_alias=AliasChoices("outline", "shape"))] = ""
    grain: Annotated[str, Field(max_length=4096)] = ""
    lossy: Annotated[str, Field(max_length=40)] = ""
    centred: bool = False
    flipped: Annotated[Side | None, Field(validation_alias=AliasChoices("flipped", "turned"))] = None
    cut_ms: Moment | None = None
    label_note: MidiNote | None = None


class RecordedStrike(Value):
    """A strike as the microphones recorded it."""

    id: Identifier
    label: Name
    level_db: Measured
    start_ms: Moment
    hand: Hand | None = None
    recordings: tuple[Recording, ...]
    enabled: bool = True


class Trims(Value):
    """How a take plays; with all trims at their defaults its recordings play unchanged."""

    gain_db: Annotated[
        Level, Trim("Level", "dB", "by {}", -24.0, 24.0, step=0.1, page=1.0, around_zero=True, at_once=True)
    ] = 0.0
    pan: Annotated[Pan, Trim("Pan", "pan", "panned to {}", -1.0, 1.0, step=0.01, page=0.1, around_zero=True)] = 0.0
    tune_cents: Annotated[Cents, Trim("Tune", "ct", "tuned by {}", -1200.0, 1200.0, page=100.0, around_zero=True)] = 0.0
    inverted: Annotated[bool, Trim("Polarity", "switch", ("polarity flipped", "polarity normal"))] = False
    start_trim_ms: Annotated[
        float,
        Field(ge=-1000.0, le=10_000.0),
        Trim("Start", "ms", "start trimmed by {}", -20.0, 100.0, step=0.02, page=0.2, around_zero=True),
    ] = 0.0
    end_ms: Annotated[
        Annotated[float, Field(ge=1.0, le=120_000.0)] | None, Trim("Plays for", "ms", "plays for {}", 1.0, 120_000.0)
    ] = None
    fade_in_ms: Annotated[
        float, Field(ge=0.0, le=10_000.0), Trim("Fade in", "ms", "fades in over {}", 0.0, 50.0, step=0.1, page=1.0)
    ] = 0.0
    fade_out_ms: Annotated[
        float, Field(ge=0.0, le=60_000.0), Trim("Fade out", "ms", "fades out over {}", 0.0, 5000.0)
    ] = 0.0


class Take(Trims, RecordedStrike):
    """One recorded strike: one recording per microphone, cut at the common place `start_ms`, and its trims.

    `tune_cents` resamples, so a higher take is also shorter. `start_trim_ms` starts later in the recordings (negative:
    earlier). `end_ms` is the length played from there, None for all of it. Fades are linear.
    """


class Layer(Value):
    """The takes (by id) that play for the velocities `low`..`high`, both included. `blend` is the number of velocities
    around its upper end over which it cross-fades into the next layer.
    """

    low: Velocity
    high: Velocity
    takes: tuple[str, ...]
    order: Order = Order.IN_TURN
    gain_db: Level = 0.0
    blend: Annotated[int, Field(ge=0, le=64)] = 0

    @model_validator(mode="after")
    def _ends_after_it_begins(self) -> Self:
        if self.low > self.high:
            raise ValueError(f"a layer cannot run from {self.low} down to {self.high}")
        return self


class Node(Value):
    """A point of a curve. `bend` in [-1, 1] bends the segment that begins here."""

    x: Annotated[int, Field(ge=0, le=127)]
    y: Annotated[int, Field(ge=0, le=127)]
    bend: Annotated[float, Field(ge=-1.0, le=1.0)] = 0.0


class Curve(Value):
    """Velocity in to velocity out, as nodes with strictly increasing x; an output of 0 ignores the strike."""

    nodes: Annotated[tuple[Node, ...], Field(min_length=2, max_length=MOST_NODES)]

    @model_validator(mode="after")
    def _rises_in_x(self) -> Self:
        xs = [node.x for node in self.nodes]
        if any(b <= a for a, b in itertools.pairwise(xs)):
            raise ValueError("the nodes of a curve must each stand to the right of the one before")
        if xs[0] != 0 or xs[-1] != 127:
            raise ValueError("a curve begins at 0 and ends at 127")
        return self


STRAIGHT = Curve(nodes=(Node(x=0, y=0), Node(x=127, y=127)))


MOST_LEVEL = 1.5
"""As far as level follows strength over the whole range: half as much again as in nature."""


class Tracking(Value):
    """How velocity moves level, brightness and attack; the formulas are in `layers.dynamics` and `touch.tracking`.

    `level` works inside layers, where values above 1 act as 1, or over the `whole` range. `brightness` is in octaves
    between the hardest and the softest strike. The attack is a fade-in of `attack_soft_ms` at velocity 1 to
    `attack_hard_ms` at 127.
    """

    level: Annotated[float, Field(ge=0.0, le=MOST_LEVEL)] = 1.0
    whole: bool = False
    brightness: Annotated[float, Field(ge=0.0, le=5.0)] = 0.0
    attack_soft_ms: Annotated[float, Field(ge=0.0, le=60.0)] = 0.0
    attack_hard_ms: Annotated[float, Field(ge=0.0, le=60.0)] = 0.0


class Choke(Value):
    """A strike of the articulation that holds this choke stops `articulation`, fading with time constant `fade_ms`."""

    articulation: str
    fade_ms: Annotated[float, Field(gt=0.0, le=5000.0)] = 12.0


class Variation(Value):
    """Random differences between strikes: level up to ± `level_db`, tuning up to ± `tune_cents`, and up to `brightness`
    octaves darker.
    """

    level_db: Annotated[float, Field(ge=0.0, le=6.0)] = 0.0
    tune_cents: Annotated[float, Field(ge=0.0, le=50.0)] = 0.0
    brightness: Annotated[float, Field(ge=0.0, le=4.0)] = 0.0


class Articulation(Value):
    """One way of striking a piece.

    `label_note` is the note its file names contain, if any. A take that no layer names is unused: it is kept but never
    plays. `whole` decides for this articulation alone whether level follows velocity over the whole range or inside its
    layers; None leaves it to the piece's tracking.
    """

    id: Identifier
    name: Name
    takes: tuple[Take, ...]
    layers: tuple[Layer, ...]
    variation: Variation = Variation()
    whole: bool | None = None
    curve: Curve | None = None
    chokes: Annotated[tuple[Choke, ...], Field(validation_alias=AliasChoices("chokes", "silences"))] = ()
    label_note: MidiNote | None = None


class Origin(Value):
    """Where a piece came from: a kit at a version, or a library item, by `kind` and `id`. A piece that replaced another
    one also has that one's name and the gain that would make both equally loud.
    """

    kind: Annotated[str, Field(max_length=40)]
    id: Annotated[str, Field(max_length=200)]
    name: Name
    piece: Identifier = ""
    version: Count = 0
    instead_of: Name = ""
    as_loud_at_db: Level | None = None


class Piece(Value):
    """A drum, cymbal or percussion instrument.

    `origin` says where a piece came from; nothing is looked up there. `level_db` applies to all its feeds. A hand on
    its pad (aftertouch) stops it, fading with time constant `hand_stop_ms`; with None it does not.
    """

    id: Identifier
    name: Name
    family: Family
    articulations: tuple[Articulation, ...]
    own_mics: tuple[str, ...] = ()
    level_db: Level = 0.0
    curve: Curve | None = None
    tracking: Tracking = Tracking()
    hand_stop_ms: Annotated[float, Field(gt=0.0, le=5000.0)] | None = None
    origin: Origin | None = None


Openness = Annotated[int, Field(ge=0, le=127)]


class Placed(Value):
    """An articulation on a note, at a level, for hi-hat openness `open_from`..`open_to`: 0 closed, 127 open."""

    note: MidiNote
    articulation: str
    open_from: Openness = 0
    open_to: Openness = 127
    gain_db: Level = 0.0


class MapEntry(Value):
    """An articulation on a note, described so that it can be found in any kit: by the piece's name, or else by family
    and number among the kit's pieces of that family (from 1, in the kit's order).
    """

    note: MidiNote
    family: Family
    articulation: Annotated[str, Field(min_length=1, max_length=120)]
    piece: Annotated[str, Field(max_length=120)] = ""
    number: Annotated[int, Field(ge=1, le=64)] = 1
    open_from: Openness = 0
    open_to: Openness = 127
    gain_db: Level = 0.0


class SavedMap(Value):
    """A note map saved under a name, usually that of an electronic kit, for any kit."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    entries: Annotated[tuple[MapEntry, ...], Field(max_length=4096)] = ()


class NoteMap(Value):
    """Which articulations each note plays.

    `middle_c` is the octave number shown for note 60. `base` is the map applied last (None: the standard one); notes
    that differ from it count as customised. Within `openness_blend` values around the limit of two zones, both sound.
    With `pedal_sounds`, closing the pedal plays the hats' pedal articulation even if the input sends no note for it.
    """

    placed: tuple[Placed, ...] = ()
    middle_c: Annotated[int, Field(ge=3, le=5)] = 3
    base: SavedMap | None = None
    openness_blend: Annotated[int, Field(ge=0, le=64)] = 0
    pedal_sounds: bool = False


class CrossTalk(Value):
    """Strikes of `note` at `up_to` or softer, within `within_ms` after a harder strike of `after`, are ignored: the pad
    was only shaken.
    """

    after: MidiNote
    note: MidiNote
    up_to: Velocity
    within_ms: Annotated[float, Field(gt=0.0, le=200.0)]


class Input(Value):
    """Settings of one source of strikes, such as an electronic kit or a keyboard.

    `curve` replaces the kit's curve of all inputs. A second strike of a note within `doubles_ms` that is not harder
    than the first is ignored as a double (0: never). `controller` carries the hi-hat openness, `closed_at` with the
    pedal closed and `open_at` with it open; a reversed pedal has `closed_at` above `open_at`.
    """

    id: Annotated[str, Field(min_length=1, max_length=120)]
    name: Annotated[str, Field(min_length=1, max_length=120)]
    curve: Curve | None = None
    cross_talk: Annotated[tuple[CrossTalk, ...], Field(max_length=200)] = ()
    doubles_ms: Annotated[float, Field(ge=0.0, le=200.0)] = 0.0
    controller: Annotated[int, Field(ge=0, le=127)] = OPENNESS_CONTROLLER
    closed_at: Openness = 0
    open_at: Openness = 127

    @model_validator(mode="after")
    def _pedal_moves(self) -> Self:
        if self.closed_at == self.open_at:
            raise ValueError("a pedal sends different values closed and open")
        return self


class Feed(Value):
    """A piece's microphone feeding a channel, at a level. With `on` false it keeps its level but is silent."""

    piece: str
    mic: str
    channel: str
    level_db: Level = 0.0
    on: bool = True


class Send(Value):
    """A copy of a channel sent into a bus, at a level; `pre_fader` takes it before the channel's own level and pan."""

    bus: Identifier
    level_db: Level = 0.0
    pre_fader: Annotated[bool, Field(validation_alias=AliasChoices("pre_fader", "early"))] = False


class Channel(Value):
    """One channel of the routing.

    It goes to a `bus`, to a numbered `output`, or with neither to the main mix. At a stereo output it may use one
    `side`; then it is summed to mono and its pan has no effect. A channel that `gathers` a kind of microphone is shared
    by all pieces. `treatments` has at most one of each kind, processed in the order of `treatments.kinds`; with
    `treated` false they are bypassed. Channels of one `group` keep the distances of their levels. A bus may have a
    reverb or echo (`space`) after its treatments.
    """

    id: Identifier
    name: Name
    level_db: Level = 0.0
    pan: Annotated[float, Field(ge=-1.0, le=1.0)] = 0.0
    muted: bool = False
    output: Annotated[int, Field(ge=1, le=MOST_OUTPUTS)] | None = None
    side: Side = Side.BOTH
    treatments: Annotated[tuple[TreatmentOfAKind, ...], Field(max_length=16)] = ()
    treated: bool = True
    gathers: MicKind | None = None
    group: Identifier = ""
    bus: Identifier = ""
    sends: Annotated[tuple[Send, ...], Field(max_length=64)] = ()
    space: SpaceOfAKind | None = None


class Output(Value):
    """A numbered mono or stereo output of the host. Output 1 carries the main mix. `name` is what is sent there,
    `called` the host's name for the output, `track` the name of its track; empty means the default.
    """

    number: Annotated[int, Field(ge=1, le=MOST_OUTPUTS)]
    name: Name
    width: Width = Width.STEREO
    called: Annotated[str, Field(max_length=120)] = ""
    track: Annotated[str, Field(max_length=120)] = ""


MAIN = "main"
"""The main mix is a channel of this identifier: what goes to no output of its own enters it, and it leaves by output 1."""


class PlannedPlace(Value):
    """Where a plan sent a channel or bus: an output and the side used, or main with an `output` of None."""

    channel: Identifier
    output: Annotated[int, Field(ge=1, le=MOST_OUTPUTS)] | None = None
    side: Side = Side.BOTH


class PlanUsed(Value):
    """The routing plan a kit was routed by, and where it sent each channel and bus. Changes by hand are compared with it."""

    name: Annotated[str, Field(max_length=400)]
    places: Annotated[tuple[PlannedPlace, ...], Field(max_length=4000)] = ()


class Routing(Value):
    """Channels, their inputs and where they go. Buses are channels that other channels enter. With `treated` false all
    treatments are bypassed. `plan` is the plan applied last, if the outputs were not cleared or changed since.
    """

    host: str = "Ferry 16"
    channels: tuple[Channel, ...] = ()
    buses: tuple[Channel, ...] = ()
    feeds: tuple[Feed, ...] = ()
    outputs: tuple[Output, ...] = (Output(number=1, name="Main"),)
    main: Channel = Channel(id=MAIN, name="Main")
    treated: bool = True
    plan: PlanUsed | None = None


Description = Annotated[str, Field(max_length=2000)]
Tag = Annotated[str, Field(min_length=1, max_length=40)]
Tags = Annotated[tuple[Tag, ...], Field(max_length=24)]


class Kit(Value):
    """The whole kit: pieces, microphones, notes, touch, routing. `description` and `tags` help to find it. `curve`
    applies to every input without a curve of its own. `ignored` are the keys of findings that somebody chose to ignore.
    """

    format: int = KIT_FORMAT
    id: Identifier
    name: Annotated[str, Field(min_length=1, max_length=120)]
    description: Description = ""
    tags: Tags = ()
    rate_hz: Rate = USUAL_RATE
    mics: tuple[Mic, ...] = ()
    pieces: tuple[Piece, ...] = ()
    notes: NoteMap = NoteMap()
    curve: Curve = STRAIGHT
    inputs: Annotated[tuple[Input, ...], Field(max_length=64)] = ()
    routing: Routing = Routing()
    ignored: Annotated[tuple[str, ...], Field(validation_alias=AliasChoices("ignored", "settled"))] = ()


def slug(text: str) -> str:
    """An id from a name: lower case words joined by hyphens."""
    return re.sub(r"[^a-z0-9]+", "-", text.lower()).strip("-") or "unnamed"
