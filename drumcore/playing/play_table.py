"""The play table: a kit compiled to exactly what a player needs.

It has a head (small; changes with notes, touch and routing) and one part per piece (large; changes with its takes and
layers), so that an edit sends only what it changed. Players execute it and know nothing about drums.
"""

from drumcore.kit.values import Side, Width
from drumcore.spaces.kinds import SpaceOfAKind
from drumcore.treatments.kinds import PlayTreatment
from drumcore.value import Value


class PlaySound(Value):
    """A recording prepared at the kit's rate and this width, tuned by `cents`, without its DC offset if `centred`, with
    one or both sides `flipped`.

    It is then cut (`sounds.cut`): from `start_frame` for `frames` (0: to its end), faded in and out over the given
    frames, and if `pan` is given mixed to two sides by that matrix (rows are sides).
    """

    content: str
    width: Width
    start_frame: int
    cents: float = 0.0
    centred: bool = False
    flipped: Side | None = None
    frames: int = 0
    fade_in: int = 0
    fade_out: int = 0
    pan: tuple[tuple[float, ...], ...] | None = None


class PlayVoice(Value):
    """A sound in microphone `mic` (an index into the head's feeds of the piece), at a gain. `tuned` are slightly lower
    and higher versions of it, if strikes vary in tuning.
    """

    mic: int
    sound: PlaySound
    gain: float
    tuned: tuple[PlaySound, ...] = ()


class PlayTake(Value):
    id: str
    label: str
    voices: tuple[PlayVoice, ...]


class PlayTurn(Value):
    """How one strike varies: its gain, its tuning (0 as recorded, 1 lower, 2 higher), and how many steps darker it is."""

    gain: float
    tuning: int
    darker: int = 0


class PlayLayer(Value):
    """`gains[v - low]` is the gain at velocity v; `steps` holds the takes of each strike and repeats. `turns` holds
    each strike's variation, if any, and repeats too.
    """

    low: int
    high: int
    gains: tuple[float, ...]
    steps: tuple[tuple[int, ...], ...]
    turns: tuple[PlayTurn, ...] = ()


class PlayChoke(Value):
    articulation: str
    fade_s: float


class PlayArticulation(Value):
    """`table` maps velocity after the input's curve to the velocity that plays; 0 ignores the strike. `filtered` if
    brightness varies or follows velocity: every voice then goes through a low-pass of the head's `cutoffs_hz`.
    """

    id: str
    name: str
    table: tuple[int, ...]
    layers: tuple[PlayLayer, ...]
    takes: tuple[PlayTake, ...]
    chokes: tuple[PlayChoke, ...]
    filtered: bool = False


class PlayPiece(Value):
    """`darker[v]` is the low-pass step of velocity v, `attacks[v]` its fade-in in frames; both are empty if velocity
    does not change them. Pressure on its pad stops the piece unless `hand_stop_s` is 0.
    """

    id: str
    name: str
    articulations: tuple[PlayArticulation, ...]
    darker: tuple[int, ...] = ()
    attacks: tuple[int, ...] = ()
    hand_stop_s: float = 0.0


class PlayPlaced(Value):
    """What a note plays, at a gain, while hi-hat openness is within `open_from`..`open_to`. `blend`, where zones
    cross-fade, is a further gain by openness, from `open_from` on.
    """

    articulation: str
    open_from: int
    open_to: int
    gain: float = 1.0
    blend: tuple[float, ...] = ()


class PlayCrossTalk(Value):
    """Strikes of `note` at `up_to` or softer within `within_s` after a harder one of `after` are ignored."""

    after: int
    note: int
    up_to: int
    within_s: float


class PlayInput(Value):
    """How one input's strikes are read: `table` by velocity, `openness` by the value of its `controller`."""

    id: str
    table: tuple[int, ...]
    openness: tuple[int, ...]
    controller: int
    cross_talk: tuple[PlayCrossTalk, ...] = ()
    doubles_s: float = 0.0


class PlayClosing(Value):
    """What closing the pedal does: it applies the chokes of `articulation`, and with `sounds` plays it.

    The pedal counts as closed at openness `below` or less. The velocity is 127 less `loss_a_s` for every second since
    openness was last `half` or more, at least `softest`, rounded half up.
    """

    articulation: str
    sounds: bool
    below: int
    half: int
    loss_a_s: float
    softest: int


class PlayFeed(Value):
    channel: int
    gain: float


class PlayPieceFeeds(Value):
    """For each microphone of a piece, by index, the channels it feeds."""

    piece: str
    mics: tuple[tuple[PlayFeed, ...], ...]


class PlaySend(Value):
    """A copy of a channel that enters the channel with index `into`: `matrix[o][i]` is the gain from its side i to side
    o.
    """

    into: int
    matrix: tuple[tuple[float, ...], ...]


class PlayChannel(Value):
    """`matrix[o][i]` is the gain from side i of the channel to side o of its destination: the channel with index
    `into`, else `output`, or main if that is 0. Before that the input passes the `treatments` in order, then the
    `space`; `sends` copy the result too.
    """

    id: str
    name: str
    width: Width
    output: int
    matrix: tuple[tuple[float, ...], ...]
    treatments: tuple[PlayTreatment, ...] = ()
    into: int | None = None
    sends: tuple[PlaySend, ...] = ()
    space: SpaceOfAKind | None = None


class PlayOutput(Value):
    number: int
    name: str
    width: Width


class PlayHead(Value):
    """`notes[n]` is what note n plays. Main is a stereo channel like the others, whose output is 1. `order` lists the
    channel indices in processing order: each after everything that enters it. `input_table` and `controller` (of the
    pedal) hold for every input not in `inputs`. `cutoffs_hz` are the cutoffs of the low-pass steps (second order, Q =
    1/√2), brightest first; darker strikes use the last.
    """

    rate_hz: int
    input_table: tuple[int, ...]
    controller: int
    inputs: tuple[PlayInput, ...]
    closing: tuple[PlayClosing, ...]
    cutoffs_hz: tuple[float, ...]
    notes: tuple[tuple[PlayPlaced, ...], ...]
    feeds: tuple[PlayPieceFeeds, ...]
    channels: tuple[PlayChannel, ...]
    order: tuple[int, ...]
    outputs: tuple[PlayOutput, ...]
    main: PlayChannel


class PlayTable(Value):
    head: PlayHead
    pieces: tuple[PlayPiece, ...]
