"""Every change to a kit as a small typed value; `apply.apply` makes it. The interface, the findings, the command line
and the tests all use these values.
"""

from typing import Annotated, Literal

from pydantic import Field

from drumcore.edits.bleed import AllAsRecorded, CloseOnly, LetIn, LetInto
from drumcore.edits.bring_piece_values import BringPiece, BringPieces
from drumcore.edits.buses import GoIntoBus, MakeBus, MoveBus, NameBus, RemoveBus, SetSend, SetSpace
from drumcore.edits.channels import (
    BypassTreatment,
    GroupChannels,
    RemoveChannel,
    RemoveTreatment,
    SetChannel,
    SetChannels,
    SetFeed,
    SetTreatment,
    SetTreatments,
    Ungroup,
)
from drumcore.edits.findings import IgnoreFinding
from drumcore.edits.layers import (
    AddLayer,
    CloseGaps,
    EndOverlaps,
    EvenOutLayers,
    MakeLayers,
    MatchTakeLevels,
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
    SplitLayer,
)
from drumcore.edits.notes import (
    ApplyMap,
    ChokeAsUsual,
    MoveNote,
    MoveOpennessLimit,
    NoteEach,
    PutOnNote,
    RemoveFromNote,
    SetChoke,
    SetHandStop,
    SetMiddleC,
    SetOpenness,
    SetPlaced,
    SpreadOpenness,
    TeachNote,
)
from drumcore.edits.outputs import ApplyPlan, ClearOutputs, CopyOutputNames, KeepPlace, NameOutput, SetHost
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
from drumcore.edits.takes import (
    BorrowRecording,
    CentreRecording,
    FlipPolarity,
    FlipRecordings,
    ForgetLabel,
    MoveRecording,
    MoveTakes,
    SetMic,
    SwapTakes,
    TrimTakes,
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
    | CopyOutputNames
    | KeepPlace
    | SetHost
    | RemoveChannel
    | BuildPieces
    | CentreRecording
    | FlipRecordings
    | MoveRecording
    | EvenOutLayers
    | CloseGaps
    | CloseOnly
    | SplitLayer
    | DuplicateArticulation
    | DuplicatePiece
    | EndOverlaps
    | FlipPolarity
    | FollowStrength
    | ForgetLabel
    | LetIn
    | LetInto
    | MatchTakeLevels
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
    | Ungroup
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
    | SetChoke
    | SetTracking
    | SetVariation
    | SetTreatment
    | IgnoreFinding
    | ChokeAsUsual
    | SortLayers
    | SplitByLoudness
    | SplitEvenly
    | SpreadOpenness
    | SwapTakes
    | RemoveFromNote
    | RemoveArticulation
    | RemovePiece
    | BringPiece
    | BringPieces
    | RemoveTreatment
    | TeachNote
    | TrimTakes,
    Field(discriminator="kind"),
]


class Several(Value):
    """Several edits made as one, in order: all of them or none."""

    kind: Literal["several"] = "several"
    said: Annotated[str, Field(min_length=1, max_length=120)]
    edits: Annotated[tuple[OneEdit, ...], Field(min_length=1, max_length=20_000)]


Edit = Annotated[OneEdit | Several, Field(discriminator="kind")]
