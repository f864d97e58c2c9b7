"""The findings of a stored kit: of the kit itself, of its last line check and stems, and of the connected input."""

from collections.abc import Iterator, Sequence

from drumcore.exports.export import Made
from drumcore.exports.stems import STEMS
from drumcore.findings.finding import Finding
from drumcore.findings.inputs import SentNotes
from drumcore.findings.rules import by_gravity, marked_ignored, notice
from drumcore.findings.side_effects import Foreseen, foreseen
from drumcore.findings.stems import StemPeak, clipping
from drumcore.simulated.electronic_kits import ELECTRONIC_KITS, map_of
from studio.jobs.models import Job
from studio.kits.exports import EXPORT
from studio.kits.line_checks import last_line_check
from studio.kits.versions import NoSuchVersion, current_kit, kit_at
from studio.storage.files import damaged_contents

MOST_OF_A_KIND = 200


def sent_by(input_id: str, notes: Sequence[int]) -> SentNotes | None:
    """The notes of an input by its id: of a simulated kit all that its pads send, of a device the `notes` it sent."""
    simulated = next((kit for kit in ELECTRONIC_KITS if kit.id == input_id), None)
    if simulated:
        entries = map_of(simulated).entries
        return SentNotes(name=simulated.name, notes=tuple({entry.note for entry in entries}), meant=entries)
    name = input_id.removeprefix("midi:")
    return SentNotes(name=name, notes=tuple(notes)) if name and notes else None


def findings_of_kit(kit_id: str, sent: SentNotes | None = None, most: int | None = MOST_OF_A_KIND) -> list[Finding]:
    """The findings of a kit, the gravest first, at most `most` of each kind."""
    found = notice(current_kit(kit_id), most, damaged_contents(), sent)
    return by_gravity([*found, *last_line_check(kit_id).findings, *_of_stems(kit_id)])


def _of_stems(kit_id: str) -> Iterator[Finding]:
    """Findings about the stems rendered last; none for 32-bit files, which cannot clip."""
    done = Job.objects.filter(kind=EXPORT, kit=kit_id, state="done", arguments__export=STEMS.name)
    last = done.order_by("-created").first()
    if last is None or last.arguments["asked"]["bits"] == 32:
        return
    try:
        rendered = kit_at(kit_id, last.arguments["version"])
    except NoSuchVersion:
        return
    parts = Made.model_validate(last.result).parts
    peaks = [
        StemPeak(output=part.output, peak_dbfs=part.peak_dbfs, clipped_samples=part.clipped_samples)
        for part in parts
        if part.peak_dbfs is not None
    ]
    kit = current_kit(kit_id)
    yield from (marked_ignored(finding, set(kit.ignored)) for finding in clipping(kit, peaks, rendered))


def foreseen_of(kit_id: str, key: str, sent: SentNotes | None = None) -> tuple[Foreseen, ...]:
    """The side effects of each fix of a finding, by its key. Raises Refusal if the kit has no such finding."""
    return foreseen(current_kit(kit_id), key, findings_of_kit(kit_id, sent, most=None))
