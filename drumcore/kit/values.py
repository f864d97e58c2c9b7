"""The kit as a value: a frozen tree that can be compared, saved, undone and shipped.

Nothing here computes. Every value is immutable; a changed kit is a new kit that shares what stayed the same.
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

KIT_FORMAT = 13
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
    """A microphone position. `inverted`, `gain_db` and `muted` hold for all it recorded; the recordings stay as they are."""

    id: Identifier
    name: Name
    kind: MicKind
    width: Width
    inverted: bool = False
    gain_db: Level = 0.0
    muted: bool = False


class Side(StrEnum):
    """The side of a stereo output that a channel goes to, or of a stereo recording."""

    BOTH = "both"
    LEFT = "left"
    RIGHT = "right"


class Against(Value):
    """How one side of a recording stands against the reference of its take, a side of the microphone it is
    compared with (`recordings.mic_measurements`): it hears the strike `delay_ms` later and pulls where that pushes (`polarity` −1).
    With a polarity of 0 nothing is known; `sure` is how clearly it was found, 0 to 1."""

    delay_ms: Moment = 0.0
    polarity: Annotated[int, Field(ge=-1, le=1)] = 0
    sure: Annotated[float, Field(ge=0.0, le=1.0)] = 0.0


class Recording(Value):
    """One audio file as it came from one microphone, with what was measured of it.

    `content` is the hash of the decoded audio (see `recordings.audio_files`), `start_ms` where the strike begins,
    `level_db` the K-weighted mean square over the 300 ms from there, `length_ms` the time until the tail meets
    the noise floor, `against` how each of its sides stands against its take's reference (none: not compared), `outline`
    is its picture and `grain` its fingerprint (see `recordings.measurement`), `label_note` the note its name names.
    `lossy` names a format that threw sound away; `centred` takes the DC offset away when it plays, `flipped` flips the
    polarity of both sides or of one; `cut_ms` is where a recording borrowed from another take is cut, instead of its
    take's start.
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
    against: Annotated[tuple[Against, ...], Field(max_length=2)] = ()
    outline: Annotated[str, Field(max_length=4096, validation_alias=AliasChoices("outline", "shape"))] = ""
    grain: Annotated[str, Field(max_length=4096)] = ""
    lossy: Annotated[str, Field(max_length=40)] = ""
    centred: bool = False
    flipped: Annotated[Side | None, Field(validation_alias=AliasChoices("flipped", "turned"))] = None
    cut_ms: Moment | None = None
    label_note: MidiNote | None = None


class RecordedStrike(Value):
    """A strike as the microphones have it."""

    id: Identifier
    label: Name
    level_db: Measured
    start_ms: Moment
    hand: Hand | None = None
    recordings: tuple[Recording, ...]
    enabled: bool = True


class Trims(Value):
    """How a take plays, as data; at their defaults its recordings play as they are."""

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
    """One recorded strike, one recording a microphone cut at the common place `start_ms`, and how it plays.

    `tune_cents` resamples it, so it gets shorter as it gets higher; `start_trim_ms` is later into the recordings, or earlier
    where negative; `end_ms` is how long it plays from there, None for all of it; fades are linear.
    """


class Layer(Value):
    """The takes (by id) that answer the velocities `low`..`high`, both included.

    `blend` is the number of velocities around its upper end over which it gives way to the next layer, both sounding.
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
    """Velocity in to velocity played, by nodes strictly rising in x; 0 means the strike is ignored."""

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
    """How velocity moves level, brightness and attack; `layers.dynamics` and `touch.tracking` have the formulas.

    `level` works inside layers, where more than 1 counts as 1, or over the `whole` range. `brightness` is in octaves from the hardest strike to the
    softest; the attack is a fade-in of `attack_soft_ms` at velocity 1 to `attack_hard_ms` at 127.
    """

    level: Annotated[float, Field(ge=0.0, le=MOST_LEVEL)] = 1.0
    whole: bool = False
    brightness: Annotated[float, Field(ge=0.0, le=5.0)] = 0.0
    attack_soft_ms: Annotated[float, Field(ge=0.0, le=60.0)] = 0.0
    attack_hard_ms: Annotated[float, Field(ge=0.0, le=60.0)] = 0.0


class Choke(Value):
    """Striking the articulation that holds this stops `articulation`, fading with time constant `fade_ms`."""

    articulation: str
    fade_ms: Annotated[float, Field(gt=0.0, le=5000.0)] = 12.0


class Variation(Value):
    """How much one strike differs from the next by chance: level up to ± `level_db`, tuning by ± `tune_cents`, and
    brightness down by as much as `brightness` octaves."""

    level_db: Annotated[float, Field(ge=0.0, le=6.0)] = 0.0
    tune_cents: Annotated[float, Field(ge=0.0, le=50.0)] = 0.0
    brightness: Annotated[float, Field(ge=0.0, le=4.0)] = 0.0


class Articulation(Value):
    """One way of striking a piece. `label_note` is the note its files name, where they name one.

    A take that no layer names is unused: it is kept and does not play. `whole` says of this articulation alone whether
    level follows strength over the whole range or inside its layers; None leaves it to its piece's tracking.
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
    """Where a piece was taken from: a kit of the studio as it was at a version, or something kept, by `kind` and `id`. One that
    took another's place knows what that was called and the level at which it is as loud as that was."""

    kind: Annotated[str, Field(max_length=40)]
    id: Annotated[str, Field(max_length=200)]
    name: Name
    piece: Identifier = ""
    version: Count = 0
    instead_of: Name = ""
    as_loud_at_db: Level | None = None


class Piece(Value):
    """A drum, cymbal or percussion instrument. One that was taken from another kit remembers its `origin`; nothing of it is
    looked up there. `level_db` goes over all its feeds. A hand laid on its pad (aftertouch) stops it, fading with time constant
    `hand_stop_ms`; None for a piece that a hand does not stop."""

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
    """An articulation on a note, at a level, for hat openness `open_from`..`open_to`: 0 closed, 127 open."""

    note: MidiNote
    articulation: str
    open_from: Openness = 0
    open_to: Openness = 127
    gain_db: Level = 0.0


class MapEntry(Value):
    """An articulation on a note, described so that any kit can be asked for it: by the piece's name, else by its family and
    its number among the kit's pieces of that family (from 1, in the kit's order)."""

    note: MidiNote
    family: Family
    articulation: Annotated[str, Field(min_length=1, max_length=120)]
    piece: Annotated[str, Field(max_length=120)] = ""
    number: Annotated[int, Field(ge=1, le=64)] = 1
    open_from: Openness = 0
    open_to: Openness = 127
    gain_db: Level = 0.0


class SavedMap(Value):
    """A note map kept under a name, usually that of an electronic kit, to be applied to any kit."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    entries: Annotated[tuple[MapEntry, ...], Field(max_length=4096)] = ()


class NoteMap(Value):
    """Which articulations each note plays. `middle_c` is the octave number shown for note 60.

    `base` is the map that was applied last (None: the standard one); a note that differs from it is customised.
    Over `openness_blend` values around a limit between two zones of one note, both sound. With `pedal_sounds`, closing
    the pedal sounds the hats' pedal articulation though the input sends no note for it.
    """

    placed: tuple[Placed, ...] = ()
    middle_c: Annotated[int, Field(ge=3, le=5)] = 3
    base: SavedMap | None = None
    openness_blend: Annotated[int, Field(ge=0, le=64)] = 0
    pedal_sounds: bool = False


class CrossTalk(Value):
    """Strikes of `note` at `up_to` or softer, within `within_ms` after a harder one of `after`, were not played: the pad
    only shook."""

    after: MidiNote
    note: MidiNote
    up_to: Velocity
    within_ms: Annotated[float, Field(gt=0.0, le=200.0)]


class Input(Value):
    """What is known of one thing that sends strikes: an electronic kit, a keyboard.

    `curve` replaces the kit's curve of everything coming in. A second strike of a note within `doubles_ms` that is no
    harder than the first is a double (0: none are). `controller` carries the hats' openness, `closed_at` with the pedal
    shut and `open_at` with it open; a reversed pedal has them the other way round.
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
    """A piece's microphone entering a channel, at a level; one that is not `on` keeps its level and is not heard."""

    piece: str
    mic: str
    channel: str
    level_db: Level = 0.0
    on: bool = True


class Send(Value):
    """A copy of a channel that enters a bus, at a level; `pre_fader` takes it before the channel's own level and pan."""

    bus: Identifier
    level_db: Level = 0.0
    pre_fader: Annotated[bool, Field(validation_alias=AliasChoices("pre_fader", "early"))] = False


class Channel(Value):
    """One channel of the routing. It goes to a `bus`, to a numbered `output`, or with neither to the main mix. At an output it
    may take one `side` where that is stereo: there a channel is one sound, and its pan says nothing.

    A channel that `gathers` is shared by all pieces that a kind of microphone heard; any other is a piece's or one's own.

    `treatments` are at most one of each kind; sound passes them in the order of `treatments.kinds`. Not `treated`, it passes
    none and they are kept. Channels of one `group` keep the distances of their levels.

    A bus may be heard through a `space`, behind its treatments.
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
    """Where sound leaves: a numbered, mono or stereo output of the host. Output 1 carries the main mix.

    `name` says what is sent there, `called` what the host calls the output, `track` the name of its track; empty where it has
    none of its own.
    """

    number: Annotated[int, Field(ge=1, le=MOST_OUTPUTS)]
    name: Name
    width: Width = Width.STEREO
    called: Annotated[str, Field(max_length=120)] = ""
    track: Annotated[str, Field(max_length=120)] = ""


MAIN = "main"
"""The main mix is a channel of this identifier: what goes to no output of its own enters it, and it leaves by output 1."""


class Routing(Value):
    """Channels, their inputs and where they go. Buses are channels that other channels enter. Not `treated`, sound passes
    no channel's treatments."""

    host: str = "Ferry 16"
    channels: tuple[Channel, ...] = ()
    buses: tuple[Channel, ...] = ()
    feeds: tuple[Feed, ...] = ()
    outputs: tuple[Output, ...] = (Output(number=1, name="Main"),)
    main: Channel = Channel(id=MAIN, name="Main")
    treated: bool = True


Description = Annotated[str, Field(max_length=2000)]
Tag = Annotated[str, Field(min_length=1, max_length=40)]
Tags = Annotated[tuple[Tag, ...], Field(max_length=24)]


class Kit(Value):
    """All of it: pieces, microphones, notes, touch, routing.

    `description` and `tags` are for finding it again. `curve` bends everything coming in, unless its input has a curve of its own. `ignored` are findings meant to be so,
    by their keys.
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
    """An identifier from a name: lower case words joined by hyphens."""
    return re.sub(r"[^a-z0-9]+", "-", text.lower()).strip("-") or "unnamed"
