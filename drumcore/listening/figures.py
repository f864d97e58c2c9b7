"""Loudness figures that can be requested, and what each depends on: it stays valid as long as that does not change."""

import hashlib
from collections.abc import Callable
from typing import Annotated, Literal

from pydantic import Field

from drumcore.grooves.values import Groove
from drumcore.kit.memoization import remembered
from drumcore.kit.values import Identifier, Kit
from drumcore.listening.comparison_tables import before_channels, channel_compared, kit_compared
from drumcore.listening.loudness import make_up_db, measured, piece_level_db
from drumcore.playing.compiler import compile_kit
from drumcore.playing.play_table import PlayArticulation, PlayPiece, PlayTable
from drumcore.playing.sounds import Sounds
from drumcore.value import Value

RULE = "2"
"""Changed with the rule by which figures are worked out, so that none of an older one is taken for it."""

Progress = Callable[[int, int], None]


class Figure(Value):
    """`db` is the requested figure: a loudness with treatment (LUFS), a piece's level or a make-up gain. A loudness
    also has the figure without treatment and the difference. None if nothing sounds.
    """

    db: float | None
    plain_db: float | None = None
    louder_db: float | None = None


class OfChannel(Value):
    """A channel (or the main mix) with and without its treatment, in a groove."""

    kind: Literal["channel"] = "channel"
    channel: Identifier
    groove: int

    def table(self, kit: Kit) -> PlayTable:
        return channel_compared(kit, self.channel)

    def measure(self, kit: Kit, groove: Groove, sounds: Sounds, progress: Progress) -> Figure:
        return _compared(self.table(kit), groove, sounds, progress)


class OfKit(Value):
    """All outputs with and without all treatments, in a groove."""

    kind: Literal["kit"] = "kit"
    groove: int

    def table(self, kit: Kit) -> PlayTable:
        return kit_compared(kit)

    def measure(self, kit: Kit, groove: Groove, sounds: Sounds, progress: Progress) -> Figure:
        return _compared(self.table(kit), groove, sounds, progress)


class OfPiece(Value):
    """The level by which pieces are compared; no groove is needed. By some `articulations`, or by the main one."""

    kind: Literal["piece"] = "piece"
    piece: Identifier
    articulations: tuple[Identifier, ...] = ()
    groove: None = None

    def table(self, kit: Kit) -> PlayTable:
        return before_channels(compile_kit(kit), self.piece)

    def measure(self, kit: Kit, groove: Groove | None, sounds: Sounds, progress: Progress) -> Figure:
        return Figure(db=piece_level_db(kit, self.piece, sounds, progress, self.articulations))


class OfMakeUp(Value):
    """The make-up gain with which a channel's treatment leaves its loudness unchanged in a groove."""

    kind: Literal["make_up"] = "make_up"
    channel: Identifier
    groove: int

    def table(self, kit: Kit) -> PlayTable:
        return channel_compared(kit, self.channel)

    def measure(self, kit: Kit, groove: Groove, sounds: Sounds, progress: Progress) -> Figure:
        # The number of attempts is not known in advance.
        return Figure(db=make_up_db(kit, self.channel, groove, sounds, lambda _: progress(0, 1)))


AnyAsked = OfChannel | OfKit | OfPiece | OfMakeUp
Asked = Annotated[AnyAsked, Field(discriminator="kind")]


@remembered(limit=64)
def depends_on(kit: Kit, asked: AnyAsked, groove: Groove | None) -> str:
    """A key that changes with anything the figure depends on; it is checked repeatedly while measuring. Raises Refusal
    if the figure names something that does not exist.
    """
    played = groove.model_dump_json(include={"events"}) if groove else ""
    table = asked.table(kit)
    heard = {feeds.piece for feeds in table.head.feeds if any(feeds.mics)}
    parts = [RULE, asked.model_dump_json(), played, table.head.model_dump_json()]
    parts += [digest_of(piece, heard=piece.id in heard) for piece in table.pieces]
    return hashlib.sha256("\n".join(parts).encode()).hexdigest()


def _compared(table: PlayTable, groove: Groove, sounds: Sounds, progress: Progress) -> Figure:
    total = round(groove.length_s * 10)
    found = measured(table, groove.events, sounds, lambda seconds: progress(min(round(seconds * 10), total), total))
    return Figure(db=found.treated_db, plain_db=found.plain_db, louder_db=found.louder_db)


def digest_of(piece: PlayPiece, *, heard: bool) -> str:
    """For a piece that is not heard in the figure, only its effect on others counts: which strikes sound, and what they
    choke.
    """
    around = piece.but(name="", articulations=()).model_dump_json()
    return around + "".join(_digest_of_articulation(articulation, heard) for articulation in piece.articulations)


@remembered(limit=4000)
def _digest_of_articulation(articulation: PlayArticulation, heard: bool) -> str:
    if not heard:
        layers = tuple(y.but(gains=(), turns=(), steps=y.steps[:1]) for y in articulation.layers)
        articulation = articulation.but(takes=(), layers=layers)
    return hashlib.sha256(articulation.but(name="").model_dump_json().encode()).hexdigest()
