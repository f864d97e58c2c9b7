"""Runs every rule on a kit."""

import functools
from collections.abc import Iterable

from drumcore.edits.apply import apply
from drumcore.edits.findings import IgnoreFinding
from drumcore.edits.pieces import BuildPieces
from drumcore.findings import feeds as feeds_findings
from drumcore.findings import layers as layers_findings
from drumcore.findings import microphones as microphones_findings
from drumcore.findings import notes as notes_findings
from drumcore.findings import recordings as recordings_findings
from drumcore.findings import routing as routing_findings
from drumcore.findings import touch as touch_findings
from drumcore.findings.finding import Finding, FindingLevel, Fix, Where
from drumcore.findings.inputs import SentNotes, plays_nothing
from drumcore.kit.values import Kit
from drumcore.recordings.session import SessionReading

_ORDER = [FindingLevel.WRONG, FindingLevel.WORTH_A_LOOK, FindingLevel.INFORMATION]
RULES = (
    *microphones_findings.RULES,
    *recordings_findings.RULES,
    *layers_findings.RULES,
    *routing_findings.RULES,
    *feeds_findings.RULES,
    *notes_findings.RULES,
    *touch_findings.RULES,
    microphones_findings.unused_microphone,
)


_IGNORE_LABELS = {
    "late_start": "Got it",
    "wrong_width": "Got it",
    "other_rate": "Got it",
    "missing_microphone": "Ignore",
    "label_names_other_note": "Ignore",
}
"""What the button that ignores a finding says, by rule; “Ignore” otherwise."""


def notice(
    kit: Kit, most: int | None = None, damaged: frozenset[str] = frozenset(), sent: SentNotes | None = None
) -> list[Finding]:
    """All findings of a kit, the gravest first, ignored ones last and marked.

    `damaged` are hashes of unreadable recordings, `sent` the notes of the connected input. With `most`, at most that many of each kind that is not ignored:
    nobody needs every file named when a whole session has one mistake.
    """
    ignored = set(kit.ignored)
    found: list[Finding] = []
    of_damage = functools.partial(recordings_findings.damaged, contents=damaged)
    of_input = (functools.partial(plays_nothing, sent=sent),) if sent else ()
    for rule in (*((of_damage,) if damaged else ()), *RULES, *of_input):
        open_ones = 0
        for finding in rule(kit):
            if open_ones == most:
                break
            found.append(marked_ignored(finding, ignored))
            open_ones += not found[-1].ignored
    return by_gravity(found)


def by_gravity(found: Iterable[Finding]) -> list[Finding]:
    """Findings sorted by level, the gravest first, ignored ones last."""
    return sorted(found, key=lambda f: (f.ignored, _ORDER.index(f.level)))


def marked_ignored(finding: Finding, ignored: set[str]) -> Finding:
    """The finding with a button that ignores it or stops ignoring it. An error that has a fix cannot be ignored."""
    if finding.key in ignored:
        back = IgnoreFinding(finding=finding.key, ignored=False)
        return finding.but(ignored=True, fixes=(Fix(label="Stop ignoring", edit=back),))
    if finding.level is FindingLevel.WRONG and finding.fixes:
        return finding
    label = _IGNORE_LABELS.get(finding.rule, "Ignore")
    return finding.but(fixes=(*finding.fixes, Fix(label=label, edit=IgnoreFinding(finding=finding.key))))


def notice_session(reading: SessionReading) -> list[Finding]:
    """Findings of a session before a kit is built from it: about its files and the layers they make."""
    unread = [
        Finding(
            rule="unread",
            level=FindingLevel.WORTH_A_LOOK,
            title=f"{entry.path.rsplit('/', 1)[-1]} was not read",
            sentence=entry.why,
            place=entry.path,
            where=Where(step="recordings"),
        )
        for entry in reading.unread
    ]
    if not reading.pieces:
        return unread
    kit = apply(Kit(id="session", name="Session"), BuildPieces(mics=reading.mics, pieces=reading.pieces))
    rules = (*microphones_findings.RULES, *recordings_findings.RULES, *layers_findings.RULES)
    found = [finding for rule in rules for finding in rule(kit)]
    return sorted(found, key=lambda f: _ORDER.index(f.level)) + unread
