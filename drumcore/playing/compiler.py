"""Compiles a kit to its play table."""

import math
from collections import defaultdict
from collections.abc import Iterator, Mapping

from drumcore.kit.flow import channels_and_buses, in_order
from drumcore.kit.lookup import pieces_of
from drumcore.kit.memoization import remembered
from drumcore.kit.values import (
    OPENNESS_CONTROLLER,
    STRAIGHT,
    Articulation,
    Channel,
    Curve,
    Feed,
    Input,
    Kit,
    Layer,
    Mic,
    Piece,
    Recording,
    Send,
    Side,
    Take,
    Tracking,
    Width,
)
from drumcore.layers.dynamics import Playing, playing_of
from drumcore.layers.from_takes import enabled_takes
from drumcore.layers.orders import order_sequence, seed_of
from drumcore.notes.openness import closing_articulation, zone_gains
from drumcore.playing.filters import ladder, steps_darker
from drumcore.playing.play_table import (
    PlayArticulation,
    PlayChannel,
    PlayChoke,
    PlayClosing,
    PlayCrossTalk,
    PlayFeed,
    PlayHead,
    PlayInput,
    PlayLayer,
    PlayOutput,
    PlayPiece,
    PlayPieceFeeds,
    PlayPlaced,
    PlaySend,
    PlaySound,
    PlayTable,
    PlayTake,
    PlayVoice,
)
from drumcore.playing.sounds import pitch_ratio
from drumcore.playing.variation import turns
from drumcore.routing.default_routing import channel_width, heard_feeds, mics_heard
from drumcore.routing.pan import HALF_POWER, Matrix, decibels_to_gain, pan_matrix, scaled, side_matrix
from drumcore.touch.curves import curve_table
from drumcore.touch.pedal import openness_table
from drumcore.touch.tracking import articulation_tracking, attack_ms, octaves_darker
from drumcore.treatments.kinds import compiled

MAIN_OUTPUT = 1
CLOSED_BELOW, HALF_OPEN = 8, 64
PEDAL_LOSS_A_S, PEDAL_SOFTEST = 380.0, 20
"""A pedal that takes a quarter of a second from half open to shut sounds at 32; one stamped shut nearly at 127."""


def compile_kit(kit: Kit) -> PlayTable:
    return PlayTable(pieces=tuple(compile_piece(piece, kit) for piece in pieces_of(kit)), head=compile_head(kit))


def compile_head(kit: Kit) -> PlayHead:
    all_channels = channels_and_buses(kit.routing)
    places = {channel.id: number for number, channel in enumerate(all_channels)}
    feeds: dict[tuple[str, str], list[Feed]] = defaultdict(list)
    for feed in heard_feeds(kit):
        feeds[feed.piece, feed.mic].append(feed)
    widths = {channel.id: channel_width(kit, channel.id) for channel in kit.routing.channels}
    mics = {mic.id: mic for mic in kit.mics}
    return PlayHead(
        rate_hz=kit.rate_hz,
        input_table=curve_table(kit.curve),
        controller=OPENNESS_CONTROLLER,
        inputs=tuple(compile_input(each, kit.curve) for each in kit.inputs),
        closing=tuple(_closing(kit)),
        cutoffs_hz=_cutoffs(kit),
        notes=_notes(kit),
        feeds=tuple(_feeds(piece, feeds, places, widths, mics) for piece in pieces_of(kit)),
        channels=tuple(_channel(kit, c, widths.get(c.id, Width.STEREO), places) for c in all_channels),
        order=in_order(all_channels),
        outputs=tuple(PlayOutput(number=o.number, name=o.name, width=o.width) for o in kit.routing.outputs),
        main=_channel(kit, kit.routing.main.but(output=MAIN_OUTPUT, side=Side.BOTH), Width.STEREO, {}),
    )


def _notes(kit: Kit) -> tuple[tuple[PlayPlaced, ...], ...]:
    notes: list[list[PlayPlaced]] = [[] for _ in range(128)]
    for placed, answer in zone_gains(kit.notes):
        notes[placed.note].append(
            PlayPlaced(
                articulation=placed.articulation,
                open_from=answer.low,
                open_to=answer.high,
                gain=decibels_to_gain(placed.gain_db),
                blend=answer.gains if any(gain != 1.0 for gain in answer.gains) else (),
            )
        )
    return tuple(tuple(entries) for entries in notes)


def compile_input(known: Input, everything: Curve) -> PlayInput:
    return PlayInput(
        id=known.id,
        table=curve_table(known.curve or everything),
        openness=openness_table(known.closed_at, known.open_at),
        controller=known.controller,
        cross_talk=tuple(
            PlayCrossTalk(after=b.after, note=b.note, up_to=b.up_to, within_s=b.within_ms / 1000.0)
            for b in known.cross_talk
        ),
        doubles_s=known.doubles_ms / 1000.0,
    )


def _closing(kit: Kit) -> Iterator[PlayClosing]:
    for piece in pieces_of(kit):
        articulation = closing_articulation(piece)
        if articulation is not None:
            yield PlayClosing(
                articulation=articulation.id,
                sounds=kit.notes.pedal_sounds,
                below=CLOSED_BELOW,
                half=HALF_OPEN,
                loss_a_s=PEDAL_LOSS_A_S,
                softest=PEDAL_SOFTEST,
            )


def _cutoffs(kit: Kit) -> tuple[float, ...]:
    darkest = max(
        (
            steps_darker(octaves_darker(1, piece.tracking)) + steps_darker(a.variation.brightness)
            for piece in pieces_of(kit)
            for a in piece.articulations
            if piece.tracking.brightness or a.variation.brightness
        ),
        default=None,
    )
    return () if darkest is None else ladder(darkest)


def _feeds(
    piece: Piece,
    feeds: Mapping[tuple[str, str], list[Feed]],
    places: dict[str, int],
    widths: dict[str, Width],
    mics: dict[str, Mic],
) -> PlayPieceFeeds:
    def entering(mic: str) -> tuple[PlayFeed, ...]:
        return tuple(
            PlayFeed(
                channel=places[feed.channel],
                gain=_feed_gain(feed.level_db + piece.level_db, mics[mic], widths[feed.channel]),
            )
            for feed in feeds.get((piece.id, mic), ())
        )

    return PlayPieceFeeds(piece=piece.id, mics=tuple(entering(mic) for mic in mics_heard(piece)))


def _feed_gain(level_db: float, mic: Mic, into: Width) -> float:
    """A mono microphone is centred in a stereo channel at equal power; players copy it to both sides."""
    panned = HALF_POWER if mic.width is Width.MONO and into is Width.STEREO else 1.0
    return decibels_to_gain(level_db + mic.gain_db) * panned * (-1.0 if mic.inverted else 1.0)


def _channel(kit: Kit, channel: Channel, width: Width, places: Mapping[str, int]) -> PlayChannel:
    target = Width.STEREO
    if channel.output is not None:
        target = next((o.width for o in kit.routing.outputs if o.number == channel.output), Width.STEREO)
    gain = 0.0 if channel.muted else decibels_to_gain(channel.level_db)
    side = channel.side if channel.output is not None and target is Width.STEREO else Side.BOTH
    matrix = pan_matrix(width, target, channel.pan) if side is Side.BOTH else side_matrix(width, side)
    return PlayChannel(
        id=channel.id,
        name=channel.name,
        width=width,
        output=channel.output or 0,
        matrix=scaled(matrix, gain),
        into=places[channel.bus] if channel.bus else None,
        sends=tuple(_send(channel, send, width, places) for send in channel.sends),
        treatments=compiled(channel.treatments, kit.rate_hz) if kit.routing.treated and channel.treated else (),
        space=channel.space if channel.space is not None and channel.space.on else None,
    )


def _send(channel: Channel, send: Send, width: Width, places: Mapping[str, int]) -> PlaySend:
    """A pre-fader send ignores the channel's level and pan; a muted channel sends nothing."""
    level_db = send.level_db if send.pre_fader else send.level_db + channel.level_db
    gain = 0.0 if channel.muted else decibels_to_gain(level_db)
    matrix = pan_matrix(width, Width.STEREO, 0.0 if send.pre_fader else channel.pan)
    return PlaySend(into=places[send.bus], matrix=scaled(matrix, gain))


def compiled_anew(kit: Kit, before: Kit) -> Iterator[Piece]:
    """The pieces whose part of the play table an edit may have changed: those it changed, or all if it changed
    something every piece depends on, which is the widths of microphones and the rate.
    """
    heard = [mic.width for mic in kit.mics] != [mic.width for mic in before.mics] or kit.rate_hz != before.rate_hz
    known = {piece.id: piece for piece in pieces_of(before)}
    for piece in pieces_of(kit):
        there = known.get(piece.id)
        if heard or (there is not piece and there != piece):
            yield piece


def compile_piece(piece: Piece, kit: Kit) -> PlayPiece:
    widths = {mic.id: mic.width for mic in kit.mics}
    mics = tuple(mics_heard(piece))
    heard = tuple(widths[mic] for mic in mics)
    tracking = piece.tracking
    fades = tracking.attack_soft_ms or tracking.attack_hard_ms
    per_ms = kit.rate_hz / 1000.0
    return PlayPiece(
        id=piece.id,
        name=piece.name,
        darker=tuple(steps_darker(octaves_darker(v, tracking)) for v in range(128)) if tracking.brightness else (),
        attacks=tuple(round(attack_ms(max(1, v), tracking) * per_ms) for v in range(128)) if fades else (),
        hand_stop_s=(piece.hand_stop_ms or 0.0) / 1000.0,
        articulations=tuple(
            _articulation(a, articulation_tracking(piece, a), a.curve or piece.curve, kit.rate_hz, mics, heard)
            for a in piece.articulations
        ),
    )


@remembered(limit=2000)
def _articulation(
    articulation: Articulation,
    tracking: Tracking,
    curve: Curve | None,
    rate_hz: int,
    mics: tuple[str, ...],
    widths: tuple[Width, ...],
) -> PlayArticulation:
    """Compiles one articulation; cached, because an edit of a large piece leaves most of its articulations unchanged."""
    places = {take.id: number for number, take in enumerate(articulation.takes)}
    layers = tuple(
        _layer(articulation, layer, playing, places)
        for layer, playing in zip(articulation.layers, playing_of(articulation, tracking), strict=True)
    )
    return PlayArticulation(
        id=articulation.id,
        name=articulation.name,
        table=curve_table(curve or STRAIGHT),
        layers=layers,
        takes=_takes(articulation.takes, rate_hz, mics, widths, articulation.variation.tune_cents),
        chokes=tuple(PlayChoke(articulation=s.articulation, fade_s=s.fade_ms / 1000.0) for s in articulation.chokes),
        filtered=bool(tracking.brightness or articulation.variation.brightness),
    )


def _layer(articulation: Articulation, layer: Layer, playing: Playing, places: dict[str, int]) -> PlayLayer:
    gains = tuple(
        decibels_to_gain(gain_db) * math.sqrt(power)
        for gain_db, power in zip(playing.gains_db, playing.powers, strict=True)
    )
    held = enabled_takes(articulation, layer)
    takes, seed = [places[take.id] for take in held], seed_of(held)
    sequence = order_sequence(layer.order, len(takes), seed)
    return PlayLayer(
        low=playing.low,
        high=playing.high,
        gains=gains,
        steps=tuple(tuple(takes[i] for i in step) for step in sequence),
        turns=turns(articulation.variation, seed) if takes else (),
    )


@remembered(limit=2000)
def _takes(
    takes: tuple[Take, ...], rate_hz: int, mics: tuple[str, ...], widths: tuple[Width, ...], vary_cents: float
) -> tuple[PlayTake, ...]:
    """Compiles an articulation's takes: the largest part of a kit, which most edits do not touch."""
    places = {mic: (number, width) for number, (mic, width) in enumerate(zip(mics, widths, strict=True))}
    return tuple(_take(take, rate_hz, places, vary_cents) for take in takes)


def _take(take: Take, rate_hz: int, mics: dict[str, tuple[int, Width]], vary_cents: float) -> PlayTake:
    gain = decibels_to_gain(take.gain_db) * (-1.0 if take.inverted else 1.0)
    nearby = (-vary_cents, vary_cents) if vary_cents else ()
    voices = tuple(
        PlayVoice(
            mic=mics[r.mic][0],
            sound=play_sound(take, r, mics[r.mic][1], rate_hz),
            gain=gain,
            tuned=tuple(play_sound(take, r, mics[r.mic][1], rate_hz, cents) for cents in nearby),
        )
        for r in take.recordings
    )
    return PlayTake(id=take.id, label=take.label, voices=voices)


def as_recorded(piece: Piece, take: Take, kit: Kit) -> PlayTake:
    """A take without trims: cut at its start, otherwise as recorded."""
    widths = {mic.id: mic.width for mic in kit.mics}
    plain = Take(
        id=take.id,
        label=take.label,
        level_db=take.level_db,
        start_ms=take.start_ms,
        recordings=tuple(r.but(centred=False, flipped=None) for r in take.recordings),
    )
    mics = {mic: (number, widths[mic]) for number, mic in enumerate(mics_heard(piece))}
    return _take(plain, kit.rate_hz, mics, 0.0)


def play_sound(take: Take, recording: Recording, width: Width, rate_hz: int, more_cents: float = 0.0) -> PlaySound:
    """How a take plays one of its recordings.

    All microphones are cut at the take's common start, so that their time differences survive. Lengths are in played
    time; the start is in recorded time, which tuning stretches.
    """
    cents = take.tune_cents + more_cents
    start_ms = (take.start_ms if recording.cut_ms is None else recording.cut_ms) + take.start_trim_ms
    per_ms = rate_hz / 1000.0
    return PlaySound(
        content=recording.content,
        width=width,
        start_frame=max(0, int(start_ms * per_ms / pitch_ratio(cents))),
        cents=cents,
        centred=recording.centred,
        flipped=recording.flipped,
        frames=0 if take.end_ms is None else max(1, round(take.end_ms * per_ms)),
        fade_in=round(take.fade_in_ms * per_ms),
        fade_out=round(take.fade_out_ms * per_ms),
        pan=_turned(width, take.pan) if take.pan else None,
    )


def _turned(width: Width, pan: float) -> Matrix:
    """The sides of a panned take. A mono one is scaled up by the factor that its feed into a stereo channel will
    remove.
    """
    return scaled(pan_matrix(width, Width.STEREO, pan), 1.0 / HALF_POWER if width is Width.MONO else 1.0)
