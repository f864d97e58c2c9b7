"""Every change to a kit as a small typed value. `applying.apply` is what they mean.

The interface, the findings, the command line and the tests all speak in these.
"""

from typing import Annotated, Literal

from pydantic import Field, TypeAdapter, ValidationError

from drumcore.edits.of_layers import (
    AddLayer,
    ClimbEvenly,
    CloseGaps,
    DivideLayer,
    EndOverlaps,
    LevelTakes,
    MakeLayers,
    MergeLayers,
    MoveBoundary,
    RemoveLayer,
    SetLayer,
    SetOrder,
    SetRange,
    SetVariation,
    SortLayers,
    SplitByLoudness,
    SplitEvenly,
)
from drumcore.edits.of_notes import (
    ApplyMap,
    MoveNote,
    MoveOpennessLimit,
    NoteEach,
    PutOnNote,
    SetHandStop,
    SetMiddleC,
    SetOpenness,
    SetPlaced,
    SetSilence,
    SilenceByItself,
    SpreadOpenness,
    TakeOffNote,
    TeachNote,
)
from drumcore.edits.of_pieces import (
    AddToPiece,
    BuildPieces,
    DuplicateArticulation,
    DuplicatePiece,
    MakeArticulation,
    MakePiece,
    MoveArticulation,
    MovePiece,
    RenameArticulation,
    RenameKit,
    SetPiece,
    TakeOutArticulation,
    TakeOutPiece,
)
from drumcore.edits.of_takes import (
    BorrowRecording,
    CentreRecording,
    FlipPolarity,
    ForgetLabel,
    MoveTakes,
    SetMic,
    SwapTakes,
    TrimTakes,
)
from drumcore.edits.of_touch import FollowStrength, SetCurve, SetInput, SetTracking
from drumcore.kit.values import Level, Value
from drumcore.refusals import Refusal


class SetChannel(Value):
    """Change some of a channel's settings; None leaves one as it is. `output` 0 sends it to main."""

    kind: Literal["set_channel"] = "set_channel"
    channel: str
    level_db: Level | None = None
    pan: Annotated[float, Field(ge=-1.0, le=1.0)] | None = None
    muted: bool | None = None
    soloed: bool | None = None
    output: Annotated[int, Field(ge=0, le=64)] | None = None


class SetMainLevel(Value):
    kind: Literal["set_main_level"] = "set_main_level"
    level_db: Level


class SetFeed(Value):
    """Let a piece's microphone enter a channel at a level; None takes the feed away."""

    kind: Literal["set_feed"] = "set_feed"
    piece: str
    mic: str
    channel: str
    level_db: Level | None


class ApplyPlan(Value):
    kind: Literal["apply_plan"] = "apply_plan"
    plan: str


class SettleFinding(Value):
    """Let a finding stand as it is meant to be (`settled`), or bring it back. `finding` is its key."""

    kind: Literal["settle_finding"] = "settle_finding"
    finding: Annotated[str, Field(min_length=1, max_length=600)]
    settled: bool = True


OneEdit = Annotated[
    AddLayer
    | AddToPiece
    | ApplyMap
    | ApplyPlan
    | BorrowRecording
    | BuildPieces
    | CentreRecording
    | ClimbEvenly
    | CloseGaps
    | DivideLayer
    | DuplicateArticulation
    | DuplicatePiece
    | EndOverlaps
    | FlipPolarity
    | FollowStrength
    | ForgetLabel
    | LevelTakes
    | MakeArticulation
    | MakeLayers
    | MakePiece
    | MergeLayers
    | MoveArticulation
    | MoveBoundary
    | MoveNote
    | MoveOpennessLimit
    | MovePiece
    | MoveTakes
    | NoteEach
    | PutOnNote
    | RemoveLayer
    | RenameArticulation
    | RenameKit
    | SetChannel
    | SetCurve
    | SetFeed
    | SetHandStop
    | SetInput
    | SetLayer
    | SetMainLevel
    | SetMic
    | SetMiddleC
    | SetOpenness
    | SetOrder
    | SetPiece
    | SetPlaced
    | SetRange
    | SetSilence
    | SetTracking
    | SetVariation
    | SettleFinding
    | SilenceByItself
    | SortLayers
    | SplitByLoudness
    | SplitEvenly
    | SpreadOpenness
    | SwapTakes
    | TakeOffNote
    | TakeOutArticulation
    | TakeOutPiece
    | TeachNote
    | TrimTakes,
    Field(discriminator="kind"),
]


class Several(Value):
    """Edits made one after another as one: all of them, or none."""

    kind: Literal["several"] = "several"
    said: Annotated[str, Field(min_length=1, max_length=120)]
    edits: Annotated[tuple[OneEdit, ...], Field(min_length=1, max_length=20_000)]


Edit = Annotated[OneEdit | Several, Field(discriminator="kind")]
EDITS: TypeAdapter[Edit] = TypeAdapter(Edit)


def edit_from(raw: object) -> Edit:
    """The edit a JSON value describes. Raises Refusal naming the field that is wrong."""
    try:
        return EDITS.validate_python(raw)
    except ValidationError as error:
        first = error.errors()[0]
        field = ".".join(str(part) for part in first["loc"][1:]) or "kind"
        raise Refusal(f"This edit is not understood at “{field}”: {first['msg'].lower()}.") from None
