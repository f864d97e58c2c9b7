"""Loudness of a channel, a bus, the main mix or a whole kit with and without treatment, and of a piece."""

from collections.abc import Callable, Collection, Iterable

from drumcore.grooves.values import Groove, GrooveEvent
from drumcore.kit.lookup import channel_of, piece_of, with_channel
from drumcore.kit.values import Kit, Piece, Width
from drumcore.listening.comparison_tables import PLAIN, TREATED, before_channels, channel_compared
from drumcore.listening.integrated_loudness import Integrated
from drumcore.listening.velocity_sweep import measured_db, struck_directly
from drumcore.playing.compiler import compile_kit
from drumcore.playing.play_table import PlayArticulation, PlayTable
from drumcore.playing.renderer import render
from drumcore.playing.sounds import Sounds
from drumcore.playing.striker import Striker
from drumcore.recordings.k_weighting import FLOOR_DB, decibels_of_power
from drumcore.recordings.trade_words import DEFAULT_ARTICULATION
from drumcore.refusals import Refusal
from drumcore.treatments.compressor import LEAST_MAKE_UP_DB, MOST_MAKE_UP_DB, Compressor
from drumcore.value import Value

PLAYED_AT = 100
"""The played velocity at which pieces are compared."""
EXACT_DB = 0.05
MOST_TRIES = 8

Progress = Callable[[float], None]


class Loudness(Value):
    """Integrated loudness with and without treatment, in LUFS; None if no block passes the gate."""

    treated_db: float | None
    plain_db: float | None

    @property
    def louder_db(self) -> float | None:
        """How much louder the treatment makes it, rounded to 0.1 dB."""
        if self.treated_db is None or self.plain_db is None:
            return None
        return round(self.treated_db - self.plain_db, 1)


def measured(
    table: PlayTable, events: Iterable[GrooveEvent], sounds: Sounds, progress: Progress | None = None
) -> Loudness:
    """The loudness of both outputs of a comparison table. `progress` is called with the seconds done."""
    rate = table.head.rate_hz
    sides = {o.number: 2 if o.width is Width.STEREO else 1 for o in table.head.outputs}
    meters = {number: Integrated(rate, count) for number, count in sides.items()}
    for block in render(table, events, sounds):
        frames = 0
        for number, sound in block.outputs.items():
            meters[number].add(sound)
            frames = sound.shape[1]
        if progress:
            progress((block.first_frame + frames) / rate)
    return Loudness(treated_db=meters[TREATED].loudness_db, plain_db=meters[PLAIN].loudness_db)


def make_up_db(kit: Kit, channel: str, groove: Groove, sounds: Sounds, progress: Progress | None = None) -> float:
    """The make-up gain of a channel's compressor with which its treatment leaves the loudness unchanged in a groove, to
    0.1 dB, within the range of make-up.

    Found by the secant method, because a later treatment may be non-linear. Raises Refusal if the channel has no active
    compressor or is silent in the groove.
    """
    before = next((t for t in channel_of(kit, channel).treatments if isinstance(t, Compressor)), None)
    if before is None or not before.on:
        raise Refusal(f"{channel_of(kit, channel).name} has no compressor that is on; switch it on first.")

    def louder(make_up: float) -> float:
        treated = _with_make_up(kit, channel, make_up)
        found = measured(channel_compared(treated, channel), groove.events, sounds, progress)
        if found.treated_db is None or found.plain_db is None:
            raise Refusal(f"{groove.name} is too quiet in {channel_of(kit, channel).name}; choose another.")
        return found.treated_db - found.plain_db

    at, off = before.make_up_db, louder(before.make_up_db)
    slope = 1.0
    for _ in range(MOST_TRIES):
        if abs(off) < EXACT_DB:
            break
        then = min(MOST_MAKE_UP_DB, max(LEAST_MAKE_UP_DB, at - off / slope))
        if then == at:
            break
        now = louder(then)
        slope = max(0.05, (now - off) / (then - at))
        at, off = then, now
    return round(at, 1)


def _with_make_up(kit: Kit, channel: str, make_up: float) -> Kit:
    return with_channel(
        kit,
        channel,
        lambda c: c.but(
            treatments=tuple(t.but(make_up_db=make_up) if isinstance(t, Compressor) else t for t in c.treatments)
        ),
    )


def main_articulation(piece: Piece) -> str:
    """The id of the articulation that a piece is judged by: its family's usual one, or else its first; empty for a piece
    without any.
    """
    usual = (a.id for a in piece.articulations if a.name == DEFAULT_ARTICULATION[piece.family])
    return next(usual, piece.articulations[0].id if piece.articulations else "")


def piece_level_db(
    kit: Kit,
    piece: str,
    sounds: Sounds,
    progress: Callable[[int, int], None] | None = None,
    articulations: Collection[str] = (),
) -> float | None:
    """A piece's level for comparison with others: the mean energy of everything that sounds at velocity 100, through
    its feeds and before its channels, K-weighted over 300 ms, in dB. None if it is silent.

    It is that of its main articulation, or of the `articulations` named, by id. Each distinct step of each one's round
    robin is struck once, without variation. `progress` is called with strikes done and the total.
    """
    of_interest = set(articulations) or {main_articulation(piece_of(kit, piece))}
    table = before_channels(compile_kit(kit), piece)
    played = [
        _unvaried(a)
        for p in table.pieces
        if p.id == piece
        for a in p.articulations
        if a.id in of_interest and _steps_at(a, PLAYED_AT)
    ]
    total = sum(_steps_at(articulation, PLAYED_AT) for articulation in played)
    power, done = 0.0, 0
    for articulation in played:
        direct = struck_directly(table, articulation)
        striker = Striker(direct)
        for _ in range(_steps_at(articulation, PLAYED_AT)):
            level = measured_db(direct, sounds, PLAYED_AT, striker)
            power += 10.0 ** (level / 10.0) if level > FLOOR_DB else 0.0
            done += 1
            if progress:
                progress(done, total)
    return decibels_of_power(power / total) if power else None


def _unvaried(articulation: PlayArticulation) -> PlayArticulation:
    """An articulation without variation whose layers play each distinct step once, in order."""
    layers = tuple(layer.but(steps=tuple(dict.fromkeys(layer.steps)), turns=()) for layer in articulation.layers)
    return articulation.but(layers=layers)


def _steps_at(articulation: PlayArticulation, velocity: int) -> int:
    """How many strikes play everything the articulation has at a velocity."""
    return max((len(set(y.steps)) for y in articulation.layers if y.low <= velocity <= y.high), default=0)
