"""Reads the names of a whole session, before its takes are put together: what every name says, and what is left out."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from drumcore.recordings.articulation_numbers import number_articulations
from drumcore.recordings.files import Measured, Unread
from drumcore.recordings.guidance import Guidance
from drumcore.recordings.manual_placement import each_by_itself, place_by_hand
from drumcore.recordings.mic_measurements import Known, compare_files
from drumcore.recordings.mics_by_sound import FileTiming
from drumcore.recordings.name_groups import misfit
from drumcore.recordings.name_parts import NamedPiece
from drumcore.recordings.names import NameReading
from drumcore.recordings.names_without_marks import NamesRead, read_marked
from drumcore.recordings.numbers import Decision, Shape
from drumcore.recordings.own_mics import Locate
from drumcore.recordings.strengths import leave_out_misfits, settle_strengths
from drumcore.recordings.unknown_words import Question, settle_unknown_words


@dataclass(frozen=True)
class SessionNames:
    """What the names of a session say. `kept` are the readings that have a place, `left_out` the files without one;
    `by_name` are the readings that nobody placed by hand, `decisions` what their numbers mean.
    """

    names: NamesRead
    by_name: list[NameReading]
    kept: list[NameReading]
    left_out: list[Unread]
    decisions: Mapping[Shape, Decision]
    questions: list[Question]


def read_names(measured: Sequence[Measured], locate: Locate, guidance: Guidance, known: Known) -> SessionNames:
    """Reads the names of measured files. `locate` finds a recording's file, which is opened only to compare microphones
    that are not in `known`; the user's `guidance` overrides the reader.
    """
    apart = set(guidance.apart)
    by_path = {file.path: file for file in measured if file.path not in apart}
    levels = {path: file.measurements.level_db for path, file in by_path.items()}
    contents = {path: file.content for path, file in by_path.items()}
    heard = {path: FileTiming(file.frames, file.measurements.start_ms) for path, file in by_path.items()}
    names = read_marked(levels, heard, guidance, compare_files(by_path, locate, known))
    readings = names.readings
    if guidance.into is not None:
        for reading in readings:
            reading.piece, reading.why_not = NamedPiece(guidance.into, guidance.into_family), ""
    placed = {entry.path: entry for entry in guidance.placed}
    by_name = [reading for reading in readings if reading.path not in placed and not guidance.each_alone]
    number_articulations([r for r in by_name if not r.why_not], by_path)
    questions = settle_unknown_words([r for r in by_name if not r.why_not], by_path)
    decisions = settle_strengths(by_name, levels)
    left_out = [misfit(reading, contents) for reading in by_name if reading.why_not]
    kept = leave_out_misfits([reading for reading in by_name if not reading.why_not], contents, left_out)
    kept += each_by_itself([r for r in readings if guidance.each_alone and r.path not in placed])
    by_hand = [(reading, placed[reading.path]) for reading in readings if reading.path in placed]
    kept += place_by_hand(by_hand, kept, levels)
    return SessionNames(names, by_name, kept, left_out, decisions, questions)
