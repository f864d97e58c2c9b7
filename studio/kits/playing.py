"""What somebody played, sent to the core to be judged: teaching, reaching, fitting, pads that misbehave; and stand-ins
that play by themselves."""

from typing import Annotated, Literal

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from drumcore.demo.electronic_kits import ELECTRONIC_KITS, ElectronicKit
from drumcore.demo.performing import Strength, beat, every_pad, strokes
from drumcore.edits.of_notes import TeachNote
from drumcore.findings.finding import Finding
from drumcore.findings.of_touch import noticed_of_strikes
from drumcore.grooves.values import Groove
from drumcore.kit.lookup import articulation_of
from drumcore.kit.values import CrossTalk
from drumcore.layers.dynamics import target_of
from drumcore.notes.teaching import (
    Aside,
    Lesson,
    Message,
    Taught,
    hear,
    hit_again,
    lessons,
    occupants,
    said,
    same_note_by_openness,
    without_note,
)
from drumcore.playing.counting import struck_by
from drumcore.refusals import Refusal
from drumcore.touch.curves import curve_line, curve_table
from drumcore.touch.fitting import Fit, Strokes, entering, fit
from drumcore.touch.misbehaving import Learned, PadStrike, judged, learn
from drumcore.touch.pedal import Calibration, Move, calibrate
from drumcore.touch.reaching import Reach, Struck
from studio.kits.versions import current_kit
from studio.library.models import GrooveRecord

router = Router()
MOST_MESSAGES = 20_000
Messages = Annotated[list[Message], Field(max_length=MOST_MESSAGES)]


def _stand_in(kit_id: str) -> ElectronicKit:
    found = next((kit for kit in ELECTRONIC_KITS if kit.id == kit_id), None)
    if found is None:
        raise Refusal("There is no such stand-in kit.")
    return found


@router.get("/electronic-kits/{kit_id}/plays", response=list[Message])
def stand_in_plays(
    request: HttpRequest,
    kit_id: str,
    what: Literal["beat", "every_pad", "strokes"] = "beat",
    pad: str = "",
    strength: Strength = "medium",
    edge: bool = False,
    seed: int = 1,
) -> list[Message]:
    """What a stand-in sends when it plays by itself; times in ms from its beginning."""
    kit = _stand_in(kit_id)
    if what == "beat":
        return beat(kit, seed=seed)
    return every_pad(kit, seed) if what == "every_pad" else strokes(kit, pad, strength, edge=edge, seed=seed)


class Lessons(Schema):
    """The strokes to teach in their order, and those that have no note now."""

    lessons: list[Lesson]
    without_note: list[str]


@router.get("/kits/{kit_id}/lessons", response=Lessons)
def lessons_of(request: HttpRequest, kit_id: str) -> Lessons:
    kit = current_kit(kit_id)
    return Lessons(lessons=list(lessons(kit)), without_note=list(without_note(kit)))


class TeachingAsked(Schema):
    """Messages that came in while an articulation was taught; `taught` is what was taught before in this round."""

    articulation: str
    input: Annotated[str, Field(max_length=120)]
    messages: Messages
    taught: Annotated[list[Taught], Field(max_length=1000)] = []


class TeachingHeard(Schema):
    """What was heard, in words too; `plays` is what the note plays now, `edit` what keeping it would do.

    `clash` names the strokes of this round that were taught on the same note: the same pad was hit twice.
    """

    said: str
    taught: Taught | None
    velocity: int
    aside: list[Aside]
    plays: list[str]
    clash: list[str]
    edit: TeachNote | None


@router.post("/kits/{kit_id}/teach", response=TeachingHeard)
def teach(request: HttpRequest, kit_id: str, asked: TeachingAsked) -> TeachingHeard:
    kit = current_kit(kit_id)
    heard = hear(kit, asked.articulation, asked.messages, asked.taught, asked.input)
    if heard.note is None:
        return TeachingHeard(
            said=said(kit, heard), taught=None, velocity=0, aside=list(heard.aside), plays=[], clash=[], edit=None
        )
    beside = same_note_by_openness(kit, asked.articulation, heard, asked.taught)
    sharing = {asked.articulation, *(t.articulation for t in beside)}
    return TeachingHeard(
        said=said(kit, heard),
        taught=Taught(articulation=asked.articulation, note=heard.note, openness=heard.openness),
        velocity=heard.velocity,
        aside=list(heard.aside),
        plays=list(occupants(kit, heard.note, sharing)),
        clash=list(hit_again(kit, asked.articulation, heard, asked.taught, beside)),
        edit=TeachNote(articulation=asked.articulation, note=heard.note, openness=heard.openness, beside=beside),
    )


class ReachAsked(Schema):
    """Strikes of an articulation's piece, live, or those of a groove."""

    articulation: str
    strikes: Annotated[list[Struck], Field(max_length=MOST_MESSAGES)] = []
    groove: int | None = None


class Reached(Schema):
    reach: Reach
    findings: list[Finding]


@router.post("/kits/{kit_id}/reach", response=Reached)
def reached(request: HttpRequest, kit_id: str, asked: ReachAsked) -> Reached:
    kit = current_kit(kit_id)
    strikes = list(asked.strikes)
    if asked.groove is not None:
        record = GrooveRecord.objects.filter(id=asked.groove).first()
        if record is None:
            raise Refusal("There is no such groove; it may have been removed.")
        strikes = struck_by(kit, Groove.model_validate(record.data).events)
    found, findings = noticed_of_strikes(kit, asked.articulation, strikes)
    return Reached(reach=found, findings=list(findings))


class FitAsked(Schema):
    """Strokes to fit a curve to: of an articulation or a piece (`target`), or of everything from `input` where that is
    None. `articulation` is the stroke that was played, whose layers are to be reached."""

    articulation: str
    target: str | None = None
    input: str = ""
    strokes: Strokes


class Fitted(Schema):
    """The fit, with its curve as what plays for each velocity, and as it is drawn."""

    fit: Fit
    table: list[int]
    line: list[float]


@router.post("/kits/{kit_id}/fit", response=Fitted)
def fit_to_playing(request: HttpRequest, kit_id: str, asked: FitAsked) -> Fitted:
    kit = current_kit(kit_id)
    _, stroke = articulation_of(kit, asked.articulation)
    played = asked.strokes if asked.target is None else entering(kit, asked.input, asked.strokes)
    target = target_of(stroke)
    found = fit(played, stroke.layers, target.lowest_centre if target else None)
    return Fitted(fit=found, table=list(curve_table(found.curve)), line=list(curve_line(found.curve)))


class PadsAsked(Schema):
    """A stretch of playing; with `cross_talk` or `doubles_ms`, what those rules would remove rather than what is learned."""

    strikes: Annotated[list[PadStrike], Field(max_length=MOST_MESSAGES)]
    cross_talk: list[CrossTalk] | None = None
    doubles_ms: float | None = None


@router.post("/pads/learn", response=Learned)
def learn_pads(request: HttpRequest, asked: PadsAsked) -> Learned:
    if asked.cross_talk is None and asked.doubles_ms is None:
        return learn(asked.strikes)
    return judged(asked.strikes, asked.cross_talk or [], asked.doubles_ms or 0.0)


class PedalMoved(Schema):
    moves: Annotated[list[Move], Field(max_length=MOST_MESSAGES)]


@router.post("/pads/calibrate", response=Calibration)
def calibrate_pedal(request: HttpRequest, asked: PedalMoved) -> Calibration:
    return calibrate(asked.moves)
