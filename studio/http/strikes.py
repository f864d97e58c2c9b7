"""Recorded strikes, evaluated by the core: teaching, layer reach, curve fits, pad faults; and simulated kits that play
by themselves.
"""

from typing import Annotated, Literal

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from drumcore.edits.teach import TeachingHeard, teach
from drumcore.findings.finding import Finding
from drumcore.findings.touch import noticed_of_strikes
from drumcore.kit.values import CrossTalk
from drumcore.listening.curve_fit import Fitted, fit_curve
from drumcore.listening.strike_counts import struck_by
from drumcore.notes.lessons import Lesson, Message, Taught, lessons, without_note
from drumcore.refusals import Refusal
from drumcore.simulated.electronic_kits import ELECTRONIC_KITS, ElectronicKit
from drumcore.simulated.performance import Strength, beat, every_pad, strikes
from drumcore.touch.curve_fit import Strikes
from drumcore.touch.layer_reach import Reach, StrikeCount
from drumcore.touch.pad_faults import LearnedPadRules, PadStrike, judged, learn
from drumcore.touch.pedal import Calibration, Move, calibrate
from studio.kits.versions import current_kit
from studio.shelves.grooves import groove_of

router = Router()
MOST_MESSAGES = 20_000
Messages = Annotated[list[Message], Field(max_length=MOST_MESSAGES)]


def _simulated_kits(kit_id: str) -> ElectronicKit:
    found = next((kit for kit in ELECTRONIC_KITS if kit.id == kit_id), None)
    if found is None:
        raise Refusal("There is no such simulated kit.")
    return found


@router.get("/electronic-kits/{kit_id}/plays", response=list[Message])
def simulated_kit_plays(
    request: HttpRequest,
    kit_id: str,
    what: Literal["beat", "every_pad", "strikes"] = "beat",
    pad: str = "",
    strength: Strength = "medium",
    edge: bool = False,
    seed: int = 1,
) -> list[Message]:
    """The messages of a simulated kit that plays by itself; times in ms from the beginning."""
    kit = _simulated_kits(kit_id)
    if what == "beat":
        return beat(kit, seed=seed)
    return every_pad(kit, seed) if what == "every_pad" else strikes(kit, pad, strength, edge=edge, seed=seed)


class Lessons(Schema):
    """The articulations to teach, in order, and those without a note."""

    lessons: list[Lesson]
    without_note: list[str]


@router.get("/kits/{kit_id}/lessons", response=Lessons)
def lessons_of(request: HttpRequest, kit_id: str) -> Lessons:
    kit = current_kit(kit_id)
    return Lessons(lessons=list(lessons(kit)), without_note=list(without_note(kit)))


class TeachingAsked(Schema):
    """The messages received while an articulation was taught; `taught` are the earlier results of this round."""

    articulation: str
    input: Annotated[str, Field(max_length=120)]
    messages: Messages
    taught: Annotated[list[Taught], Field(max_length=1000)] = []


@router.post("/kits/{kit_id}/teach", response=TeachingHeard)
def teach_by_hitting(request: HttpRequest, kit_id: str, asked: TeachingAsked) -> TeachingHeard:
    return teach(current_kit(kit_id), asked.articulation, asked.messages, asked.taught, asked.input)


class ReachAsked(Schema):
    """Strikes of an articulation's piece, live or from a groove."""

    articulation: str
    strikes: Annotated[list[StrikeCount], Field(max_length=MOST_MESSAGES)] = []
    groove: int | None = None


class Reached(Schema):
    reach: Reach
    findings: list[Finding]


@router.post("/kits/{kit_id}/reach", response=Reached)
def reached(request: HttpRequest, kit_id: str, asked: ReachAsked) -> Reached:
    kit = current_kit(kit_id)
    strikes = list(asked.strikes)
    if asked.groove is not None:
        strikes = struck_by(kit, groove_of(asked.groove).events)
    found, findings = noticed_of_strikes(kit, asked.articulation, strikes)
    return Reached(reach=found, findings=list(findings))


class FitAsked(Schema):
    """Strikes to fit a curve to: of an articulation or a piece (`target`), or of all inputs or one `input` if that is
    None. `articulation` was played, and its layers are the ones to reach.
    """

    articulation: str
    target: str | None = None
    input: str = ""
    strikes: Strikes


@router.post("/kits/{kit_id}/fit", response=Fitted)
def fit_to_playing(request: HttpRequest, kit_id: str, asked: FitAsked) -> Fitted:
    return fit_curve(
        current_kit(kit_id),
        asked.articulation,
        asked.strikes,
        everything=asked.target is None,
        input_id=asked.input,
    )


class PadsAsked(Schema):
    """Recorded playing; with `cross_talk` or `doubles_ms`, what those rules would remove instead of the learned ones."""

    strikes: Annotated[list[PadStrike], Field(max_length=MOST_MESSAGES)]
    cross_talk: list[CrossTalk] | None = None
    doubles_ms: float | None = None


@router.post("/pads/learn", response=LearnedPadRules)
def learn_pads(request: HttpRequest, asked: PadsAsked) -> LearnedPadRules:
    if asked.cross_talk is None and asked.doubles_ms is None:
        return learn(asked.strikes)
    return judged(asked.strikes, asked.cross_talk or [], asked.doubles_ms or 0.0)


class PedalMoved(Schema):
    moves: Annotated[list[Move], Field(max_length=MOST_MESSAGES)]


@router.post("/pads/calibrate", response=Calibration)
def calibrate_pedal(request: HttpRequest, asked: PedalMoved) -> Calibration:
    return calibrate(asked.moves)
