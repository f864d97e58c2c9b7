"""Finds what should be flipped: for a take, for a piece over all its takes, for the kit over all its pieces (design,
"Measuring a recording").

Every side of every microphone was compared with its take's reference (`recordings.mic_comparison`). From those signs,
with everything already flipped, this finds the fewest flips after which most of them agree.
"""

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from statistics import median

from drumcore.kit.memoization import remembered
from drumcore.kit.values import Mic, Piece, Recording, Side, Take
from drumcore.recordings.mic_comparison import ITSELF

SIDES = (Side.LEFT, Side.RIGHT)
FEWEST_TAKES = 4
MOST = 0.75
"""The share of comparisons that must say one thing before it is believed."""
SAME_MS = 1.0
End = tuple[str, int]
"""A side of a microphone: its identifier, 0 for the left or only side, 1 for the right one."""


@dataclass(frozen=True)
class FlipNeeded:
    """Recordings with opposite polarity: of a microphone, one `side` of it or both; in one take, in all of one
    articulation or piece, or in the whole kit if all three are None. `against` is the microphone it was compared with;
    `opposed` of `compared` strikes showed it.
    """

    mic: str
    side: Side
    against: str
    opposed: int
    compared: int
    piece: str | None = None
    articulation: str | None = None
    take: str | None = None


@dataclass(frozen=True)
class _Vote:
    articulation: str
    take: str
    sign: int
    delay_ms: float


@dataclass(frozen=True)
class _Tie:
    """The relation of one side of a microphone to its reference in an articulation's takes: mostly +1 or −1."""

    piece: str
    articulation: str
    reference: End
    other: End
    sign: int
    votes: int

    def crosses(self, ends: frozenset[End]) -> bool:
        """Whether flipping these changes the relation's sign."""
        return (self.reference in ends) != (self.other in ends)

    def turned(self, ends: frozenset[End]) -> "_Tie":
        return replace(self, sign=-self.sign) if self.crosses(ends) else self


@dataclass(frozen=True)
class _Heard:
    """The comparisons of a piece: its relations, and single takes that differ from them."""

    ties: tuple[_Tie, ...]
    odd: tuple[FlipNeeded, ...]


def turned_over(recording: Recording, side: int) -> int:
    """−1 if a side of a recording was flipped, else 1."""
    flipped = recording.flipped
    if recording.width == "mono" and flipped is not Side.BOTH:
        return 1
    return -1 if flipped is Side.BOTH or (flipped is not None and (flipped is Side.RIGHT) == (side == 1)) else 1


def reference_of(take: Take) -> tuple[Recording, int] | None:
    """The recording that a take's others were compared with, and its side."""
    return next(((r, r.against.index(ITSELF)) for r in take.recordings if ITSELF in r.against), None)


def opposed(pieces: Iterable[Piece], mics: Sequence[Mic]) -> Iterator[FlipNeeded]:
    """Everything that should be flipped, the widest scope first."""
    heard = [_heard(piece) for piece in pieces]
    over = frozenset((mic.id, side) for mic in mics if mic.inverted for side in (0, 1))
    turns, left = _fewest_turns([tie.turned(over) for each in heard for tie in each.ties])
    yield from turns
    yield from _turns_in_articulations(left)
    for each in heard:
        yield from each.odd


@remembered(limit=2000)
def _heard(piece: Piece) -> _Heard:
    ties: list[_Tie] = []
    strayed: dict[tuple[str, str], set[End]] = defaultdict(set)
    votes = _votes(piece)
    for (reference, other), cast in votes.items():
        articulations: dict[str, list[_Vote]] = defaultdict(list)
        for vote in cast:
            articulations[vote.articulation].append(vote)
        for articulation, mine in articulations.items():
            # An articulation with few takes is judged together with the others of its piece.
            sign = _most(mine) if len(mine) >= FEWEST_TAKES else _most(cast) if len(cast) > len(mine) else _most(mine)
            agree = [vote for vote in mine if vote.sign == sign]
            if not agree:
                sign, agree = _most(mine), mine
            if not sign:
                continue
            ties.append(_Tie(piece.id, articulation, reference, other, sign, len(agree)))
            usual_ms = median(vote.delay_ms for vote in agree)
            for vote in mine if len(mine) >= FEWEST_TAKES else ():
                if vote.sign != sign and abs(vote.delay_ms - usual_ms) <= SAME_MS:
                    strayed[articulation, vote.take].add(other)
    return _Heard(tuple(ties), tuple(_odd_takes(piece, votes, strayed)))


def _most(votes: Sequence[_Vote]) -> int:
    """The sign that most have; 0 if they disagree."""
    up = sum(vote.sign > 0 for vote in votes)
    if max(up, len(votes) - up) < MOST * len(votes):
        return 0
    return 1 if 2 * up > len(votes) else -1


def _votes(piece: Piece) -> dict[tuple[End, End], list[_Vote]]:
    votes: dict[tuple[End, End], list[_Vote]] = defaultdict(list)
    for articulation in piece.articulations:
        for take in articulation.takes:
            found = reference_of(take)
            if found is None:
                continue
            reference, its_side = found
            for recording in take.recordings:
                for side, heard in enumerate(recording.against):
                    if heard.polarity and heard != ITSELF:
                        sign = heard.polarity * turned_over(recording, side) * turned_over(reference, its_side)
                        vote = _Vote(articulation.id, take.id, sign, heard.delay_ms)
                        votes[(reference.mic, its_side), (recording.mic, side)].append(vote)
    return votes


def _odd_takes(
    piece: Piece, votes: Mapping[tuple[End, End], list[_Vote]], strayed: Mapping[tuple[str, str], set[End]]
) -> Iterator[FlipNeeded]:
    for (articulation, take), ends in strayed.items():
        answered = {
            other: reference
            for (reference, other), cast in votes.items()
            if any((vote.articulation, vote.take) == (articulation, take) for vote in cast)
        }
        reference, its_side = next(iter(answered.values()))
        others = {end for end in answered if end[0] != reference}
        if len({mic for mic, _ in others}) > 1 and others <= ends:
            # All of them are opposite, so it is the reference that was flipped.
            side = SIDES[its_side] if (reference, 1 - its_side) in ends else Side.BOTH
            yield FlipNeeded(reference, side, min(others)[0], 1, 1, piece.id, articulation, take)
            continue
        for mic in sorted({mic for mic, _ in ends}):
            mine = [side for name, side in ends if name == mic]
            alone = len(mine) == 1 and ((mic, 1 - mine[0]) in answered or mic == reference)
            yield FlipNeeded(mic, SIDES[mine[0]] if alone else Side.BOTH, reference, 1, 1, piece.id, articulation, take)


def _fewest_turns(ties: list[_Tie]) -> tuple[list[FlipNeeded], list[_Tie]]:
    """The whole microphones and sides to flip, chosen greedily by how many relations each settles, and the relations
    afterwards.
    """
    turns: list[FlipNeeded] = []
    while True:
        best = max(_candidates(ties), key=lambda each: each[0], default=None)
        if best is None:
            return turns, ties
        _, ends, turn = best
        turns.append(turn)
        ties = [tie.turned(ends) for tie in ties]


def _candidates(ties: list[_Tie]) -> Iterator[tuple[tuple[int, int, int], frozenset[End], FlipNeeded]]:
    """What could be flipped, and how much each would settle; whole microphones before sides, references last."""
    references = {tie.reference[0] for tie in ties}
    ends = {end for tie in ties for end in (tie.reference, tie.other)}
    whole = {mic: frozenset(end for end in ends if end[0] == mic) for mic, _ in ends}
    choices = {(mic, Side.BOTH): all_of for mic, all_of in whole.items()}
    choices |= {(mic, SIDES[side]): frozenset({(mic, side)}) for mic, side in ends if len(whole[mic]) == 2}
    for (mic, side), turning in sorted(choices.items()):
        crossing = [tie for tie in ties if tie.crosses(turning)]
        against = [tie for tie in crossing if tie.sign < 0]
        if not against or len(against) < MOST * len(crossing):
            continue
        first = against[0]
        compared_with = first.other[0] if first.reference in turning else first.reference[0]
        turn = FlipNeeded(mic, side, compared_with, sum(t.votes for t in against), sum(t.votes for t in crossing))
        yield (2 * len(against) - len(crossing), side is Side.BOTH, -(mic in references)), turning, turn


def _turns_in_articulations(ties: list[_Tie]) -> Iterator[FlipNeeded]:
    """One side of the files of an articulation, or of all articulations of a piece, where the other side agrees with
    the reference.
    """
    signs = {(tie.articulation, tie.reference, tie.other): tie.sign for tie in ties}
    found: dict[tuple[str, str, int, str], list[_Tie]] = defaultdict(list)
    for tie in ties:
        mic, side = tie.other
        beside = signs.get((tie.articulation, tie.reference, (mic, 1 - side)), 0)
        if tie.sign < 0 and mic == tie.reference[0]:
            # Of the reference's two sides, the one that everything else opposes.
            others = [t.sign for t in ties if t.articulation == tie.articulation and t.reference == tie.reference]
            if len(others) > 1 and max(others) < 0:
                side = tie.reference[1]
            found[tie.piece, mic, side, mic].append(tie)
        elif tie.sign < 0 and beside > 0:
            found[tie.piece, mic, side, tie.reference[0]].append(tie)
    for (piece, mic, side, reference), odd in found.items():
        votes = sum(tie.votes for tie in odd)
        articulations = {
            tie.articulation for tie in ties if tie.piece == piece and (mic, side) in (tie.other, tie.reference)
        }
        if articulations == {tie.articulation for tie in odd}:
            yield FlipNeeded(mic, SIDES[side], reference, votes, votes, piece)
            continue
        for tie in odd:
            yield FlipNeeded(mic, SIDES[side], reference, tie.votes, tie.votes, piece, tie.articulation)
