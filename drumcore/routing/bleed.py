"""Bleed: the feeds of a piece in a microphone, and the channel that a missing feed would enter."""

from collections import Counter
from statistics import mean

from drumcore.kit.memoization import remembered
from drumcore.kit.values import Feed, Kit, Piece, Routing, Take
from drumcore.refusals import Refusal
from drumcore.routing.default_routing import mics_heard, own_channel


def feeds_of_pair(routing: Routing, piece: str, mic: str) -> tuple[Feed, ...]:
    return tuple(feed for feed in routing.feeds if feed.piece == piece and feed.mic == mic)


def entrance(kit: Kit, piece: Piece, mic: str) -> str:
    """The channel that most of a microphone's feeds enter, else the piece's own. Raises Refusal if there is neither."""
    entered = Counter(feed.channel for feed in kit.routing.feeds if feed.mic == mic)
    if entered:
        return entered.most_common(1)[0][0]
    own = own_channel(kit, piece)
    if own is None:
        raise Refusal(f"There is no channel for {piece.name}; make its pieces again under Recordings.")
    return own.id


def recorded_db(piece: Piece) -> dict[str, float]:
    """How loud a piece was recorded in each microphone, in dB against the loudest of its own (of all, if it has none): the
    mean over all takes. Settings do not count.
    """
    sums: dict[str, list[tuple[float, int]]] = {}
    for articulation in piece.articulations:
        for mic, (level_db, takes) in _levels(articulation.takes).items():
            sums.setdefault(mic, []).append((level_db, takes))
    levels = {mic: sum(db * n for db, n in found) / sum(n for _, n in found) for mic, found in sums.items()}
    own = [levels[mic] for mic in piece.own_mics if mic in levels] or list(levels.values())
    return {mic: round(levels[mic] - max(own), 1) for mic in mics_heard(piece)}


@remembered(limit=2000)
def _levels(takes: tuple[Take, ...]) -> dict[str, tuple[float, int]]:
    """By microphone, the mean level of some takes in dB and their number."""
    found: dict[str, list[float]] = {}
    for take in takes:
        for recording in take.recordings:
            found.setdefault(recording.mic, []).append(recording.level_db)
    return {mic: (mean(levels), len(levels)) for mic, levels in found.items()}
