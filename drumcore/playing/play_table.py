"""The play table: a kit compiled to what a player needs and no more.

A head (small, changes with notes, touch and routing) and one part a piece (large, changes with its takes and layers),
so that an edit sends only what it changed. Players execute it and know nothing about drums.
"""

from drumcore.kit.values import Side, Width
from drumcore.spaces.kinds import SpaceOfAKind
from drumcore.treatments.kinds import PlayTreatment
from drumcore.value import Value


class PlaySound(Value):
    """A recording prepared at the kit's rate and this width, tuned by `cents`, freed of its DC offset if
    `centred`, and with the polarity of one side or both `flipped`.

    It is then cut (`sounds.cut`): from `start_frame` for `frames` (0: to its end), faded in and out over so many
    frames, and where `pan` is given turned into two sides by that matrix (rows are sides).
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
    """A sound entering through microphone `mic` (an index into the head's feeds of the piece), at a gain.

    `tuned` are the same sound a little lower and a little higher, where strikes vary in tuning.
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
    """How one strike varies: a gain, which tuning (0 as it is, 1 lower, 2 higher), and how much darker it is."""

    gain: float
    tuning: int
    darker: int = 0


class PlayLayer(Value):
    """`gains[v - low]` is the gain at velocity v; `steps` are the takes of each strike, round and round.

    `turns`, where strikes vary, say how each one does, round and round as well.
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
    """`table` maps the velocity after the input table to the one that plays; 0 ignores the strike.

    `filtered` where brightness varies or follows velocity: every voice then goes through a filter of the head's ladder.
    """

    id: str
    name: str
    table: tuple[int, ...]
    layers: tuple[PlayLayer, ...]
    takes: tuple[PlayTake, ...]
    chokes: tuple[PlayChoke, ...]
    filtered: bool = False


class PlayPiece(Value):
    """`darker[v]` is how many steps of the head's ladder velocity v lies lower, `attacks[v]` its fade-in in frames; both
    are empty where velocity does not move them. Pressure on its pad stops the piece where `hand_stop_s` is not 0."""

    id: str
    name: str
    articulations: tuple[PlayArticulation, ...]
    darker: tuple[int, ...] = ()
    attacks: tuple[int, ...] = ()
    hand_stop_s: float = 0.0


class PlayPlaced(Value):
    """What a note plays, at a gain, while the hats' openness lies in `open_from`..`open_to`.

    `blend`, where zones give way to one another, is a further gain by openness, from `open_from` on.
    """

    articulation: str
    open_from: int
    open_to: int
    gain: float = 1.0
    blend: tuple[float, ...] = ()


class PlayCrossTalk(Value):
    """Strikes of `note` at `up_to` or softer within `within_s` after a harder one of `after` do not play."""

    after: int
    note: int
    up_to: int
    within_s: float


class PlayInput(Value):
    """How the strikes of one input are taken: `table` by velocity, `openness` by the value of its `controller`."""

    id: str
    table: tuple[int, ...]
    openness: tuple[int, ...]
    controller: int
    cross_talk: tuple[PlayCrossTalk, ...] = ()
    doubles_s: float = 0.0


class PlayClosing(Value):
    """What closing the pedal does: it stops what `articulation` stops, and sounds it where `sounds` is set.

    The pedal is closed at openness `below` or less. The velocity is 127 less `loss_a_s` for every second since openness
    was last `half` or more, at least `softest`, rounded half up.
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
    """For each microphone of a piece, by index, the channels it enters."""

    piece: str
    mics: tuple[tuple[PlayFeed, ...], ...]


class PlaySend(Value):
    """A copy of a channel that enters the channel at place `into`: `matrix[o][i]` is the gain from its side i to side o."""

    into: int
    matrix: tuple[tuple[float, ...], ...]


class PlayChannel(Value):
    """`matrix[o][i]` is the gain from side i of the channel to side o of where it goes: the channel at place `into`, else
    `output`, or main when that is 0.

    Before that the input passes `treatments`, one after another, and then the `space`; what leaves them is copied by
    `sends` too.
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
    """`notes[n]` is what note n plays; main is a stereo channel like the others, whose output is 1.

    `order` are the places of the channels in the order in which they are processed: each after all that enter it.

    `input_table` and `controller`, of the pedal, are for every input that is not among `inputs`. `cutoffs_hz` is the
    ladder of low-passes (second order, Q = 1/√2) from the brightest down; strikes darker than the last use the last.
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
