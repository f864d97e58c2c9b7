"""Findings about microphones: polarity, delay, width, and which of them recorded what."""

from collections import Counter
from collections.abc import Iterator

from drumcore.edits.bleed import LetIn
from drumcore.edits.takes import BorrowRecording, FlipPolarity, FlipRecordings, MoveRecording
from drumcore.findings.finding import Finding, FindingLevel, Fix, Where, articulation_where, fix, that_help
from drumcore.findings.recordings import file_name, leave_out, recordings_of
from drumcore.kit.lookup import all_articulations, full_name, pieces_of
from drumcore.kit.values import Articulation, Kit, MicKind, Piece, Side, Take
from drumcore.recordings.polarity import FlipNeeded, opposed
from drumcore.recordings.time_alignment import out_of_time
from drumcore.routing.default_routing import mics_heard

STEP = "recordings"
WRONG, LOOK, INFO = FindingLevel.WRONG, FindingLevel.WORTH_A_LOOK, FindingLevel.INFORMATION


def polarity(kit: Kit) -> Iterator[Finding]:
    """Microphones, one of their sides, or recordings with the opposite polarity of the others."""
    names = {mic.id: mic.name for mic in kit.mics}
    pieces = {piece.id: piece for piece in pieces_of(kit)}
    for turned in opposed(pieces.values(), kit.mics):
        mic, against = names[turned.mic], names[turned.against]
        what = mic if turned.side is Side.BOTH else f"The {turned.side.value} side of {mic}"
        edit = FlipRecordings(mic=turned.mic, side=turned.side, piece=turned.piece, articulation=turned.articulation)
        if turned.take is not None and turned.piece is not None:
            yield _turned_take(pieces[turned.piece], turned, what, against)
            continue
        struck = _struck(pieces[turned.piece], turned.articulation) if turned.piece is not None else ""
        where = f" in {struck}" if struck else ""
        whole = turned.piece is None and turned.side is Side.BOTH
        owner = next((piece.id for piece in pieces.values() if turned.mic in piece.own_mics), None)
        yield Finding(
            rule="polarity",
            level=WRONG,
            title=f"{what} has the opposite polarity of {against}{where}",
            sentence=f"{what} has the opposite polarity of {against}{where} in {turned.opposed} of {turned.compared} comparisons; "
            "together they lose low end. Flip its polarity so that they add up.",
            place=f"{struck} · {what}" if struck else what,
            where=Where(step=STEP, piece=turned.piece or owner, articulation=turned.articulation, mic=turned.mic),
            fixes=(Fix(label="Flip polarity", edit=FlipPolarity(mic=turned.mic) if whole else edit),),
        )


def _struck(piece: Piece, articulation: str | None) -> str:
    return next((full_name(piece, a) for a in piece.articulations if a.id == articulation), piece.name)


def _turned_take(piece: Piece, turned: FlipNeeded, what: str, against: str) -> Finding:
    articulation = next(a for a in piece.articulations if a.id == turned.articulation)
    take = next(t for t in articulation.takes if t.id == turned.take)
    recording = next(r for r in take.recordings if r.mic == turned.mic)
    edit = FlipRecordings(mic=turned.mic, side=turned.side, articulation=articulation.id, take=take.id)
    return Finding(
        rule="polarity",
        level=WRONG,
        title=f"{what} has flipped polarity in {full_name(piece, articulation)} {take.label}",
        sentence=f"{recording.path} has the opposite polarity of {against} here, unlike the other takes of {piece.name}; this take sounds thinner than its neighbours. Flip its polarity so that they add up.",
        place=recording.path,
        where=articulation_where(STEP, piece, articulation, take=take),
        fixes=(Fix(label="Flip polarity", edit=edit), leave_out(articulation, take)),
    )


def microphone_out_of_time(kit: Kit) -> Iterator[Finding]:
    """One microphone's recording of a take that is shifted in time against the others."""
    names = {mic.id: mic.name for mic in kit.mics}
    for piece in pieces_of(kit):
        strayed = out_of_time(piece)
        for articulation in piece.articulations if strayed else ():
            for take in articulation.takes:
                for recording in take.recordings:
                    late = strayed.get((articulation.id, take.id, recording.mic))
                    if late is None or recording.cut_ms is not None or not take.enabled:
                        continue
                    when, against = ("late", "later") if late > 0 else ("early", "sooner")
                    move = MoveRecording(articulation=articulation.id, take=take.id, mic=recording.mic, by_ms=late)
                    yield Finding(
                        rule="microphone_out_of_time",
                        level=WRONG,
                        title=f"{names[recording.mic]} is {abs(late):.0f} ms {when} in {full_name(piece, articulation)} {take.label}",
                        sentence=f"In {recording.path} the strike comes {abs(late):.1f} ms {against} against the other "
                        "microphones than in the other takes; together they sound as a flam.",
                        place=recording.path,
                        where=articulation_where(STEP, piece, articulation, take=take),
                        fixes=(Fix(label="Align it", edit=move), leave_out(articulation, take)),
                    )


def missing_microphone(kit: Kit) -> Iterator[Finding]:
    mics = {mic.id: mic.name for mic in kit.mics}
    for piece, articulation in all_articulations(kit):
        heard = Counter(r.mic for t in articulation.takes for r in t.recordings)
        usual = {mic for mic, count in heard.items() if count * 2 > len(articulation.takes)}
        for take in articulation.takes:
            for mic in sorted(usual - {r.mic for r in take.recordings}):
                if take.enabled:
                    yield Finding(
                        rule="missing_microphone",
                        level=LOOK,
                        title=f"{full_name(piece, articulation)} {take.label} has no {mics[mic]}",
                        sentence=f"{take.recordings[0].path} has no recording from {mics[mic]}, which heard the other takes; "
                        "this take sounds drier than its neighbours.",
                        place=take.recordings[0].path,
                        where=articulation_where(STEP, piece, articulation, take=take),
                        fixes=(*_borrowed(articulation, take, mic, mics[mic]), leave_out(articulation, take)),
                    )


def _borrowed(articulation: Articulation, take: Take, mic: str, name: str) -> tuple[Fix, ...]:
    """Borrows the recording of the take nearest in level that has one."""
    lenders = [t for t in articulation.takes if any(r.mic == mic for r in t.recordings)]
    if not lenders:
        return ()
    nearest = min(lenders, key=lambda t: abs(t.level_db - take.level_db))
    edit = BorrowRecording(articulation=articulation.id, take=take.id, mic=mic, from_take=nearest.id)
    return (Fix(label=f"Borrow {name} from {nearest.label}", edit=edit),)


def wrong_width(kit: Kit) -> Iterator[Finding]:
    mics = {mic.id: mic for mic in kit.mics}
    for piece, articulation, take, recording in recordings_of(kit):
        mic = mics[recording.mic]
        if recording.width != mic.width:
            treated = "the average of both sides plays" if recording.width == "stereo" else "it plays in the middle"
            yield Finding(
                rule="wrong_width",
                level=LOOK,
                title=f"{file_name(recording)} is {recording.width}, {mic.name} is {mic.width}",
                sentence=f"{recording.path} is {recording.width} under the {mic.width} microphone {mic.name}; {treated}.",
                place=recording.path,
                where=articulation_where(STEP, piece, articulation, take=take),
            )


def unused_microphone(kit: Kit) -> Iterator[Finding]:
    fed = {feed.mic for feed in kit.routing.feeds}
    for mic in kit.mics:
        if mic.id not in fed and kit.routing.channels and mic.kind is not MicKind.OTHER:
            yield Finding(
                rule="unused_microphone",
                level=INFO,
                title=f"{mic.name} feeds no channel",
                sentence=f"{mic.name} feeds no channel, so it is not heard.",
                place=mic.name,
                where=Where(step="routing", mic=mic.id),
                fixes=_let_in(kit, mic.id, mic.name),
            )


def _let_in(kit: Kit, mic: str, name: str) -> tuple[Fix, ...]:
    """Feeds the pieces whose own microphone it is, or else every piece it recorded, into the channel where it belongs."""
    heard = [piece for piece in pieces_of(kit) if mic in mics_heard(piece)]
    edits = [LetIn(piece=piece.id, mic=mic, on=True) for piece in heard if mic in piece.own_mics] or [
        LetIn(piece=piece.id, mic=mic, on=True) for piece in heard
    ]
    tries = [fix(f"Add {name} to its channel", *edits)] if edits else []
    return tuple(that_help(kit, tries, lambda after: any(feed.mic == mic for feed in after.routing.feeds)))


RULES = (polarity, microphone_out_of_time, missing_microphone, wrong_width)
