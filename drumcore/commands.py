"""What the commands of `zesty` do. Only imported once one is asked for: the core takes seconds to load."""

import argparse
import contextlib
import json
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import asdict
from pathlib import Path
from typing import Any

from drumcore.demo.figures import compare_with_real_drums, table
from drumcore.demo.files import write_demo
from drumcore.edits.apply import apply
from drumcore.edits.pieces import BuildPieces
from drumcore.findings.finding import Finding, FindingLevel
from drumcore.findings.rules import notice, notice_session
from drumcore.formats.kit_file import OpenedKit, read_kit_file, write_kit_file
from drumcore.formats.midi import read_midi
from drumcore.formats.suffix import SUFFIX
from drumcore.kit.lookup import articulation_of, full_name, pieces_of
from drumcore.kit.values import Kit, Recording, slug
from drumcore.listening.audition import hit
from drumcore.listening.line_check import Line, Verdict, check_lines
from drumcore.listening.velocity_sweep import climbs
from drumcore.notes.names import note_name
from drumcore.playing.compiler import compile_kit
from drumcore.playing.play_table import PlayTable
from drumcore.playing.sounds import FileSounds
from drumcore.playing.stems import write_stems
from drumcore.recordings.files import files_under, measure_files
from drumcore.recordings.session import SessionReading, read_folder, read_session
from drumcore.refusals import Refusal
from drumcore.shelf.entries import counted

DONE, FOUND_WRONG = 0, 1


def say(text: str) -> None:
    print(text, file=sys.stderr)


def _print_json(document: Any) -> None:
    json.dump(document, sys.stdout, ensure_ascii=False, indent=1)
    print()


def _finding(finding: Finding) -> dict[str, Any]:
    return {
        "rule": finding.rule,
        "level": finding.level.value,
        "place": finding.place,
        "sentence": finding.sentence,
        "mends": [mend.model_dump(mode="json", exclude_none=True) for mend in finding.mends],
    }


def _print_findings(findings: list[Finding]) -> None:
    for finding in findings:
        print(f"{finding.level.value.replace('_', ' '):13} {finding.title}. {finding.sentence}")


def demo_command(options: argparse.Namespace) -> int:
    sessions, grooves = write_demo(options.folder)
    for path in (*sessions, *grooves):
        print(path)
    if not options.figures:
        return DONE
    found = compare_with_real_drums(sessions[0].parent)
    print(table(found))
    return FOUND_WRONG if any(heard.off() for heard in found) else DONE


def reading_document(reading: SessionReading) -> dict[str, Any]:
    """What `zesty read --json` prints; layers run from softest to hardest."""
    names = {mic.id: mic.name for mic in reading.mics}
    pieces = []
    for piece in reading.pieces:
        strokes = []
        for stroke in piece.articulations:
            takes = {
                take.id: {
                    "level_db": take.level_db,
                    "start_ms": take.start_ms,
                    "hand": take.hand,
                    "recordings": {names[r.mic]: r.path for r in take.recordings},
                }
                for take in stroke.takes
            }
            layers = [{"takes": [takes[i] for i in layer.takes]} for layer in stroke.layers]
            strokes.append({"name": stroke.name, "layers": layers})
        pieces.append({"name": piece.name, "family": piece.family.value, "articulations": strokes})
    return {
        "microphones": [{"name": m.name, "kind": m.kind.value, "width": m.width.value} for m in reading.mics],
        "pieces": pieces,
        "unread": [{"path": u.path, "why": u.why} for u in reading.unread],
        "findings": [_finding(f) for f in notice_session(reading)],
    }


def read_command(options: argparse.Namespace) -> int:
    reading = read_folder(options.folder)
    if options.json:
        _print_json(reading_document(reading))
    else:
        counts = ((reading.files, "file"), (reading.takes, "take"), (len(reading.mics), "microphone"))
        print(", ".join(counted(number, noun) for number, noun in counts))
        for piece in reading.pieces:
            for stroke in piece.articulations:
                sizes = " ".join(str(len(layer.takes)) for layer in stroke.layers)
                layers = counted(len(stroke.layers), "layer")
                print(f"  {piece.name} · {stroke.name}: {layers} of {sizes} take{'' if sizes == '1' else 's'}")
        for reason in reading.reasons:
            print(reason)
        _print_findings(notice_session(reading))
    return DONE


def build_command(options: argparse.Namespace) -> int:
    root: Path = options.folder
    names = files_under(root)
    measured, unread = measure_files((root / name, name) for name in names)
    places = {file.content: root / file.path for file in measured}

    def locate(recording: Recording) -> Path:
        return root / recording.path

    reading = read_session(measured, unread, locate)
    for entry in reading.unread:
        say(entry.why)
    if not reading.pieces:
        raise Refusal(f"{root} holds no recording whose name says which piece was struck; no kit was made.")
    name = options.name or root.resolve().name or "Kit"
    kit = apply(Kit(id=slug(name), name=name), BuildPieces(mics=reading.mics, pieces=reading.pieces))
    write_kit_file(kit, lambda content: places[content], options.output)
    print(
        f"{options.output}: {len(reading.pieces)} pieces, {reading.takes} takes, {len(reading.unread)} files left out"
    )
    return DONE


@contextlib.contextmanager
def opened_kit(path: Path) -> Iterator[OpenedKit]:
    """A kit file, open while it is worked on; what is worth knowing of it is said. Raises Refusal where it cannot be read."""
    if not path.is_file():
        raise Refusal(f"{path} is not a file; give a {SUFFIX} file.")
    with tempfile.TemporaryDirectory(prefix="zesty-") as folder:
        opened = read_kit_file(path, Path(folder))
        for said in (*opened.notes, *opened.problems):
            say(said)
        yield opened


def check_command(options: argparse.Namespace) -> int:
    with opened_kit(options.kit) as opened:
        findings = [finding for finding in notice(opened.kit) if not finding.settled]
        lines = list(check_lines(opened.kit, _played(opened)[1])) if options.lines else []
    document = [_finding(f) for f in findings]
    document = [
        {"rule": "missing_recordings", "level": "wrong", "place": options.kit.name, "sentence": p, "mends": []}
        for p in opened.problems
    ] + document
    if options.json:
        listed = {"lines": [_line_json(line, opened.kit) for line in lines]} if options.lines else {}
        _print_json({"findings": document} | listed)
    else:
        _print_findings(findings)
        _print_lines(lines, opened.kit)
    wrong = opened.problems or any(f.level is FindingLevel.WRONG for f in findings)
    astray = any(line.verdict is not Verdict.AS_PLANNED for line in lines)
    return FOUND_WRONG if wrong or astray else DONE


def _line_json(line: Line, kit: Kit) -> dict[str, Any]:
    """A line as it is printed: names instead of identifiers."""
    piece, stroke = articulation_of(kit, line.articulation)
    outputs = [
        {
            "number": output.number,
            "name": output.name,
            "peaks_dbfs": [None if peak is None else round(peak, 2) for peak in output.peaks_dbfs],
        }
        for output in line.outputs
    ]
    return {"piece": piece.name, "articulation": stroke.name, "verdict": line.verdict.value, "outputs": outputs}


def _print_lines(lines: list[Line], kit: Kit) -> None:
    for line in lines:
        what = full_name(*articulation_of(kit, line.articulation))
        arriving = [f"{o.number} {o.name} {o.arrives_dbfs:.1f}" for o in line.outputs if o.arrives_dbfs is not None]
        print(f"{what:34} {line.verdict:11} {', '.join(arriving) or 'no output'}")


def _played(opened: OpenedKit) -> tuple[PlayTable, FileSounds]:
    places = opened.recordings | opened.responses
    return compile_kit(opened.kit), FileSounds(lambda content: places[content])


def hit_command(options: argparse.Namespace) -> int:
    with opened_kit(options.kit) as opened:
        table, sounds = _played(opened)
        names = {o.number: o.name for o in table.head.outputs}
        strikes = []
        heard_any = False
        for heard in hit(
            table, sounds, options.note, options.velocity, strikes=options.strikes, openness=options.openness
        ):
            heard_any = heard_any or bool(heard.sounding)
            strikes.append(
                {
                    "note": options.note,
                    "velocity_in": options.velocity,
                    "velocity": heard.sounding[0].velocity if heard.sounding else 0,
                    "piece": heard.sounding[0].piece.name if heard.sounding else None,
                    "articulation": heard.sounding[0].articulation.name if heard.sounding else None,
                    "layer": heard.sounding[0].layer if heard.sounding else None,
                    "take": _take_index(opened.kit, heard.sounding[0]) if heard.sounding else None,
                    "sounding": [
                        {
                            "velocity": s.velocity,
                            "piece": s.piece.name,
                            "articulation": s.articulation.name,
                            "layer": s.layer,
                            "take": _take_index(opened.kit, s),
                            "take_label": s.take.label,
                        }
                        for s in heard.sounding
                    ],
                    "outputs": [
                        {"number": n, "name": names[n], "peak_dbfs": peak} for n, peak in heard.peaks_dbfs.items()
                    ],
                }
            )
        if not heard_any:
            say(f"Note {options.note} ({note_name(options.note)}) sounds nothing at velocity {options.velocity}.")
        if options.json:
            _print_json({"strikes": strikes})
        else:
            for strike in strikes:
                reached = ", ".join(f"{o['number']} {o['name']} {o['peak_dbfs']:.1f} dBFS" for o in strike["outputs"])
                what = " + ".join(
                    f"{s['piece']} · {s['articulation']}, layer {s['layer'] + 1}, take {s['take_label']}"
                    for s in strike["sounding"]
                )
                print(f"{strike['velocity_in']} → {strike['velocity']}: {what or 'nothing'} → {reached or 'nowhere'}")
    return DONE


def climb_command(options: argparse.Namespace) -> int:
    with opened_kit(options.kit) as opened:
        found = list(climbs(*_played(opened)))
    if options.json:
        _print_json({"strokes": [{**asdict(climb), "climbs": climb.climbs} for climb in found]})
    else:
        for climb in found:
            soft, hard = climb.levels_db[1], climb.levels_db[127]
            verdict = "climbs" if climb.climbs else "FALLS"
            print(
                f"{climb.piece + ' · ' + climb.stroke:34} {soft:7.1f} to {hard:6.1f} dB  greatest fall {climb.fall_db:5.2f} dB, "
                f"{climb.beyond_db:5.2f} beyond its takes’ spread  {verdict}"
            )
    return DONE if all(climb.climbs for climb in found) else FOUND_WRONG


def _take_index(kit: Kit, sounding: Any) -> int:
    """The take's place in its layer, from 0."""
    for piece in pieces_of(kit):
        for stroke in piece.articulations:
            if stroke.id == sounding.articulation.id:
                return int(stroke.layers[sounding.layer].takes.index(sounding.take.id))
    raise KeyError(sounding.articulation.id)


def render_command(options: argparse.Namespace) -> int:
    if not options.groove.is_file():
        raise Refusal(f"{options.groove} is not a file; give a MIDI file.")
    groove = read_midi(options.groove, options.channel, pattern=options.pattern)
    with opened_kit(options.kit) as opened:
        kit = opened.kit.but(rate_hz=options.rate)
        table, sounds = _played(OpenedKit(kit, opened.recordings, opened.responses))
        listed = write_stems(table, groove.events, sounds, options.output, bits=options.bits)
    for stem in listed["stems"]:
        if stem["clipped_samples"] and options.bits != 32:
            say(f"{stem['file']} goes over full scale in {stem['clipped_samples']} samples; lower its channels.")
    if options.json:
        _print_json(listed)
    else:
        for stem in listed["stems"]:
            print(f"{options.output / stem['file']}  peak {stem['peak_dbfs']:.1f} dBFS")
    return DONE
