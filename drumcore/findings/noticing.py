"""Every rule run over a kit."""

from drumcore.edits.applying import apply
from drumcore.edits.values import BuildPieces
from drumcore.findings import of_layers, of_playing, of_recordings
from drumcore.findings.finding import Finding, FindingLevel, Where
from drumcore.kit.values import Kit
from drumcore.recordings.session import SessionReading

_ORDER = [FindingLevel.WRONG, FindingLevel.WORTH_A_LOOK, FindingLevel.INFORMATION]
RULES = (*of_recordings.RULES, *of_layers.RULES, *of_playing.RULES, of_recordings.unused_microphone)


def notice(kit: Kit) -> list[Finding]:
    """All findings of a kit, the gravest first."""
    found = [finding for rule in RULES for finding in rule(kit)]
    return sorted(found, key=lambda f: _ORDER.index(f.level))


def notice_session(reading: SessionReading) -> list[Finding]:
    """What is worth knowing of a session before a kit is made of it: its files, and the layers they make."""
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
    rules = (*of_recordings.RULES, *of_layers.RULES)
    found = [finding for rule in rules for finding in rule(kit)]
    return sorted(found, key=lambda f: _ORDER.index(f.level)) + unread
