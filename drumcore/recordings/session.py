"""Reads a recording session: names become pieces, articulations, layers and takes across microphones."""

from collections import Counter
from collections.abc import Sequence
from pathlib import Path
from statistics import mean

from drumcore.kit.values import Family, Mic, MicKind, Piece, Width, slug
from drumcore.natural_order import natural_key
from drumcore.recordings.columns import NameGroup, name_groups
from drumcore.recordings.doubtful_cells import doubts_about_cells
from drumcore.recordings.files import Measured, Progress, Unread, files_under, measure_files, shown_name
from drumcore.recordings.guidance import NO_GUIDANCE, Guidance
from drumcore.recordings.mic_measurements import Known, compare_microphones
from drumcore.recordings.name_groups import grouped
from drumcore.recordings.name_parts import NamedPiece
from drumcore.recordings.names import NameReading
from drumcore.recordings.own_mics import Locate, own_mics
from drumcore.recordings.session_names import read_names
from drumcore.recordings.strengths import reasons_for
from drumcore.recordings.takes import assemble_piece
from drumcore.recordings.time_alignment import in_common_time
from drumcore.recordings.unknown_words import Question
from drumcore.value import Value

FAMILY_ORDER = list(Family)


class SessionReading(Value):
    """What a session holds: its microphones, its pieces with layers, unread files with reasons. `groups` describe how
    names were read, column by column; `questions` what could not be decided; `apart` are the files the user left out;
    `changed` says what the latest correction changed.
    """

    mics: tuple[Mic, ...]
    pieces: tuple[Piece, ...]
    unread: tuple[Unread, ...]
    reasons: tuple[str, ...]
    files: int
    groups: tuple[NameGroup, ...] = ()
    questions: tuple[Question, ...] = ()
    apart: tuple[str, ...] = ()
    changed: tuple[str, ...] = ()

    @property
    def sure(self) -> float:
        """The confidence of the whole reading, 0 to 1: that of its most doubtful column."""
        return min((column.sure for group in self.groups for column in group.columns), default=1.0)

    @property
    def nameless(self) -> tuple[Unread, ...]:
        """Files with sound whose names could not be read at all."""
        return tuple(entry for entry in self.unread if entry.content)

    @property
    def single_hits(self) -> bool:
        """Whether it is a folder of single sounds, each another articulation, without open questions."""
        articulations = [articulation for piece in self.pieces for articulation in piece.articulations]
        alone = all(len(s.takes) == 1 and len(s.takes[0].recordings) == 1 for s in articulations)
        return alone and not self.questions and len(articulations) + len(self.nameless) > 1

    @property
    def takes(self) -> int:
        return sum(len(a.takes) for p in self.pieces for a in p.articulations)


def read_folder(root: Path, progress: Progress | None = None, guidance: Guidance = NO_GUIDANCE) -> SessionReading:
    """Reads a folder of recordings. Raises Refusal if it holds nothing to read."""
    names = files_under(root)
    places = {shown_name(name): root / name for name in names}
    measured, unread = measure_files(((place, name) for name, place in places.items()), progress)
    return read_session(measured, unread, lambda recording: places[recording.path], guidance)


def read_session(
    measured: Sequence[Measured],
    unread: Sequence[Unread],
    locate: Locate,
    guidance: Guidance = NO_GUIDANCE,
    known: Known | None = None,
    progress: Progress | None = None,
) -> SessionReading:
    """Assembles measured files into pieces. `locate` finds a recording's file, to compare microphones by sound; `known`
    and `progress` are as in `mic_measurements.compare_microphones`. The user's `guidance` overrides the reader.
    """
    known = {} if known is None else known
    apart = set(guidance.apart)
    named = read_names(measured, locate, guidance, known)
    by_path = {file.path: file for file in measured if file.path not in apart}
    kept = named.kept
    left_out = [*(entry for entry in unread if entry.path not in apart), *named.left_out]
    mics = _microphones(kept, by_path)
    by_piece = grouped(kept, lambda r: r.piece)
    groups = {of: group for of, group in by_piece.items() if isinstance(of, NamedPiece)}
    titles = {of.title for of in groups}
    pieces = []
    for of, group in groups.items():
        own = own_mics(of, titles, _mic_levels(group, by_path), mics)
        piece = assemble_piece(of, group, by_path, mics, own, left_out)
        if piece.articulations:
            pieces.append(in_common_time(piece))
    pieces = compare_microphones(pieces, {mic.id: mic for mic in mics.values()}, locate, known, progress)
    pieces.sort(key=lambda p: (FAMILY_ORDER.index(p.family), _tom_height(p.name), natural_key(p.name)))
    columns = name_groups(named.names, named.decisions, named.questions)
    questions = [*named.questions, *doubts_about_cells(pieces, kept, columns, by_path)]
    return SessionReading(
        mics=tuple(mics.values()),
        pieces=tuple(pieces),
        unread=tuple(sorted(left_out, key=lambda u: natural_key(u.path))),
        reasons=tuple(reasons_for(named.by_name, named.decisions)),
        files=len(measured) + len(unread),
        groups=name_groups(named.names, named.decisions, questions),
        questions=tuple(questions),
        apart=tuple(sorted(apart & ({f.path for f in measured} | {f.path for f in unread}))),
    )


def _tom_height(name: str) -> int:
    heights = ["high", "rack", "mid", "low", "floor"]
    return next((i for i, word in enumerate(heights) if name.lower().startswith(word)), len(heights))


def _microphones(readings: list[NameReading], by_path: dict[str, Measured]) -> dict[str, Mic]:
    """Every microphone by its lower-case name, with the width of most of its recordings."""
    nameless = "Microphone" if not any(r.mic for r in readings) else "Close"
    for reading in readings:
        reading.mic = reading.mic or nameless
        reading.mic_kind = reading.mic_kind or MicKind.CLOSE
    _part_by_width(readings, by_path)
    found: dict[str, Mic] = {}
    for key, group in grouped(readings, lambda r: r.mic.lower()).items():
        widths = Counter(by_path[r.path].width for r in group)
        kinds = Counter(r.mic_kind for r in group)
        name = Counter(r.mic for r in group).most_common(1)[0][0]
        found[str(key)] = Mic(
            id=slug(name),
            name=name,
            kind=kinds.most_common(1)[0][0] or MicKind.CLOSE,
            width=Width.STEREO if widths[2] > widths[1] else Width.MONO,
        )
    order = list(MicKind)
    return dict(sorted(found.items(), key=lambda item: (order.index(item[1].kind), natural_key(item[1].name))))


def _part_by_width(readings: list[NameReading], by_path: dict[str, Measured]) -> None:
    """Splits a microphone name that stands for mono recordings of one piece and stereo recordings of another."""
    for group in grouped(readings, lambda r: r.mic.lower()).values():
        by_piece = grouped(group, lambda r: r.piece)
        stereo = {
            piece
            for piece, files in by_piece.items()
            if sum(by_path[r.path].width == 2 for r in files) * 2 > len(files)
        }
        if 0 < len(stereo) < len(by_piece):
            for reading in group:
                if reading.piece in stereo:
                    reading.mic = f"{reading.mic} stereo"


def _mic_levels(group: list[NameReading], by_path: dict[str, Measured]) -> dict[str, float]:
    """The mean level in dB of a piece's recordings, by microphone."""
    return {
        str(key): mean(by_path[r.path].measurements.level_db for r in members)
        for key, members in grouped(group, lambda r: r.mic.lower()).items()
    }
