"""Every change to a kit as a small typed value. `apply.apply` is what they mean.

The interface, the findings, the command line and the tests all speak in these.
"""

from typing import Annotated, Literal

from pydantic import Field

from drumcore.edits.bleed import AllAsRecorded, CloseOnly, LetIn, LetInto
from drumcore.edits.buses import GoIntoBus, MakeBus, MoveBus, NameBus, RemoveBus, SetSend, SetSpace
from drumcore.edits.channels import (
    BypassTreatment,
    GroupChannels,
    RemoveChannel,
    SetChannel,
    SetChannels,
    SetFeed,
    SetTreatment,
    SetTreatments,
    TakeGroupApart,
    TakeTreatment,
)
from drumcore.edits.findings import SettleFinding
from drumcore.edits.layers import (
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
from drumcore.edits.notes import (
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
from drumcore.edits.outputs import ApplyPlan, ClearOutputs, NameOutput, NameTracksAlike, SetHost
from drumcore.edits.pieces import (
    AddToPiece,
    BuildPieces,
    DescribeKit,
    DuplicateArticulation,
    DuplicatePiece,
    MakeArticulation,
    MakePiece,
    MoveArticulation,
    MovePiece,
    RemoveArticulation,
    RemovePiece,
    RenameArticulation,
    RenameKit,
    SetPiece,
)
from drumcore.edits.single_sounds import AddSounds
from drumcore.edits.take_piece_values import TakePiece, TakePieces
from drumcore.edits.takes import (
    BorrowRecording,
    CentreRecording,
    FlipPolarity,
    ForgetLabel,
    MoveRecording,
    MoveTakes,
    SetMic,
    SwapTakes,
    TrimTakes,
    TurnOver,
)
from drumcore.edits.touch import FollowStrength, SetCurve, SetInput, SetTracking
from drumcore.value import Value

OneEdit = Annotated[
    AddLayer
    | AddSounds
    | AddToPiece
    | AllAsRecorded
    | ApplyMap
    | ApplyPlan
    | BorrowRecording
    | ClearOutputs
    | NameOutput
    | NameTracksAlike
    | SetHost
    | RemoveChannel
    | BuildPieces
    | CentreRecording
    | TurnOver
    | MoveRecording
    | ClimbEvenly
    | CloseGaps
    | CloseOnly
    | DivideLayer
    | DuplicateArticulation
    | DuplicatePiece
    | EndOverlaps
    | FlipPolarity
    | FollowStrength
    | ForgetLabel
    | LetIn
    | LetInto
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
    | DescribeKit
    | SetChannel
    | SetChannels
    | GroupChannels
    | MakeBus
    | NameBus
    | MoveBus
    | RemoveBus
    | SetSend
    | SetSpace
    | GoIntoBus
    | TakeGroupApart
    | SetCurve
    | SetFeed
    | SetHandStop
    | SetInput
    | SetLayer
    | BypassTreatment
    | SetTreatments
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
    | SetTreatment
    | SettleFinding
    | SilenceByItself
    | SortLayers
    | SplitByLoudness
    | SplitEvenly
    | SpreadOpenness
    | SwapTakes
    | TakeOffNote
    | RemoveArticulation
    | RemovePiece
    | TakePiece
    | TakePieces
    | TakeTreatment
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
