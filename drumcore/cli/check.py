"""`zesty check`: print a kit's findings."""

import argparse
from pathlib import Path
from typing import Any

from drumcore.cli.kit_files import opened_kit, played
from drumcore.cli.output import DONE, FOUND_WRONG, finding_document, print_findings, print_json
from drumcore.findings.finding import FindingLevel
from drumcore.findings.rules import notice
from drumcore.kit.lookup import articulation_of, full_name
from drumcore.kit.values import Kit
from drumcore.listening.line_check import Line, Verdict, check_lines


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("kit", type=Path, metavar="KIT")
    parser.add_argument(
        "--lines",
        action="store_true",
        help="strike every articulation and say where it arrives; exit 1 where one is not as planned",
    )
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    with opened_kit(options.kit) as opened:
        findings = [finding for finding in notice(opened.kit) if not finding.ignored]
        lines = list(check_lines(opened.kit, played(opened)[1])) if options.lines else []
    document = [finding_document(f) for f in findings]
    document = [
        {"rule": "missing_recordings", "level": "wrong", "place": options.kit.name, "sentence": p, "fixes": []}
        for p in opened.problems
    ] + document
    if options.json:
        listed = {"lines": [_line_json(line, opened.kit) for line in lines]} if options.lines else {}
        print_json({"findings": document} | listed)
    else:
        print_findings(findings)
        _print_lines(lines, opened.kit)
    wrong = opened.problems or any(f.level is FindingLevel.WRONG for f in findings)
    astray = any(line.verdict is not Verdict.AS_PLANNED for line in lines)
    return FOUND_WRONG if wrong or astray else DONE


def _line_json(line: Line, kit: Kit) -> dict[str, Any]:
    """A line check result as printed: with names in place of ids."""
    piece, articulation = articulation_of(kit, line.articulation)
    outputs = [
        {
            "number": output.number,
            "name": output.name,
            "peaks_dbfs": [None if peak is None else round(peak, 2) for peak in output.peaks_dbfs],
        }
        for output in line.outputs
    ]
    return {"piece": piece.name, "articulation": articulation.name, "verdict": line.verdict.value, "outputs": outputs}


def _print_lines(lines: list[Line], kit: Kit) -> None:
    for line in lines:
        what = full_name(*articulation_of(kit, line.articulation))
        arriving = [f"{o.number} {o.name} {o.arrives_dbfs:.1f}" for o in line.outputs if o.arrives_dbfs is not None]
        print(f"{what:34} {line.verdict:11} {', '.join(arriving) or 'no output'}")
