"""The core's rules for every kit, sent to the interface once, so that it defines none of its own."""

from collections.abc import Sequence
from typing import Any

from annotated_types import Ge, Gt, Le
from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic.fields import FieldInfo

from drumcore.edits.buses import FIRST_SEND_DB
from drumcore.edits.notes import MoveOpennessLimit
from drumcore.formats.archives import ARCHIVE_SUFFIX
from drumcore.formats.suffix import PIECE_SUFFIX, SUFFIX
from drumcore.kit.rates import RATES
from drumcore.kit.trim_field import TrimUnit
from drumcore.kit.trims import TRIMS
from drumcore.kit.values import (
    MOST_NODES,
    STRAIGHT,
    Channel,
    Choke,
    CrossTalk,
    Curve,
    Family,
    Input,
    Layer,
    MicKind,
    Tracking,
)
from drumcore.listening.similarity import MACHINE_LIKE
from drumcore.notes.chokes import HAND_STOP_MS
from drumcore.notes.lessons import GATHER_MS, LOOK_BACK_MS, REST_MS
from drumcore.notes.standard import filed_on
from drumcore.playing.stems import SUBTYPES
from drumcore.recordings.audio_files import AUDIO_SUFFIXES
from drumcore.recordings.k_weighting import k_weighting
from drumcore.routing.hosts import OutputRun
from drumcore.spaces.echo import Echo
from drumcore.spaces.hall import Hall
from drumcore.spaces.imported import Response
from drumcore.touch.curve_fit import FEWEST
from drumcore.treatments.compressor import Compressor
from drumcore.treatments.drive import Drive
from drumcore.treatments.eq import MOST_BANDS, BandKind, Eq, EqBand
from drumcore.value import Value

router = Router()


class Limits(Schema):
    """The smallest and largest value of a field, None where there is no limit."""

    least: float | None
    most: float | None


class Fades(Schema):
    """Default fade times of chokes in ms: by another articulation, by a hand on the pad."""

    by_articulation_ms: float
    by_hand_ms: float


class Pedal(Schema):
    """Default values of a hi-hat pedal."""

    controller: int
    closed_at: int
    open_at: int


class Teaching(Schema):
    """In ms: how long strikes are gathered after the first, how long strikes are ignored after one was accepted, and
    how long before a strike its messages may arrive.
    """

    gather_ms: float
    rest_ms: float
    look_back_ms: float


class TrimShown(Schema):
    """What a slider needs for one trim; a switch goes from 0 to 0."""

    name: str
    unit: TrimUnit
    least: float
    most: float
    step: float
    page: float
    around_zero: bool
    at_once: bool


class FirstTreatments(Schema):
    """The settings of each treatment when it is first switched on, and of a new EQ band."""

    eq: Eq = Eq()
    compressor: Compressor = Compressor()
    drive: Drive = Drive()
    band: EqBand = EqBand(kind=BandKind.PEAK, hz=1000.0)


class FirstSpaces(Schema):
    """The settings of each new reverb or echo."""

    hall: Hall = Hall()
    echo: Echo = Echo()


class Rules(Schema):
    """`limits` are those of fields (`choke.fade_ms` and so on), `trims` the slider ranges. `filed` is the family on
    each note of the standard map. Strikes with a similarity above `machine_like` sound like one recording; a curve fit
    needs `fewest_strikes` in each group. `k_weighting` holds, by sample rate, the second-order sections (b0 b1 b2 a0 a1
    a2) of the loudness filter.
    """

    limits: dict[str, Limits]
    trims: dict[str, TrimShown]
    families: list[Family]
    filed: dict[int, Family]
    mic_kinds: list[MicKind]
    straight: Curve
    most_nodes: int
    fades: Fades
    pedal: Pedal
    teaching: Teaching
    treatments: FirstTreatments
    spaces: FirstSpaces
    most_bands: int
    first_send_db: float
    k_weighting: dict[int, list[list[float]]]
    fewest_strikes: int
    machine_like: float
    rates_hz: list[int]
    bits: list[int]
    recording_suffixes: list[str]
    archive_suffix: str
    kit_suffix: str
    piece_suffix: str


LIMITED: Sequence[tuple[str, type[Value]]] = (
    ("channel", Channel),
    ("layer", Layer),
    ("cross_talk", CrossTalk),
    ("input", Input),
    ("choke", Choke),
    ("tracking", Tracking),
    ("eq_band", EqBand),
    ("compressor", Compressor),
    ("drive", Drive),
    ("hall", Hall),
    ("echo", Echo),
    ("response", Response),
    ("move_openness_limit", MoveOpennessLimit),
    ("output_run", OutputRun),
)


@router.get("/alive", response={204: None})
def alive(request: HttpRequest) -> Status[None]:
    """Whether the studio responds; polled by pages that show no kit."""
    return Status(204, None)


@router.get("/rules", response=Rules)
def rules(request: HttpRequest) -> Rules:
    usual = Input(id="-", name="-")
    return Rules(
        limits={
            f"{name}.{field}": limits
            for name, value in LIMITED
            for field, info in value.model_fields.items()
            if (limits := _limits(info)) is not None
        },
        trims={field: TrimShown.model_validate(trim) for field, trim in TRIMS.items()},
        filed={note: filed[0] for note in range(128) if (filed := filed_on(note))},
        families=list(Family),
        mic_kinds=list(MicKind),
        straight=STRAIGHT,
        most_nodes=MOST_NODES,
        fades=Fades(by_articulation_ms=Choke(articulation="-").fade_ms, by_hand_ms=HAND_STOP_MS),
        pedal=Pedal(controller=usual.controller, closed_at=usual.closed_at, open_at=usual.open_at),
        teaching=Teaching(gather_ms=GATHER_MS, rest_ms=REST_MS, look_back_ms=LOOK_BACK_MS),
        treatments=FirstTreatments(),
        spaces=FirstSpaces(),
        most_bands=MOST_BANDS,
        first_send_db=FIRST_SEND_DB,
        k_weighting={rate: k_weighting(rate).tolist() for rate in RATES},
        fewest_strikes=FEWEST,
        machine_like=MACHINE_LIKE,
        rates_hz=list(RATES),
        bits=list(SUBTYPES),
        recording_suffixes=list(AUDIO_SUFFIXES),
        archive_suffix=ARCHIVE_SUFFIX,
        kit_suffix=SUFFIX,
        piece_suffix=PIECE_SUFFIX,
    )


def _limits(field: FieldInfo) -> Limits | None:
    """A field's limits from its metadata."""
    least: Any = [b.ge if isinstance(b, Ge) else b.gt for b in field.metadata if isinstance(b, Ge | Gt)]
    most: Any = [b.le for b in field.metadata if isinstance(b, Le)]
    if not least and not most:
        return None
    return Limits(least=least[0] if least else None, most=most[0] if most else None)
