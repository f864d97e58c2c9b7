"""What a correction of a session's reading changed, in sentences."""

from collections import Counter
from collections.abc import Iterator

from drumcore.kit.lookup import full_name
from drumcore.recordings.session import SessionReading

MOST_SENTENCES = 6


def what_changed(before: SessionReading, after: SessionReading) -> tuple[str, ...]:
    """Changes, the most important first; the same change in many recordings makes one sentence."""
    said = [*_moved(before, after), *_heard_otherwise(before, after), *_laid_out_otherwise(before, after)]
    left = len(said) - MOST_SENTENCES
    return (*said[:MOST_SENTENCES], *([f"And {left} more like these."] if left > 0 else []))


def _articulations(reading: SessionReading) -> dict[str, str]:
    """Each recording's articulation, by path; unread recordings are missing."""
    return {
        recording.path: full_name(piece, articulation)
        for piece in reading.pieces
        for articulation in piece.articulations
        for take in articulation.takes
        for recording in take.recordings
    }


def _recordings(number: int) -> str:
    return f"{number} recording{'' if number == 1 else 's'}"


def _moved(before: SessionReading, after: SessionReading) -> Iterator[str]:
    was, now = _articulations(before), _articulations(after)
    moves = Counter((was.get(path), now.get(path)) for path in {**was, **now} if was.get(path) != now.get(path))
    for (old, new), number in sorted(moves.items(), key=lambda move: (-move[1], str(move[0]))):
        verb = "is" if number == 1 else "are"
        if new is None:
            yield f"{_recordings(number)} of {old} {verb} not read any more."
        elif old is None:
            yield f"{_recordings(number)} that {'was' if number == 1 else 'were'} not read {verb} {new} now."
        else:
            yield f"{_recordings(number)} {verb} {new} now, not {old}."


def _heard_otherwise(before: SessionReading, after: SessionReading) -> Iterator[str]:
    was, now = _microphones(before), _microphones(after)
    changed = Counter((was[path], now[path]) for path in was.keys() & now.keys() if was[path] != now[path])
    for (old, new), number in sorted(changed.items(), key=lambda change: (-change[1], change[0])):
        yield f"{_recordings(number)} {'is' if number == 1 else 'are'} from {new} now, not {old}."


def _microphones(reading: SessionReading) -> dict[str, str]:
    names = {mic.id: mic.name for mic in reading.mics}
    return {
        recording.path: names[recording.mic]
        for piece in reading.pieces
        for articulation in piece.articulations
        for take in articulation.takes
        for recording in take.recordings
    }


def _laid_out_otherwise(before: SessionReading, after: SessionReading) -> Iterator[str]:
    was, now = _sizes(before), _sizes(after)
    for name in now:
        if name in was and was[name] != now[name]:
            yield f"{name} has {_layers(now[name])} now, not {_layers(was[name])}."


def _sizes(reading: SessionReading) -> dict[str, tuple[int, ...]]:
    return {
        full_name(piece, articulation): tuple(len(layer.takes) for layer in articulation.layers)
        for piece in reading.pieces
        for articulation in piece.articulations
    }


def _layers(sizes: tuple[int, ...]) -> str:
    takes = f"{min(sizes)}" if min(sizes) == max(sizes) else f"{min(sizes)} to {max(sizes)}"
    return (
        f"{len(sizes)} velocity layer{'' if len(sizes) == 1 else 's'} of {takes} take{'' if max(sizes) == 1 else 's'}"
    )
