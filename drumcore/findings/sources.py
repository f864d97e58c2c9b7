"""Findings about a piece's microphones and level from a line check."""

from collections.abc import Iterator, Sequence

from drumcore.edits.pieces import SetPiece
from drumcore.edits.takes import FlipRecordings
from drumcore.findings.finding import Finding, FindingLevel, Where, fix
from drumcore.findings.rules import marked_ignored
from drumcore.kit.lookup import piece_of
from drumcore.kit.values import MOST_DB, Kit, Piece
from drumcore.listening.source_check import SourceProblem, still_true


def findings_of_sources(kit: Kit, problems: Sequence[SourceProblem], checked: Kit) -> tuple[Finding, ...]:
    """One finding per problem that still stands. `checked` is the kit as it was checked."""
    ignored = set(kit.ignored)
    return tuple(
        marked_ignored(finding, ignored)
        for problem in problems
        if still_true(kit, checked, problem)
        for finding in _finding(kit, piece_of(kit, problem.piece), problem)
    )


def _finding(kit: Kit, piece: Piece, problem: SourceProblem) -> Iterator[Finding]:
    mics = {mic.id: mic.name for mic in kit.mics}
    mic, other = mics.get(problem.mic, ""), mics.get(problem.other, "")
    where = Where(step="routing", piece=piece.id, mic=problem.mic or None)
    match problem.kind:
        case "dead_side":
            yield Finding(
                rule="dead_side",
                level=FindingLevel.WRONG,
                title=f"The {problem.side.value} side of {mic} is dead in {piece.name}",
                sentence=f"In the recordings of {piece.name} the {problem.side.value} side of {mic} is {problem.db:.0f} dB under "
                "the other, so it is heard on one side only. Record it again, or leave the microphone out.",
                place=f"{piece.name} · {mic}",
                where=where,
            )
        case "cancels":
            flip = FlipRecordings(mic=problem.other, piece=piece.id)
            yield Finding(
                rule="cancels",
                level=FindingLevel.WRONG,
                title=f"{mic} and {other} cancel each other in {piece.name}",
                sentence=f"Below 500 Hz {mic} and {other} lose {problem.db:.0f} dB of {piece.name} where they meet, so it "
                "sounds thin. Flip the polarity of one of them, or align them.",
                place=f"{piece.name} · {mic}",
                where=where.but(mic=problem.other),
                fixes=(fix(f"Flip {other} in {piece.name}", flip),),
            )
        case _:
            level_db = min(MOST_DB, round(piece.level_db + problem.db, 1))
            yield Finding(
                rule="quiet_piece",
                level=FindingLevel.WORTH_A_LOOK,
                title=f"{piece.name} is very quiet",
                sentence=f"{piece.name}, struck at velocity 100, is {problem.db:.0f} dB under what is usual for its family "
                f"({piece.family.value}); beside the other pieces it is hardly heard.",
                place=piece.name,
                where=where,
                fixes=(
                    fix(f"Turn {piece.name} up to {level_db:+.1f} dB", SetPiece(piece=piece.id, level_db=level_db)),
                ),
            )
